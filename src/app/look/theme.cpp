#include "app/look/theme.h"

#include <QFile>
#include <QPainter>
#include <QSvgRenderer>
#include <algorithm>
#include <iterator>

static void loadIcons() {
    Q_INIT_RESOURCE(icons);
    Q_INIT_RESOURCE(rules);
    Q_INIT_RESOURCE(manual);
}

namespace app {

const Theme& dusk() {
    static const Theme theme{"dusk",
                             QColor("#23241f"),
                             QColor("#2b2d27"),
                             QColor("#353830"),
                             QColor("#43473c"),
                             QColor("#ece7d8"),
                             QColor("#bcb8a3"),
                             QColor("#a3a08b"),
                             QColor("#e0a84a"),
                             QColor("#241c0a"),
                             QColor("#4a4227"),
                             QColor("#93b56c"),
                             QColor("#e9e27c"),
                             QColor("#ef7d98"),
                             QColor("#bba3e6"),
                             {QColor("#e0714f"), QColor("#8fbf5a"), QColor("#5aa9c4")},
                             QColor("#454b45"),
                             QColor("#5b625a"),
                             QColor("#262923")};
    return theme;
}

const Theme& oat() {
    static const Theme theme{"oat",
                             QColor("#efe9db"),
                             QColor("#f8f4ea"),
                             QColor("#ffffff"),
                             QColor("#d8cfba"),
                             QColor("#2a2b25"),
                             QColor("#57544a"),
                             QColor("#6b685b"),
                             QColor("#8f5a08"),
                             QColor("#ffffff"),
                             QColor("#eedfbb"),
                             QColor("#4a6d2c"),
                             QColor("#746a00"),
                             QColor("#b3264f"),
                             QColor("#6a48b0"),
                             {QColor("#b2421c"), QColor("#3f6f16"), QColor("#1d6c88")},
                             QColor("#dfe3dc"),
                             QColor("#e9ece2"),
                             QColor("#b9bfae")};
    return theme;
}

namespace {

/// Apart by brightness, and by blue and yellow: for eyes that do not tell red from green.
Theme plainOf(const Theme& usual, const QColor (&axes)[3], const QColor& fine, const QColor& wrong) {
    Theme theme = usual;
    std::copy(std::begin(axes), std::end(axes), theme.axis);
    theme.moss = fine;
    theme.rose = wrong;
    return theme;
}

}  // namespace

const Theme& themeOf(bool light, bool plain) {
    static const Theme plainDusk = plainOf(dusk(), {QColor("#d98f1f"), QColor("#f3eab0"), QColor("#4f86e8")},
                                           QColor("#7fb2ea"), QColor("#f0a030"));
    static const Theme plainOat =
        plainOf(oat(), {QColor("#a85f00"), QColor("#5a5230"), QColor("#1f4fb8")}, QColor("#1f5fa8"), QColor("#9a5200"));
    if (plain) return light ? plainOat : plainDusk;
    return light ? oat() : dusk();
}

QString styleSheet(const Theme& t) {
    QString sheet = QStringLiteral(R"css(
* { font-family: "Inter"; font-size: 13px; color: @text; selection-background-color: @honey; selection-color: @honeyInk; }
QMainWindow, QDialog, QMessageBox { background: @window; }
QMainWindow::separator { background: @line; width: 1px; height: 1px; }
QMenuBar { background: @window; border-bottom: 1px solid @line; padding: 0 4px; }
QMenuBar::item { padding: 4px 9px; background: transparent; color: @dim; }
QMenuBar::item:selected { background: @raised; color: @text; border-radius: 4px; }
QMenu { background: @panel; border: 1px solid @line; padding: 4px; }
QMenu::item { padding: 5px 26px 5px 14px; border-radius: 4px; }
QMenu::item:selected { background: @honeySoft; }
QMenu::item:disabled { color: @faint; }
QMenu::separator { height: 1px; background: @line; margin: 4px 8px; }
QToolTip { background: @raised; color: @text; border: 1px solid @line; padding: 4px 6px; }
QDockWidget { color: @text; font-weight: 600; }
QDockWidget::title { background: @panel; padding: 8px 10px 4px 10px; }
#panel, #card, #popover { background: @panel; }
#popover { border: 1px solid @honey; border-radius: 8px; }
#startPage { background: @panel; border: 1px solid @line; border-radius: 10px; }
#card { background: @raised; border-radius: 8px; }
#panelTitle { font-weight: 600; }
#cardTitle { font-weight: 600; font-size: 12px; }
QPushButton#cardFold, QPushButton#cardFold:checked { font-weight: 600; font-size: 12px; text-align: left; padding: 1px 0; border: 1px solid transparent; background: transparent; color: @text; }
QPushButton#cardFold:focus { border-color: @honey; }
#quiet, #fact { color: @dim; font-size: 11px; }
#faint { color: @faint; font-size: 11px; }
QLineEdit, QPlainTextEdit, QComboBox { background: @window; border: 1px solid @line; border-radius: 6px; padding: 2px 8px; min-height: 20px; }
QLineEdit:focus, QPlainTextEdit:focus, QComboBox:focus { border-color: @honey; }
QLineEdit:read-only { color: @dim; }
QComboBox::drop-down { border: none; width: 20px; }
QComboBox::down-arrow { image: url(:/icons/down.svg); width: 10px; height: 6px; }
QComboBox QAbstractItemView { background: @panel; border: 1px solid @line; }
QPushButton { background: @raised; border: 1px solid @line; border-radius: 6px; padding: 4px 12px; min-height: 18px; }
QPushButton:hover { border-color: @honey; }
QPushButton:focus { border-color: @honey; }
QPushButton:disabled, QToolButton:disabled, QComboBox:disabled { color: @faint; }
QPushButton[primary="true"]:disabled { background: @raised; color: @faint; border-color: @line; }
QPushButton[primary="true"]:enabled { background: @honey; color: @honeyInk; border-color: @honey; font-weight: 600; }
QToolButton { background: transparent; border: 1px solid transparent; border-radius: 6px; padding: 3px; color: @dim; }
QToolButton:hover { background: @raised; }
QToolButton:focus { border-color: @honey; }
QToolButton:checked { background: @honeySoft; color: @honey; }
#chip, #stockCategory, #stockFilter, #stockFavourites, #stockRecent { background: @raised; color: @dim; border-radius: 9px; padding: 1px 5px; font-size: 11px; border: 1px solid transparent; }
#chip:checked, #stockFilter:checked, #stockFavourites:checked, #stockRecent:checked { background: @honeySoft; color: @honey; }
#chip:focus, #stockCategory:focus, #stockFilter:focus, #stockFavourites:focus, #stockRecent:focus { border-color: @honey; }
#linkChip { background: @raised; color: @lilac; border-radius: 6px; padding: 2px 7px; border: 1px solid transparent; }
#linkChip:hover, #linkChip:focus { border-color: @lilac; }
QProgressBar { background: @window; border: 1px solid @line; border-radius: 4px; color: @text; text-align: center;
               height: 16px; }
QProgressBar::chunk { background: @honeySoft; border-radius: 3px; }
#overlay { background: @panel; border: 1px solid @line; border-radius: 8px; }
#overlay QToolButton { font-size: 11px; background: @raised; color: @text; padding: 4px 5px; border-color: @raised; }
#overlay QToolButton:hover { border-color: @faint; }
#overlay QToolButton:focus { border-color: @honey; }
#overlay QToolButton:checked { background: @honeySoft; color: @honey; border-color: @honeySoft; border-bottom: 2px solid @honey; }
#barLine { background: @line; }
#viewCaption { background: @panel; color: @text; border: none; font-size: 11px; padding: 2px 8px; }
#viewCaption:hover { background: @raised; }
#banner { background: @raised; border: 1px solid @lemon; border-radius: 8px; }
QTreeView, QListView { background: @panel; border: none; outline: none; }
QTreeView { show-decoration-selected: 1; }
QTreeView::item { height: 24px; }
QTreeView::item:selected, QListView::item:selected { background: @honeySoft; color: @text; }
QTreeView::item:hover, QListView::item:hover { background: @raised; }
QTreeView::item:selected:hover, QListView::item:selected:hover { background: @honeySoft; }
QTableView { background: @panel; border: none; outline: none; }
QTableView::item { padding: 0 6px; }
QTableView::item:selected { background: @honeySoft; color: @text; }
QTableView::item:focus { border: 1px solid @honey; }
QTableView QLineEdit { border-radius: 0; padding: 0 5px; }
QTableCornerButton::section { background: @panel; border: none; }
QTabBar { background: @panel; }
QTabBar::tab { background: transparent; color: @dim; padding: 5px 12px; border-bottom: 2px solid transparent; }
QTabBar::tab:selected { color: @text; border-bottom: 2px solid @honey; }
QTabBar::tab:hover { color: @text; }
QTabBar::tab:focus { color: @honey; }
QHeaderView::section { background: @panel; color: @dim; border: none; border-bottom: 1px solid @line; padding: 4px 8px; }
QHeaderView::section:vertical { border: none; color: @faint; font-size: 11px; padding: 0 6px; }
QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
QScrollBar::handle { background: @line; border-radius: 4px; min-height: 24px; min-width: 24px; }
QScrollBar::handle:hover { background: @faint; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; border: none; width: 0; height: 0; }
QScrollArea { border: none; background: transparent; }
#scrolled, #stockFilterForm { background: transparent; }
#trail { background: @window; border-bottom: 1px solid @line; }
#trail QToolButton { color: @dim; padding: 2px 4px; }
QToolButton::menu-indicator { image: none; width: 0; }
#linkButton { background: @window; border: 1px solid @line; padding: 2px 7px; }
#trail QToolButton#here, #trail QToolButton#trailGroup { color: @text; font-weight: 600; }
#find { border-radius: 13px; background: @panel; padding: 2px 12px; }
#status { background: @window; border-top: 1px solid @line; }
#status QLabel { color: @dim; font-size: 11px; }
#status QLabel#hint { color: @text; }
#strip { background: @panel; border-top: 1px solid @line; }
QSplitter::handle { background: @line; }
)css");
    const std::pair<const char*, QColor> tokens[] = {
        {"@window", t.window},     {"@panel", t.panel}, {"@raised", t.raised}, {"@line", t.line},
        {"@text", t.text},         {"@dim", t.dim},     {"@faint", t.faint},   {"@honeySoft", t.honeySoft},
        {"@honeyInk", t.honeyInk}, {"@honey", t.honey}, {"@lemon", t.lemon},   {"@lilac", t.lilac},
        {"@rose", t.rose}};
    for (const auto& [token, colour] : tokens) sheet.replace(QLatin1String(token), colour.name());
    return sheet;
}

QString counted(std::size_t n, const QString& one, const QString& many) {
    return QString("%1 %2").arg(n).arg(n == 1 ? one : many);
}

QIcon icon(const QString& name, const QColor& colour) {
    loadIcons();
    QFile file(QStringLiteral(":/icons/%1.svg").arg(name));
    if (!file.open(QIODevice::ReadOnly)) return {};
    QByteArray svg = file.readAll();
    svg.replace("currentColor", colour.name().toUtf8());
    QSvgRenderer renderer(svg);
    QIcon result;
    for (int size : {16, 18, 24, 36, 48}) {
        QPixmap pixmap(size, size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        renderer.render(&painter);
        result.addPixmap(pixmap);
    }
    return result;
}

}  // namespace app
