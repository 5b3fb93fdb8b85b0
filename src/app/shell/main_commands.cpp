// What the window's commands do, and where they stand in the menus.
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>

#include "app/dialogs/key_sheet.h"
#include "app/dialogs/popovers.h"
#include "app/shell/main_window.h"
#include "io/copy_text.h"
#include "io/gltf_out.h"
#include "io/templates.h"

namespace app {

using base::Status;

bool MainWindow::canEdit() const { return editor_.isOpen() && editor_.session().readOnlyReason().empty(); }

void MainWindow::addCommands() {
    addProjectCommands();
    addEditCommands();
    addViewCommands();
    commands_->add({"help.keys", tr("Help"), tr("Keys and mouse…"), tr("All keys; each can be changed"), Qt::Key_F1, [this] { KeySheet(*commands_, this).exec(); }, {}, {}});
    commands_->add({"help.find", tr("Help"), tr("Find a command, item or object"), tr("Goes to the find field"), QKeySequence::Find, [this] { find_->begin(); }, {}, {}});
    selectTool_->setToolTip(commands_->action("view.select")->toolTip());
    slideTool_->setToolTip(commands_->action("view.slide")->toolTip());
    stepSwitch_->setToolTip(commands_->action("view.step")->toolTip());
    selectTool_->setAccessibleName(tr("Select"));
    slideTool_->setAccessibleName(tr("Slide"));
    stepSwitch_->setAccessibleName(tr("Move in steps"));
    hiddenButton_->setToolTip(tr("Show everything that is hidden"));
    protectedButton_->setToolTip(tr("Release everything that is protected"));
    connect(selectTool_, &QToolButton::clicked, commands_->action("view.select"), &QAction::trigger);
    connect(slideTool_, &QToolButton::clicked, commands_->action("view.slide"), &QAction::trigger);
    connect(stepSwitch_, &QToolButton::clicked, commands_->action("view.step"), &QAction::trigger);
    connect(hiddenButton_, &QToolButton::clicked, commands_->action("edit.showAll"), &QAction::trigger);
    connect(protectedButton_, &QToolButton::clicked, commands_->action("edit.releaseAll"), &QAction::trigger);
}

void MainWindow::addProjectCommands() {
    const QString menu = tr("Project");
    auto open = [this] { return editor_.isOpen(); };
    auto edit = [this] { return canEdit(); };
    commands_->add({"project.newScene", menu, tr("New scene…"), tr("Adds a scene from a template"), QKeySequence::New, [this] { newScene(); }, edit, {}});
    commands_->add({"project.new", menu, tr("New project…"), tr("Makes a project in a folder of its own"), Qt::CTRL | Qt::SHIFT | Qt::Key_N, [this] { newProject(); }, {}, {}});
    commands_->add({"project.open", menu, tr("Open project…"), tr("Opens a project's folder"), QKeySequence::Open, [this] { chooseProject(); }, {}, {}});
    commands_->add({"project.save", menu, tr("Save"), tr("Writes the changed scenes to their files"), QKeySequence::Save, [this] { save(); }, edit, {}, true});
    commands_->add({"project.saveAs", menu, tr("Save scene as…"), tr("Writes a copy of this scene under another name and goes on with that"), Qt::CTRL | Qt::SHIFT | Qt::Key_S, [this] { saveAs(); }, edit, {}});
    commands_->add({"project.import", menu, tr("Import models…"), tr("Adds glTF models to the Stock"), Qt::CTRL | Qt::Key_I, [this] { importModels(); }, edit, {}, true});
    commands_->add({"project.export", menu, tr("Export scene…"), tr("Writes the scene as a binary glTF file"), Qt::CTRL | Qt::Key_E, [this] { exportScene(); }, open, {}});
    commands_->add({"project.quit", menu, tr("Quit"), tr("Closes the window"), QKeySequence::Quit, [this] { close(); }, {}, {}, true});
}

void MainWindow::addEditCommands() {
    const QString menu = tr("Edit");
    auto open = [this] { return editor_.isOpen(); };
    auto selected = [this] { return hasSelection(); };
    auto change = [this] { return canEdit() && hasSelection(); };
    commands_->add({"edit.undo", menu, tr("Undo"), tr("Takes the last step back"), QKeySequence::Undo, [this] { editor_.report(editor_.session().undo()); },
                    [this] { return canEdit() && editor_.session().history().undoTarget().has_value(); }, {}});
    commands_->add({"edit.redo", menu, tr("Redo"), tr("Does the step taken back again"), Qt::CTRL | Qt::SHIFT | Qt::Key_Z, [this] { editor_.report(editor_.session().redo()); },
                    [this] { return canEdit() && editor_.session().history().redoTarget().has_value(); }, {}});
    commands_->add({"edit.cut", menu, tr("Cut"), tr("Removes the selection and keeps it in the clipboard"), QKeySequence::Cut, [this] { cut(); }, change, {}, true});
    commands_->add({"edit.copy", menu, tr("Copy"), tr("Puts the selection into the clipboard, as text"), QKeySequence::Copy, [this] { copy(); }, selected, {}});
    commands_->add({"edit.paste", menu, tr("Paste"), tr("Puts what is in the clipboard under the pointer"), QKeySequence::Paste, [this] { paste(); }, [this] { return canEdit(); }, {}});
    commands_->add({"edit.duplicate", menu, tr("Duplicate"), tr("Copies the selection in place"), Qt::CTRL | Qt::Key_D, [this] { duplicate(); }, change, {}});
    commands_->add({"edit.delete", menu, tr("Delete"), tr("Removes the selection with all below it"), QKeySequence::Delete, [this] { removeSelected(); }, change, {}});
    commands_->add({"edit.rename", menu, tr("Rename"), tr("Edits the name in the Roster"), Qt::Key_F2, [this] { roster_->renameSelected(); }, change, {}, true});
    commands_->add({"edit.selectAll", menu, tr("Select all"), tr("Selects everything at the top of the tree that is neither hidden nor protected"), QKeySequence::SelectAll, [this] { selectAll(); }, open, {}, true});
    commands_->add({"edit.escape", menu, tr("Let go"), tr("Takes back what the mouse is doing, stops placing, then selects nothing"), Qt::Key_Escape, [this] { escape(); }, open, {}});
    commands_->add({"edit.protect", menu, tr("Protect"), tr("Locks the selection against moving and removing"), Qt::Key_J, [this] { flagSelected(model::flags::kProtected, "Protect"); }, change, {}, true});
    commands_->add({"edit.releaseAll", menu, tr("Release all"), tr("Unlocks everything that is protected"), Qt::SHIFT | Qt::Key_J, [this] { clearFlag(model::flags::kProtected, "Release all"); },
                    [this] { return canEdit() && editor_.protectedCount() > 0; }, {}});
    commands_->add({"edit.hide", menu, tr("Hide"), tr("Does not draw the selection while editing"), Qt::Key_K, [this] { flagSelected(model::flags::kHidden, "Hide"); }, change, {}});
    commands_->add({"edit.showAll", menu, tr("Show all"), tr("Draws everything that is hidden again"), Qt::SHIFT | Qt::Key_K, [this] { clearFlag(model::flags::kHidden, "Show all"); },
                    [this] { return canEdit() && editor_.hiddenCount() > 0; }, {}});
}

void MainWindow::addViewCommands() {
    const QString menu = tr("View");
    auto open = [this] { return editor_.isOpen(); };
    commands_->add({"view.bring", menu, tr("Bring into view"), tr("Looks at the selection; again: looks where it did before"), Qt::Key_Q, [this] { view_->bringIntoView(); }, open, {}});
    commands_->add({"view.select", menu, tr("Select only"), tr("Mouse selects, no handle"), Qt::Key_V, [this] { editor_.setTool(Tool::Select); }, {}, [this] { return editor_.tool() == Tool::Select; }, true});
    commands_->add({"view.slide", menu, tr("Slide"), tr("Shows the handle that moves the selection"), Qt::Key_S, [this] { editor_.setTool(Tool::Slide); }, {}, [this] { return editor_.tool() == Tool::Slide; }});
    commands_->add({"view.step", menu, tr("Move in steps"), tr("Moving snaps to multiples of the step"), Qt::Key_G, [this] { editor_.setStep(editor_.stepMetres(), !editor_.stepOn()); }, {}, [this] { return editor_.stepOn(); }});
    commands_->add({"view.stockSearch", menu, tr("Find in the Stock"), tr("Goes to the Stock's search field"), Qt::CTRL | Qt::Key_T, [this] { stockDock_->show(); stock_->focusSearch(); }, open, {}, true});
    commands_->add({"view.rosterFilter", menu, tr("Filter the Roster"), tr("Goes to the Roster's filter"), Qt::CTRL | Qt::Key_R, [this] { rosterDock_->show(); roster_->focusFilter(); }, open, {}});
    auto panel = [&](const char* id, const QString& text, QDockWidget* dock, bool first) {
        commands_->add({id, menu, text, tr("Shows or hides the panel"), {}, [dock] { dock->setVisible(!dock->isVisible()); }, {}, [dock] { return dock->isVisible(); }, first});
        commands_->add({QString("%1Float").arg(id), menu, tr("%1 in a window of its own").arg(text), tr("Takes the panel out of the window, or puts it back"), {}, [dock] { dock->show(); dock->setFloating(!dock->isFloating()); }, {}, [dock] { return dock->isFloating(); }});
    };
    panel("view.stock", tr("Stock"), stockDock_, true);
    panel("view.roster", tr("Roster"), rosterDock_, false);
    panel("view.properties", tr("Properties"), propertiesDock_, false);
    commands_->add({"view.sides", menu, tr("Both sides away"), tr("Hides all panels, or shows them again"), Qt::Key_F9, [this] { toggleSides(); }, {}, {}});
    commands_->add({"view.first", menu, tr("First arrangement"), tr("Puts all panels back where they first were"), {}, [this] { firstArrangement(); }, {}, {}});
    commands_->add({"view.thumbnails", menu, tr("Make thumbnails anew"), tr("Draws the Stock's pictures again"), {}, [this] { stock_->refreshThumbnails(); }, open, {}});
    commands_->add({"view.oat", menu, tr("Light theme"), tr("Oat instead of dusk"), {}, [this] { editor_.setTheme(editor_.theme().name == oat().name ? dusk() : oat()); }, {}, [this] { return editor_.theme().name == oat().name; }, true});
}

void MainWindow::fillMenus() {
    auto* bar = menuWidget()->findChild<QMenuBar*>("menus");
    std::map<QString, QMenu*> menus;
    for (const Command& command : commands_->all()) {
        QMenu*& menu = menus[command.menu];
        if (menu == nullptr) {
            menu = bar->addMenu(command.menu);
            menu->setToolTipsVisible(true);
        }
        if (command.separatorBefore) menu->addSeparator();
        menu->addAction(commands_->action(command.id));
        addAction(commands_->action(command.id));
        if (command.id == "project.open") {
            QMenu* recentMenu = menu->addMenu(tr("Recent projects"));
            connect(recentMenu, &QMenu::aboutToShow, this, [this, recentMenu] {
                recentMenu->clear();
                for (const QString& path : recent()) recentMenu->addAction(path, this, [this, path] { askUnsaved([this, path] { openProject(path, io::OpenMode::Edit); }); });
                if (recent().isEmpty()) recentMenu->addAction(tr("None yet"))->setEnabled(false);
            });
            projectButton_->setMenu(recentMenu);
        }
    }
    auto* scenes = new QMenu(this);
    connect(scenes, &QMenu::aboutToShow, this, [this, scenes] {
        scenes->clear();
        if (!editor_.isOpen()) return;
        for (const std::string& name : editor_.session().project().sceneNames)
            scenes->addAction(QString::fromStdString(name), this, [this, name] { editor_.report(editor_.showScene(name)); });
        scenes->addSeparator();
        scenes->addAction(commands_->action("project.newScene"));
    });
    sceneButton_->setMenu(scenes);
}

void MainWindow::newProject() {
    askUnsaved([this] {
        const QString folder = QFileDialog::getSaveFileName(this, tr("Name of the new project's folder"));
        if (folder.isEmpty()) return;
        if (!editor_.report(io::createProject(folder.toStdString(), "ground", static_cast<std::uint64_t>(std::hash<std::string>{}(folder.toStdString()))))) return;
        openProject(folder, io::OpenMode::Edit);
    });
}

void MainWindow::chooseProject() {
    askUnsaved([this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Open a project's folder"));
        if (!folder.isEmpty()) openProject(folder, io::OpenMode::Edit);
    });
}

void MainWindow::newScene() {
    QStringList names;
    for (const io::Template& t : io::templates()) names << QString::fromStdString(t.name);
    new NamePopover(this, tr("New scene"), tr("Make it"), tr("new-scene"), names, [this](const QString& name, const QString& chosen) {
        if (Status made = io::createScene(editor_.workspace(), name.toStdString(), chosen.toStdString()); !made) return QString::fromStdString(made.error().message);
        Q_EMIT editor_.libraryChanged();
        editor_.report(editor_.showScene(name.toStdString()));
        return QString();
    });
}

// The long half of saving runs on a worker with a snapshot; the short half, back here, puts the file in place.
void MainWindow::saveAndThen(std::function<void()> next) {
    if (saving_) {
        afterSave_ = std::move(next);
        return;
    }
    if (!canEdit()) {
        editor_.report(base::fail(base::ErrorCode::Refused, editor_.isOpen() ? editor_.session().readOnlyReason() : "No project is open."));
        return;
    }
    edit::Session& session = editor_.session();
    std::vector<model::Scene> snapshots;
    for (const std::string& name : session.unsavedScenes())
        if (auto scene = session.scene(name)) snapshots.push_back(**scene);
    if (snapshots.empty()) {
        editor_.say(tr("Nothing has changed since the last save."));
        if (next) next();
        return;
    }
    saving_ = true;
    afterSave_ = std::move(next);
    refreshStatus();
    if (saveWorker_.joinable()) saveWorker_.join();
    saveWorker_ = std::thread([this, snapshots = std::move(snapshots), folder = editor_.workspace().folder(), step = session.history().present()] {
        auto results = std::make_shared<std::vector<base::Result<io::PreparedSave>>>();
        for (const model::Scene& snapshot : snapshots) results->push_back(io::prepareSave(snapshot, folder, step));
        QMetaObject::invokeMethod(
            this, [this, results] {
                saving_ = false;
                bool fine = true;
                for (auto& prepared : *results) {
                    const Status done = prepared ? io::finishSave(editor_.workspace(), *prepared) : Status(tl::unexpected(prepared.error()));
                    fine = editor_.report(done) && fine;
                }
                refreshStatus();
                refreshBanner();
                refreshTrail();
                auto then = std::exchange(afterSave_, nullptr);
                if (fine && then) then();
            },
            Qt::QueuedConnection);
    });
}

void MainWindow::finishSaving() {
    if (saveWorker_.joinable()) saveWorker_.join();
    while (saving_) QCoreApplication::processEvents(QEventLoop::AllEvents, 10);
}

void MainWindow::save() { saveAndThen({}); }

void MainWindow::saveAs() {
    new NamePopover(this, tr("Save %1 as").arg(QString::fromStdString(editor_.sceneName())), tr("Save"), QString::fromStdString(editor_.sceneName()) + "-2", {},
                    [this](const QString& name, const QString&) {
                        if (Status done = io::saveSceneAs(editor_.workspace(), editor_.sceneName(), name.toStdString()); !done) return QString::fromStdString(done.error().message);
                        editor_.report(editor_.showScene(name.toStdString()));
                        return QString();
                    });
}

void MainWindow::askUnsaved(std::function<void()> next) {
    if (!editor_.isOpen() || !canEdit()) return next();
    const std::vector<std::string> unsaved = editor_.session().unsavedScenes();
    if (unsaved.empty()) return next();
    QString list;
    for (const std::string& name : unsaved) {
        const edit::History& h = editor_.session().history();
        const auto path = h.path(std::max<edit::StepId>(editor_.session().savedStep(name), edit::kRoot), h.present());
        int steps = 0;
        for (const auto* part : {&path.back, &path.forward})
            for (edit::StepId id : *part) steps += h.step(id)->scene == name ? 1 : 0;
        list += tr("\n  %1: %2 since its last save, the last one “%3”")
                    .arg(QString::fromStdString(name), counted(static_cast<std::size_t>(steps), tr("step"), tr("steps")), h.step(h.lastTouch(h.present(), name)) != nullptr ? QString::fromStdString(h.step(h.lastTouch(h.present(), name))->name) : tr("taken back"));
    }
    QMessageBox question(QMessageBox::Question, tr("Save before going?"),
                         tr("Not in the files yet:%1\n\nEvery step is kept in the ledger either way and will be there when the project is opened again.").arg(list), QMessageBox::NoButton, this);
    question.setObjectName("unsavedQuestion");
    QPushButton* saveButton = question.addButton(tr("Save"), QMessageBox::AcceptRole);
    QPushButton* leave = question.addButton(tr("Leave the files as they are"), QMessageBox::DestructiveRole);
    question.addButton(QMessageBox::Cancel);
    question.setDefaultButton(saveButton);
    question.exec();
    if (question.clickedButton() == saveButton) return saveAndThen(std::move(next));
    if (question.clickedButton() == leave) next();
}

void MainWindow::importModels() {
    const QStringList files = QFileDialog::getOpenFileNames(this, tr("Import models"), {}, tr("glTF models (*.glb *.gltf)"));
    int added = 0;
    for (const QString& file : files) {
        auto item = io::importModel(editor_.workspace(), file.toStdString());
        if (!item) editor_.report(tl::unexpected(item.error()));
        else ++added;
    }
    if (added == 0) return;
    editor_.report(editor_.showScene(editor_.sceneName()));
    Q_EMIT editor_.libraryChanged();
    editor_.say(tr("Added to the Stock: %1.").arg(counted(static_cast<std::size_t>(added), tr("model"), tr("models"))));
}

void MainWindow::exportScene() {
    const QString file = QFileDialog::getSaveFileName(this, tr("Export the scene"), QString::fromStdString(editor_.sceneName()) + ".glb", tr("Binary glTF (*.glb)"));
    if (file.isEmpty()) return;
    const io::ExportedScene exported = io::exportScene(editor_.scene(), [this](base::Name item) { return editor_.workspace().mesh(item); });
    if (!editor_.report(base::writeFileWhole(file.toStdString(), exported.bytes))) return;
    editor_.say(exported.lost.empty() ? tr("Written to %1.").arg(file) : QString::fromStdString(exported.lost.front()));
}

void MainWindow::copy() {
    if (!hasSelection()) return;
    QApplication::clipboard()->setText(QString::fromStdString(io::copyText(editor_.scene(), ops::topmost(editor_.scene(), editor_.selection()))));
    editor_.say(tr("%1 copied.").arg(QString::fromStdString(ops::describe(editor_.scene(), editor_.selection()))));
}

void MainWindow::cut() {
    if (!hasSelection()) return;
    const auto ids = editor_.selection();
    const std::string text = io::copyText(editor_.scene(), ops::topmost(editor_.scene(), ids));
    const bool done = editor_.run("Cut " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        editor_.session().select({});
        return ops::remove(draft, ids);
    });
    if (done) QApplication::clipboard()->setText(QString::fromStdString(text));
}

