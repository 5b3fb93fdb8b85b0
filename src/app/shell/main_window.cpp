#include "app/shell/main_window.h"

#include <QApplication>
#include <QImageReader>
#include <QLabel>
#include <QPainter>
#include <QTimer>

#include "app/dialogs/broom_card.h"
#include "app/dialogs/lay_card.h"
#include "app/dialogs/progress_card.h"
#include "app/kit/hint_label.h"
#include "app/look/plain_text.h"
#include "app/panels/find_field.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/trace_strip.h"
#include "app/shell/focus_home.h"
#include "app/shell/outside.h"
#include "app/shell/rehearsal.h"
#include "app/shell/scripts.h"
#include "app/view/looks.h"
#include "app/view/panes.h"
#include "base/text.h"
#include "edit/delta.h"
#include "edit/session.h"
#include "ops/kinds.h"

namespace app {
namespace {

// The whole application in the theme's colours, before anything is shown in them. Only what differs is set: every
// widget is dressed anew by it.
void dressApplication(const Theme& t) {
    QPalette palette = qApp->palette();
    palette.setColor(QPalette::Window, t.window);
    palette.setColor(QPalette::Base, t.panel);
    palette.setColor(QPalette::Text, t.text);
    palette.setColor(QPalette::WindowText, t.text);
    palette.setColor(QPalette::PlaceholderText, t.faint);
    palette.setColor(QPalette::Highlight, t.honeySoft);
    palette.setColor(QPalette::HighlightedText, t.text);
    palette.setColor(QPalette::Button, t.raised);
    palette.setColor(QPalette::ButtonText, t.text);
    if (palette != qApp->palette()) qApp->setPalette(palette);
    const QString sheet = app::styleSheet(t);
    if (sheet != qApp->styleSheet()) qApp->setStyleSheet(sheet);  // afterwards: what it styles not is the palette's
}

}  // namespace

MainWindow::MainWindow(Editor& editor)
    : editor_(editor),
      commands_(new CommandSet(this)),
      stage_(new Stage(editor, this)),
      panes_(new ViewPanes(editor, *stage_)),
      view_(&panes_->active()) {
    keepTextPlain();
    dressApplication(editor_.theme());
    setWindowTitle("Mellow Lattice");
    setObjectName("mainWindow");
    setAcceptDrops(true);
    setCentralWidget(panes_);
    panes_->installEventFilter(this);
    connect(panes_, &ViewPanes::activeChanged, this, [this] {
        view_ = &panes_->active();
        commands_->refresh();
    });
    makeTop();
    makePanels();
    makeBottom();
    outside_ = std::make_unique<Outside>(editor_);
    connect(outside_.get(), &Outside::changed, this, &MainWindow::refreshOutside);
    makeOverlays();
    makeCommands();
    fillMenus();
    fillBar();

    listen();
    makeStart();
    toastTimer_.setSingleShot(true);
    connect(&toastTimer_, &QTimer::timeout, toast_, &QWidget::hide);
    new FocusHome(
        this, [this] { return view_; }, std::vector<QWidget*>{propertiesDock_, stepBar_, broomCard_, layCard_});
    applyTheme();
    QImageReader::setAllocationLimit(1100);  // megabytes: what io::kMostPixelsRead come to
    // No larger than the screen it opens on, so that the status line is always seen.
    resize(QSize(1280, 800).boundedTo(screen()->availableSize()));
    firstArrangement();
    restoreArrangement();
    commands_->refresh();
    refreshTrail();
    refreshStatus();
}

void MainWindow::listen() {
    connect(&editor_, &Editor::openingChanged, this, [this](bool opening) {
        progressCard_.reset();
        if (opening)
            progressCard_ = std::make_unique<ProgressCard>(panes_, tr("Opening the project"), editor_.opening());
    });
    connect(&editor_, &Editor::projectChanged, this, &MainWindow::refreshTrail);
    connect(&editor_, &Editor::enteredChanged, this, &MainWindow::refreshTrail);
    connect(&editor_, &Editor::toolChanged, this, [this] {
        const bool in = editor_.isOpen() && editor_.tools().tool == Tool::Parts;
        if (in != (trail_->findChild<QWidget*>("trailSolid") != nullptr)) refreshTrail();
    });
    connect(&editor_, &Editor::propertiesWanted, this, [this] {
        propertiesDock_->show();
        if (auto* name = propertiesDock_->findChild<QLineEdit*>("propertyName")) name->setFocus();
    });
    connect(&editor_, &Editor::sceneShown, this, [this] {
        missing_ = ops::missingKinds(editor_.session().library(), editor_.scene());
        refreshTrail();
        refreshStatus();
        refreshOverlays();
        refreshBanner();
        commands_->refresh();
    });
    connect(&editor_, &Editor::sceneEdited, this, [this] {
        if (!editor_.showsLive()) refreshOverlays();
    });
    connect(&editor_, &Editor::sceneEdited, this, [this](const edit::SceneDelta& delta) {
        lookForMissing_ =
            lookForMissing_ || !delta.created.empty() || !delta.removed.empty() || !delta.relabelled.empty();
    });
    connect(&editor_, &Editor::historyChanged, this, &MainWindow::watchNeeded);
    connect(&editor_, &Editor::historyChanged, this, [this] {
        refreshStatus();
        refreshTrail();
        commands_->refresh();
    });
    connect(&editor_, &Editor::selectionChanged, commands_, &CommandSet::refresh);
    connect(stock_, &StockPanel::currentChanged, commands_, &CommandSet::refresh);
    connect(&editor_.scripts(), &Scripts::shelfChanged, this, &MainWindow::refreshBanner);
    connect(&editor_, &Editor::shownChanged, this, [this] {
        statusBar()->setVisible(!editor_.looks().clean);
        trail_->setVisible(!editor_.looks().clean);
        refreshOverlays();
        commands_->refresh();
    });
    connect(&editor_, &Editor::toolChanged, this, [this] {
        refreshOverlays();
        commands_->refresh();
    });
    connect(&editor_, &Editor::hintChanged, this, [this] { hint_->setText(editor_.hint()); });
    connect(&editor_, &Editor::cursorPlaceChanged, cursorPlace_, &QLabel::setText);
    connect(&editor_, &Editor::message, this, &MainWindow::showMessage);
    connect(&editor_, &Editor::themeChanged, this, &MainWindow::applyTheme);
    connect(stock_, &StockPanel::placeRequested, this,
            [this](const QString& item) { editor_.placeAt(item.toStdString(), view_->placeInFront()); });
    connect(find_, &FindField::placeRequested, this, [this](const QString& item) {
        editor_.placeAt(item.toStdString(), view_->placeInFront());
        view_->setFocus();
    });
    connect(find_, &FindField::objectChosen, this, [this](base::ObjectId id) {
        editor_.select({id});
        view_->eye().showSelection();
        view_->setFocus();
    });
    connect(&editor_.rehearsal(), &Rehearsal::beginning, this, [this] {
        view_->letGo();
        view_->play().claim();
        editor_.rehearsal().cameraWas(view_->camera());
    });
    connect(&editor_.rehearsal(), &Rehearsal::changed, this, [this] {
        refreshStatus();
        refreshOverlays();
        commands_->refresh();
    });
    connect(roster_, &RosterPanel::bringIntoViewRequested, this, [this] { view_->eye().showSelection(); });
}

MainWindow::~MainWindow() {
    // What is being dragged is dropped while everything that looks is still there.
    shell_->preview.reset();
    view_->letGo();
    disconnect(&editor_, nullptr, this, nullptr);
    if (saveWorker_.joinable()) saveWorker_.join();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (watched == panes_ && event->type() == QEvent::Resize) QTimer::singleShot(0, this, &MainWindow::placeOverlays);
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    placeOverlays();
}

void MainWindow::watchNeeded() {
    if (!editor_.isOpen() || !std::exchange(lookForMissing_, false)) return;
    const auto now = ops::missingKinds(editor_.session().library(), editor_.scene());
    for (const std::string& line : now)
        if (std::find(missing_.begin(), missing_.end(), line) == missing_.end())
            showMessage(tr("%1 Undo brings it back.").arg(QString::fromStdString(line)), true);
    missing_ = now;
}

namespace {

/// The mark of the application: seven points of a lattice.
QPixmap glyph(const QColor& colour) {
    QPixmap pixmap(24, 24);
    pixmap.fill(Qt::transparent);
    QPainter p(&pixmap);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    const double dots[][3] = {{4, 7, 1.6},  {12, 3.6, 1.6}, {20, 7, 1.6},   {12, 10.4, 2.3},
                              {4, 15, 1.6}, {20, 15, 1.6},  {12, 18.4, 1.6}};
    for (const auto& d : dots) p.drawEllipse(QPointF(d[0], d[1] + 1), d[2], d[2]);
    return pixmap;
}

}  // namespace

void MainWindow::applyTheme() {
    const Theme& t = editor_.theme();
    dressApplication(t);
    trail_->findChild<QLabel*>("glyph")->setPixmap(glyph(t.honey));
    if (editor_.isOpen()) stock_->refreshThumbnails();
    refreshOverlays();
    refreshTrail();
}

}  // namespace app
