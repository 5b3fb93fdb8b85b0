#include "app/shell/main_window.h"

#include <QDockWidget>
#include <QFrame>
#include <QLabel>
#include <QToolButton>
#include "app/dialogs/progress_card.h"
#include "app/kit/number_field.h"
#include "app/panels/desk.h"
#include "app/panels/differences_panel.h"
#include "app/panels/find_field.h"
#include "app/panels/history_strip.h"
#include "app/panels/properties_panel.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/panels/surfaces_panel.h"
#include "app/panels/table_panel.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/panes.h"

#include "app/commands/all.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDateTime>
#include <QHBoxLayout>
#include <QImageReader>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QPainter>
#include <QPushButton>
#include <QSettings>
#include <QStatusBar>
#include <QTimer>
#include <QVBoxLayout>

#include "app/dialogs/broom_card.h"
#include "app/dialogs/popovers.h"
#include "app/dialogs/theirs_bar.h"
#include "app/kit/hint_label.h"
#include "app/kit/parts.h"
#include "app/look/plain_text.h"
#include "app/panels/checks_panel.h"
#include "app/panels/counts_button.h"
#include "app/panels/script_panel.h"
#include "app/shell/focus_home.h"
#include "app/shell/kept_settings.h"
#include "app/shell/outside.h"
#include "base/text.h"
#include "ops/kinds.h"

namespace app {
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
    toastTimer_.setSingleShot(true);
    connect(&toastTimer_, &QTimer::timeout, toast_, &QWidget::hide);
    new FocusHome(
        this, [this] { return view_; }, std::vector<QWidget*>{propertiesDock_, stepBar_, broomCard_});
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
    connect(&editor_, &Editor::sceneEdited, this, &MainWindow::refreshOverlays);
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
    connect(roster_, &RosterPanel::bringIntoViewRequested, this, [this] { view_->eye().showSelection(); });
}

MainWindow::~MainWindow() {
    // What is being dragged is dropped while everything that looks is still there.
    shell_->preview.reset();
    if (editor_.isOpen()) view_->cancel();
    disconnect(&editor_, nullptr, this, nullptr);
    if (saveWorker_.joinable()) saveWorker_.join();
}

void MainWindow::makeTop() {
    auto* top = new QWidget;
    auto* column = new QVBoxLayout(top);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* bar = new QMenuBar;
    bar->setObjectName("menus");
    column->addWidget(bar);
    trail_ = new QWidget;
    trail_->setObjectName("trail");
    trail_->setAttribute(Qt::WA_StyledBackground);
    trail_->setFixedHeight(40);
    auto* row = new QHBoxLayout(trail_);
    row->setContentsMargins(12, 0, 12, 0);
    row->setSpacing(4);
    auto* mark = label({}, "glyph");
    row->addWidget(mark);
    projectButton_ = new QToolButton;
    projectButton_->setObjectName("trailProject");
    projectButton_->setPopupMode(QToolButton::InstantPopup);
    projectButton_->setToolTip(tr("The project; click for recent ones"));
    row->addWidget(projectButton_);
    auto* separator = label({}, "faint");
    separator->setText(QStringLiteral("›"));
    row->addWidget(separator);
    sceneButton_ = new QToolButton;
    sceneButton_->setObjectName("here");
    sceneButton_->setPopupMode(QToolButton::InstantPopup);
    sceneButton_->setToolTip(tr("The scene; click for the others"));
    row->addWidget(sceneButton_);
    enteredRow_ = new QHBoxLayout;
    enteredRow_->setSpacing(4);
    row->addLayout(enteredRow_);
    row->addStretch(1);
    find_ = new FindField(editor_, *commands_, trail_);
    row->addWidget(find_);
    row->addStretch(1);
    row->addWidget(checksButton_ = new CountsButton);
    checksButton_->setObjectName("checksCount");
    checksButton_->setToolTip(tr("What checks have found in this scene (Alt+C)"));
    column->addWidget(trail_);
    setMenuWidget(top);
}

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

