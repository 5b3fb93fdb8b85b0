// The panels round the view: where they stand, and how that is remembered.
#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QSettings>
#include <QTimer>
#include <QToolButton>

#include "app/panels/checks_panel.h"
#include "app/panels/cue_sheet.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/hand_panel.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/route_panel.h"
#include "app/panels/script_panel.h"
#include "app/panels/sounds_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/panels/trace_panel.h"
#include "app/shell/checks.h"
#include "app/shell/focus_home.h"
#include "app/shell/kept_settings.h"
#include "app/shell/listening.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"

namespace app {

void MainWindow::makePanels() {
    auto dock = [&](const QString& title, const char* name, QWidget* panel, Qt::DockWidgetArea area) {
        auto* d = new QDockWidget(title);
        d->setObjectName(QLatin1String(name));
        auto* none = new QWidget;
        none->setFixedHeight(0);
        d->setTitleBarWidget(none);
        d->setFeatures(QDockWidget::DockWidgetClosable | QDockWidget::DockWidgetMovable |
                       QDockWidget::DockWidgetFloatable);
        panel->setAttribute(Qt::WA_StyledBackground);
        d->setWidget(panel);
        addDockWidget(area, d);
        // Floating it needs something to hold it by.
        connect(d, &QDockWidget::topLevelChanged, d,
                [d, none](bool floating) { d->setTitleBarWidget(floating ? nullptr : none); });
        return d;
    };
    stock_ = new StockPanel(editor_, stage_->renderer());
    roster_ = new RosterPanel(editor_);
    properties_ = new PropertiesPanel(editor_);
    stockDock_ = dock(tr("Stock"), "stockDock", stock_, Qt::LeftDockWidgetArea);
    rosterDock_ = dock(tr("Roster"), "rosterDock", roster_, Qt::RightDockWidgetArea);
    propertiesDock_ = dock(tr("Properties"), "propertiesDock", properties_, Qt::RightDockWidgetArea);
    differences_ = new DifferencesPanel(editor_);
    table_ = new TablePanel(editor_);
    desk_ = new Desk;
    desk_->addPage(tr("Table"), table_);
    surfaces_ = new SurfacesPanel(editor_);
    desk_->addPage(tr("Surfaces"), surfaces_);
    desk_->addPage(tr("Differences"), differences_);
    checks_ = new ChecksPanel(editor_, editor_.checks());
    desk_->addPage(tr("Checks"), checks_);
    script_ = new ScriptPanel(editor_, editor_.scripts());
    desk_->addPage(tr("Script"), script_);
    trace_ = new TracePanel(editor_);
    desk_->addPage(tr("Rehearsals"), trace_);
    cues_ = new CueSheet(editor_);
    desk_->addPage(tr("Cues"), cues_);
    listening_ = new Listening(editor_, this);
    sounds_ = new SoundsPanel(editor_, *listening_);
    desk_->addPage(tr("Sounds"), sounds_);
    route_ = new RoutePanel(editor_);
    desk_->addPage(tr("Route"), route_);
    hand_ = new HandPanel(editor_);
    desk_->addPage(tr("Hand over"), hand_);
    deskDock_ = dock(tr("Desk"), "deskDock", desk_, Qt::BottomDockWidgetArea);
    setCorner(Qt::BottomLeftCorner, Qt::LeftDockWidgetArea);
    setCorner(Qt::BottomRightCorner, Qt::RightDockWidgetArea);
    deskDock_->hide();
    constexpr int kRightWidth = 300;  // three numbers side by side
    for (QWidget* panel : {static_cast<QWidget*>(roster_), static_cast<QWidget*>(properties_)})
        panel->setMinimumWidth(kRightWidth);
}

void MainWindow::dockBeside(QWidget* content, const char* name, const QString& title) {
    QDockWidget* other = nullptr;
    for (QDockWidget* open : findChildren<QDockWidget*>())
        if (open != stockDock_ && dockWidgetArea(open) == Qt::LeftDockWidgetArea && !open->isFloating()) other = open;
    auto* dock = new QDockWidget(title, this);
    dock->setObjectName(QLatin1String(name));
    dock->setAttribute(Qt::WA_DeleteOnClose);
    dock->setWidget(content);
    FocusHome::keepKeyboard(content);
    addDockWidget(Qt::LeftDockWidgetArea, dock, Qt::Horizontal);
    // Where the view would have no room left, it lies over the Stock, as a tab.
    constexpr int kLeastView = 360, kWide = 340;
    if (other == nullptr && !stockDock_->isFloating() && stockDock_->isVisible() &&
        panes_->width() - kWide < kLeastView) {
        tabifyDockWidget(stockDock_, dock);
        other = stockDock_;
        QTimer::singleShot(0, dock, [dock] { dock->raise(); });
    } else if (other != nullptr) {
        tabifyDockWidget(other, dock);
    }
    // When it goes, the view gets the room back, not the Stock.
    const auto giveBack = [this, wide = stockDock_->width()] {
        QTimer::singleShot(0, this, [this, wide] { resizeDocks({stockDock_}, {wide}, Qt::Horizontal); });
    };
    if (other == nullptr || other == stockDock_) {
        connect(dock, &QObject::destroyed, this, giveBack);
        connect(dock, &QDockWidget::topLevelChanged, this, [giveBack](bool floats) {
            if (floats) giveBack();
        });
    }
    if (other == stockDock_)
        resizeDocks({dock}, {kWide}, Qt::Horizontal);
    else
        resizeDocks({stockDock_, dock}, {stock_->minimumWidth(), kWide}, Qt::Horizontal);
}

/// Opens the desk upward and closes it, on the page that it was left with.
QToolButton* MainWindow::makeDeskHandle() {
    auto* handle = new QToolButton;
    handle->setObjectName("deskHandle");
    handle->setFocusPolicy(Qt::TabFocus);
    handle->setToolTip(tr("Table, surfaces, differences, checks, script, rehearsals: opens and closes the desk"));
    handle->setAccessibleName(tr("Desk"));
    auto show = [handle](bool open) { handle->setText(open ? tr("Desk ▾") : tr("Desk ▴")); };
    show(false);
    connect(deskDock_, &QDockWidget::visibilityChanged, handle, show);
    connect(handle, &QToolButton::clicked, this, [this] {
        if (editor_.isOpen()) shell_->toggleDesk(*desk_->page());
    });
    return handle;
}

void MainWindow::firstArrangement() {
    for (QDockWidget* d : {stockDock_, rosterDock_, propertiesDock_}) {
        d->setFloating(false);
        d->show();
    }
    addDockWidget(Qt::LeftDockWidgetArea, stockDock_);
    addDockWidget(Qt::RightDockWidgetArea, rosterDock_);
    splitDockWidget(rosterDock_, propertiesDock_, Qt::Vertical);
    resizeDocks({stockDock_, rosterDock_}, {216, 304}, Qt::Horizontal);
    resizeDocks({rosterDock_, propertiesDock_}, {300, 400}, Qt::Vertical);
    deskDock_->setFloating(false);
    addDockWidget(Qt::BottomDockWidgetArea, deskDock_);
    resizeDocks({deskDock_}, {180}, Qt::Vertical);
    deskDock_->hide();
}

void MainWindow::rememberArrangement() {
    QSettings settings;
    settings.setValue("window/geometry", saveGeometry());
    settings.setValue("window/state", saveState());
    rememberSettings(editor_);
}

void MainWindow::restoreArrangement() {
    QSettings settings;
    if (settings.contains("window/geometry")) restoreGeometry(settings.value("window/geometry").toByteArray());
    if (!isMaximized() && !isFullScreen()) {
        const QRect there = screen()->availableGeometry();
        resize(size().boundedTo(there.size()));
        if (!there.contains(geometry())) move(there.topLeft());
    }
    if (settings.contains("window/state")) restoreState(settings.value("window/state").toByteArray());
    restoreSettings(editor_);
}

void MainWindow::toggleSides() {
    const bool any = stockDock_->isVisible() || rosterDock_->isVisible() || propertiesDock_->isVisible();
    for (QDockWidget* d : {stockDock_, rosterDock_, propertiesDock_}) d->setVisible(!any);
}

}  // namespace app
