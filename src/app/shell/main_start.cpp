// Where one starts, and where one was: the start page, what is kept of a project's window, the menu at the pointer.
#include <QFileDialog>
#include <QMenu>
#include <QScreen>

#include "app/kit/parts.h"

#include <QDockWidget>
#include <QLineEdit>
#include "app/names.h"
#include "app/panels/desk.h"
#include "app/panels/roster_panel.h"
#include "app/panels/start_page.h"
#include "app/panels/table_panel.h"
#include "app/shell/main_window.h"
#include "app/shell/recent_projects.h"
#include "app/shell/tools.h"
#include "app/view/panes.h"
#include "edit/session.h"
#include "io/workspace.h"

namespace app {

namespace {

constexpr int kPictureWide = 384;
/// Fields whose words are kept with a project.
constexpr const char* kFilters[] = {"rosterFilter", "tableFilter"};

/// What one does with an object, the likeliest first; ten at most.
const char* const kWithObject[] = {"view.bring",  "edit.seat",   "edit.duplicate", "select.nextOfKind", "edit.sameKind",
                                   "prefab.make", "edit.rename", "edit.hide",      "edit.protect",      "edit.delete"};
const char* const kWithNothing[] = {"edit.paste", "edit.selectAll", "look.walk",
                                    "view.bring", "draw.box",       "scene.list"};

}  // namespace

void MainWindow::makeStart() {
    start_ = new StartPage(panes_);
    connect(start_, &StartPage::openAsked, this,
            [this](const QString& folder) { askUnsaved([this, folder] { openProject(folder, io::OpenMode::Edit); }); });
    connect(start_, &StartPage::closeAsked, this, &MainWindow::refreshStart);
    connect(start_, &StartPage::newAsked, this, &MainWindow::newProject);
    connect(start_, &StartPage::chooseAsked, this, &MainWindow::chooseProject);
    connect(start_, &StartPage::lookForAsked, this, [this](const QString& gone) {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Where is %1 now?").arg(gone));
        if (folder.isEmpty()) return;
        if (openProject(folder, io::OpenMode::Edit)) forgetProject(gone);
    });
    connect(&editor_, &Editor::openingChanged, this, &MainWindow::refreshStart);
    connect(&editor_, &Editor::projectChanged, this, &MainWindow::refreshStart);
    connect(panes_, &ViewPanes::cameraChanged, this, [this] {
        if (editor_.isOpen() && editor_.sceneName() == shownScene_) place_.looks[shownScene_].camera = view_->camera();
    });
    connect(&editor_, &Editor::sceneShown, this, [this] {
        shownScene_ = editor_.sceneName();
        const auto kept = place_.looks.find(shownScene_);
        if (kept == place_.looks.end()) return;
        const KeptPlace::Look look = kept->second;  // the panes move their cameras
        panes_->setFour(look.fourPanes);
        view_->setCamera(look.camera);
    });
    connect(panes_, &ViewPanes::menuAsked, this, &MainWindow::showPointerMenu);
    connect(table_, &TablePanel::menuRequested, this, &MainWindow::fillMenuOfSelected);
    connect(roster_, &RosterPanel::menuAsked, this, &MainWindow::showMenuOfSelected);
}

void MainWindow::refreshStart() {
    const bool start = !editor_.isOpen() && !editor_.isOpening();
    const bool was = start_->isVisible();
    start_->setVisible(start);
    if (start && !was) start_->refill();
    if (!start && was) view_->setFocus();
}

/// What is to be kept of the project that is open: where one is, and how it looks.
void MainWindow::leaveProject() {
    if (!editor_.isOpen()) return;
    const QString folder = QString::fromStdString(editor_.workspace().folder().string());
    const std::string scene = model::prefabOf(editor_.sceneName()) ? editor_.lastScene() : editor_.sceneName();
    place_.scene = scene;
    place_.looks[shownScene_].fourPanes = panes_->isFour();
    place_.takeTools(editor_.tools());
    place_.recentItems = editor_.recentItems();
    place_.desk = deskDock_->isVisible() ? desk_->title().toStdString() : std::string();
    if (deskDock_->isVisible()) place_.deskHeight = deskDock_->height();
    place_.prefab = editor_.prefabPlan();
    for (const char* name : kFilters)
        if (const auto* field = findChild<QLineEdit*>(name)) place_.filters[name] = field->text().toStdString();
    if (editor_.workspace().lock) place_.write(editor_.workspace().folder());
    const QImage picture = view_->drawNow();
    if (!picture.isNull())
        keepPicture(folder, QPixmap::fromImage(picture.scaledToWidth(kPictureWide, Qt::SmoothTransformation)));
    rememberProject(folder, QString::fromStdString(editor_.session().project().name), QString::fromStdString(scene));
}

/// How one worked in the project, once it is open.
void MainWindow::returnToPlace() {
    Tools tools = editor_.tools();
    place_.giveTools(tools);
    editor_.setTools(tools);
    editor_.setRecentItems(place_.recentItems);
    for (const char* name : kFilters)
        if (auto* field = findChild<QLineEdit*>(name)) {
            const auto kept = place_.filters.find(name);
            field->setText(kept != place_.filters.end() ? toQt(kept->second) : QString());
        }
    editor_.prefabPlan() = place_.prefab;
    if (place_.desk.empty() || !desk_->showTitled(toQt(place_.desk))) return;
    deskDock_->show();
    if (place_.deskHeight > 0) resizeDocks({deskDock_}, {place_.deskHeight}, Qt::Vertical);
}

/// Over the project that is open, which goes on with Esc.
void MainWindow::showStart() {
    leaveProject();
    start_->show();
    start_->refill();
}

/// The scene that was shown last, when that is still there.
QString MainWindow::keptScene(const QString& folder) {
    place_ = KeptPlace::read(folder.toStdString());
    std::error_code ignored;
    const auto file = io::sceneFile(folder.toStdString(), place_.scene);
    return !place_.scene.empty() && base::isFileName(place_.scene) && std::filesystem::exists(file, ignored)
               ? QString::fromStdString(place_.scene)
               : QString();
}

/// A right press that was no look round: what can be done with the thing there. It is selected, as a click would.
void MainWindow::showPointerMenu(const QPoint& global) {
    if (!editor_.isOpen()) return;
    const Slot slot = view_->wholeAt(view_->mapFromGlobal(global));
    if (slot == kNoSlot)
        editor_.select({});
    else if (!editor_.isSelected(slot))
        editor_.select({editor_.scene().id(slot)});
    showMenuOfSelected(global);
}

void MainWindow::fillMenuOfSelected(QMenu* menu) {
    const auto add = [&](const auto& ids) {
        for (const char* id : ids)
            if (QAction* action = commands_->action(id)) menu->addAction(action);
    };
    if (editor_.selection().empty())
        add(kWithNothing);
    else
        add(kWithObject);
    commands_->refresh();
}

void MainWindow::showMenuOfSelected(const QPoint& global) {
    if (!editor_.isOpen()) return;
    QMenu* menu = openMenu(this);
    menu->setObjectName("pointerMenu");
    menu->setToolTipsVisible(true);
    fillMenuOfSelected(menu);
    menu->popup(global);
}

}  // namespace app