void MainWindow::paste() {
    auto objects = io::parseCopyText(QApplication::clipboard()->text().toStdString(), editor_.session().project().names);
    if (!objects) {
        editor_.report(tl::unexpected(objects.error()));
        return;
    }
    if (objects->empty()) return;
    base::Aabb points;
    for (const model::ObjectRecord& r : *objects)
        if (!r.parent) points.add(r.local.position);
    base::Vec3 by(0.0);
    if (view_->pointerInside())
        if (const auto place = view_->landingUnder(view_->pointer())) by = *place - points.baseCentre();
    const std::string name = objects->size() == 1 ? "Paste " + std::string(editor_.session().names().text(objects->front().name)) : "Paste " + std::to_string(objects->size()) + " objects";
    editor_.run(name, [&](edit::Draft& draft) -> Status {
        auto made = ops::insert(draft, std::move(*objects), {}, by);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

void MainWindow::duplicate() {
    const auto ids = editor_.selection();
    editor_.run("Duplicate " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) -> Status {
        auto made = ops::duplicate(draft, ids);
        if (!made) return tl::unexpected(made.error());
        editor_.session().select(*made);
        return {};
    });
}

void MainWindow::removeSelected() {
    const auto ids = editor_.selection();
    editor_.run("Delete " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::remove(draft, ids);
        if (done) editor_.session().select({});
        return done;
    });
}

void MainWindow::selectAll() {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (model::Slot s = scene.firstChild(model::kNoSlot); s != model::kNoSlot; s = scene.nextSibling(s))
        if (scene.flagsOf(s) == 0) ids.push_back(scene.id(s));
    editor_.select(std::move(ids));
}

void MainWindow::flagSelected(std::uint8_t flag, const char* name) {
    const auto ids = editor_.selection();
    editor_.run(std::string(name) + " " + ops::describe(editor_.scene(), ids), [&](edit::Draft& draft) {
        Status done = ops::setFlag(draft, ids, flag, true);
        if (done) editor_.session().select({});
        return done;
    });
}

void MainWindow::clearFlag(std::uint8_t flag, const char* name) {
    const model::Scene& scene = editor_.scene();
    std::vector<base::ObjectId> ids;
    for (model::Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && (scene.flagsOf(s) & flag) != 0) ids.push_back(scene.id(s));
    editor_.run(name, [&](edit::Draft& draft) { return ops::setFlag(draft, ids, flag, false); });
}

void MainWindow::escape() {
    if (view_->cancel() && editor_.placing().empty()) return;
    if (!editor_.placing().empty()) return editor_.setPlacing({});
    editor_.select({});
}

}  // namespace app