void MainWindow::makeBottom() {
    auto* bar = new QStatusBar;
    bar->setSizeGripEnabled(false);
    bar->setStyleSheet("QStatusBar::item { border: none; } QStatusBar { padding: 0; margin: 0; }");
    bar->setContentsMargins(0, 0, 0, 0);
    auto* bottom = new QWidget;
    auto* column = new QVBoxLayout(bottom);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    strip_ = new HistoryStrip(editor_);
    auto* past = new QFrame;
    past->setObjectName("strip");
    auto* pastRow = new QHBoxLayout(past);
    pastRow->setContentsMargins(0, 0, 8, 0);
    pastRow->setSpacing(0);
    pastRow->addWidget(strip_, 1);
    pastRow->addWidget(makeDeskHandle());
    column->addWidget(past);
    auto* status = new QWidget;
    status->setObjectName("status");
    status->setAttribute(Qt::WA_StyledBackground);
    status->setFixedHeight(24);
    auto* row = new QHBoxLayout(status);
    row->setContentsMargins(12, 0, 12, 0);
    row->setSpacing(18);
    row->addWidget(hint_ = new HintLabel);
    row->addStretch(1);
    row->addWidget(cursorPlace_ = label({}, "cursorPlace"));
    row->addWidget(counts_ = label({}, "sceneCounts"));
    row->addWidget(saved_ = label({}, "savedState"));
    row->setStretchFactor(hint_, 3);
    column->addWidget(status);
    bar->layout()->setContentsMargins(0, 0, 0, 0);
    bar->addWidget(bottom, 1);
    setStatusBar(bar);
    statusTimer_.setInterval(60'000);
    connect(&statusTimer_, &QTimer::timeout, this, &MainWindow::refreshStatus);
    statusTimer_.start();
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

void MainWindow::applyTheme() {
    const Theme& t = editor_.theme();
    dressApplication(t);
    trail_->findChild<QLabel*>("glyph")->setPixmap(glyph(t.honey));
    if (editor_.isOpen()) stock_->refreshThumbnails();
    refreshOverlays();
    refreshTrail();
}

void MainWindow::refreshTrail() {
    const bool open = editor_.isOpen();
    projectButton_->setText(open ? QString::fromStdString(editor_.session().project().name) : tr("No project"));
    sceneButton_->setText(
        open ? editor_.documentName(editor_.sceneName()) +
                   (editor_.session().isUnsaved(editor_.sceneName()) ? QStringLiteral(" •") : QString())
             : QString());
    fillEntered();
    setWindowTitle(open ? QString("%1 › %2%3 — Mellow Lattice")
                              .arg(projectButton_->text(), editor_.documentName(editor_.sceneName()),
                                   editor_.session().isUnsaved(editor_.sceneName()) ? " •" : "")
                        : QStringLiteral("Mellow Lattice"));
}

void MainWindow::refreshStatus() {
    if (!editor_.isOpen()) {
        counts_->clear();
        saved_->clear();
        return;
    }
    const model::Scene& scene = editor_.scene();
    counts_->setText(counted(scene.objectCount(), tr("object"), tr("objects")));
    edit::Session& session = editor_.session();
    if (!session.readOnlyReason().empty()) return saved_->setText(tr("Read only"));
    if (saving_) return saved_->setText(tr("Saving…"));
    const std::vector<std::string> unsaved = session.unsavedScenes();
    saved_->setText(savedText(unsaved));
    QStringList all;
    for (const std::string& name : unsaved) all << editor_.documentName(name);
    saved_->setToolTip(all.isEmpty() ? tr("Every file holds what is here")
                                     : tr("Not in their files yet: %1").arg(all.join(", ")));
}

/// What of the project is not in its files yet: by file, for a kind or a record is one too.
QString MainWindow::savedText(const std::vector<std::string>& unsaved) const {
    if (unsaved.empty()) return tr("All steps kept · all files saved");
    if (unsaved.size() > 1)
        return tr("All steps kept · %1 and %2 not saved")
            .arg(editor_.documentName(unsaved.back()), counted(unsaved.size() - 1, tr("more file"), tr("more files")));
    qint64 savedAt = 0;
    for (const edit::SaveMark& mark : editor_.session().saves())
        if (mark.scene == unsaved.front() && mark.placed) savedAt = mark.timeMs;
    const QString name = editor_.documentName(unsaved.front());
    if (savedAt == 0) return tr("All steps kept · %1 not saved yet").arg(name);
    const qint64 minutes = (QDateTime::currentMSecsSinceEpoch() - savedAt) / 60'000;
    return tr("All steps kept · %1 changed since it was saved %2 min ago").arg(name).arg(minutes);
}

/// Opens the desk upward and closes it, on the page that it was left with.
QToolButton* MainWindow::makeDeskHandle() {
    auto* handle = new QToolButton;
    handle->setObjectName("deskHandle");
    handle->setFocusPolicy(Qt::TabFocus);
    handle->setToolTip(tr("Table, surfaces, differences, checks, script: opens and closes the desk"));
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
    editor_.setTheme(dusk());
    restoreSettings(editor_);
}

void MainWindow::toggleSides() {
    const bool any = stockDock_->isVisible() || rosterDock_->isVisible() || propertiesDock_->isVisible();
    for (QDockWidget* d : {stockDock_, rosterDock_, propertiesDock_}) d->setVisible(!any);
}

/// What stands in the way of editing can often be got round: asked once, and tried again.
bool MainWindow::openProject(const QString& path, io::OpenMode mode, const QString& scene) {
    using base::ErrorCode;
    std::error_code ignored;
    if (editor_.isOpen() && std::filesystem::equivalent(editor_.workspace().folder(), path.toStdString(), ignored)) {
        if (!scene.isEmpty()) editor_.report(editor_.showScene(scene.toStdString()));
        return true;  // it is open already
    }
    base::Status opened = editor_.openProject(path.toStdString(), mode, scene.toStdString());
    auto again = [&](io::OpenMode how) { opened = editor_.openProject(path.toStdString(), how, scene.toStdString()); };
    auto why = [&](const QString& then) { return QString::fromStdString(opened.error().message) + "\n\n" + then; };
    if (!opened && opened.error().code == ErrorCode::BadLedger)
        ask("badLedgerQuestion", tr("The history cannot be read"),
            why(tr(
                "The project itself may be well. A new history can be started; the old one is kept beside it, in the "
                "folder .mellow.")),
            tr("Start a new history"), [&] {
                if (auto aside = io::setHistoryAside(path.toStdString()); !aside)
                    opened = tl::unexpected(aside.error());
                else
                    again(io::OpenMode::Edit);
            });
    if (!opened && (opened.error().code == ErrorCode::InUse || opened.error().code == ErrorCode::Denied))
        ask(opened.error().code == ErrorCode::InUse ? "inUseQuestion" : "deniedQuestion",
            opened.error().code == ErrorCode::InUse ? tr("Project in use") : tr("Nothing can be written there"),
            why(tr("It can be opened here for reading only.")), tr("Open read-only"),
            [&] { again(io::OpenMode::ReadOnly); });
    if (!opened && opened.error().code == ErrorCode::Cancelled)
        editor_.say(QString::fromStdString(opened.error().message));
    else if (editor_.report(opened))
        rememberRecent(QString::fromStdString(editor_.workspace().folder().string()));
    commands_->refresh();
    refreshBanner();
    return editor_.isOpen();
}

void MainWindow::rememberRecent(const QString& path) {
    QStringList all = recent();
    const QString absolute =
        QString::fromStdString(std::filesystem::absolute(path.toStdString()).lexically_normal().string());
    all.removeAll(absolute);
    all.prepend(absolute);
    QSettings().setValue("projects/recent", all.mid(0, 10));
    refreshTrail();
}

QStringList MainWindow::recent() const {
    return QSettings().value("projects/recent").toStringList();
}

/// There is one way out, whoever asks for it: the menu, a key, the window's own button. What is unsaved is asked about
/// once this event is over, for a window that is being closed cannot be closed again.
void MainWindow::closeEvent(QCloseEvent* event) {
    if (leaving_ || qApp->isSavingSession()) {  // at the desktop's end nothing is lost: every step is on disk
        finishSaving();
        rememberArrangement();
        return event->accept();
    }
    event->ignore();
    if (asking_) return;
    asking_ = true;
    QTimer::singleShot(0, this, [this] {
        askUnsaved([this] {
            leaving_ = true;
            leaving_ = close();
        });
        asking_ = false;
    });
}

/// Where in the tree one works: a button for each group gone into; a click goes out to it.
void MainWindow::fillEntered() {
    while (QLayoutItem* old = enteredRow_->takeAt(0)) {
        if (old->widget() != nullptr) old->widget()->deleteLater();
        delete old;
    }
    if (!editor_.isOpen() || !editor_.entered()) return;
    const model::Scene& scene = editor_.scene();
    std::vector<model::Slot> chain;
    for (model::Slot s = scene.find(editor_.entered()); s != model::kNoSlot; s = scene.parent(s))
        if (chain.empty() || editor_.isWhole(s)) chain.push_back(s);
    for (auto slot = chain.rbegin(); slot != chain.rend(); ++slot) {
        auto* separator = new QLabel(QStringLiteral("›"));
        separator->setObjectName("faint");
        enteredRow_->addWidget(separator);
        auto* button = new QToolButton;
        const base::ObjectId id = scene.id(*slot);
        const auto name = scene.nameText(*slot);
        button->setObjectName("trailGroup");
        button->setText(toQt(name));
        if (id == editor_.session().definitionEditedAt()) {
            const base::ObjectId prefab = scene.detail(*slot)->prefab->of;
            button->setText(tr("definition of %1, %2")
                                .arg(QString::fromStdString(editor_.session().prefabName(prefab)),
                                     counted(editor_.session().instancesOf(prefab, editor_.sceneName()).size(),
                                             tr("instance here"), tr("instances here"))));
        }
        const bool here = id == editor_.entered();
        button->setToolTip(here ? tr("The group one is in; click to go out") : tr("Back to this group"));
        connect(button, &QToolButton::clicked, this, [this, id, here] { here ? editor_.leave() : editor_.enter(id); });
        enteredRow_->addWidget(button);
    }
}

}  // namespace app
