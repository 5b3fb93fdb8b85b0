// The commands of the project, of editing, tools and panels.
#include <QApplication>
#include <QClipboard>
#include <QMenuBar>

#include "app/dialogs/key_sheet.h"
#include "app/dialogs/manual_window.h"
#include "app/shell/main_window.h"
#include "app/view/gestures/measuring.h"

namespace app {

bool MainWindow::canEdit() const {
    return editor_.isOpen() && editor_.session().readOnlyReason().empty();
}

/// What a command needs that is off, for tips and for who looks for it.
QString MainWindow::whyNot(const Command& command) const {
    if (!command.enabled || command.enabled()) return {};
    if (!editor_.isOpen()) return tr("needs an open project");
    static const std::pair<const char*, QString> needs[] = {
        {"edit.undo", tr("there is nothing to undo")},
        {"edit.redo", tr("there is nothing to redo")},
        {"edit.paste", tr("nothing was copied")},
        {"edit.copyAgain", tr("needs a copy that was pulled with Ctrl")},
        {"prefab.editHere", tr("needs one selected instance")},
        {"prefab.takeApart", tr("needs selected instances")},
        {"prefab.takeAllApart", tr("needs selected instances")},
        {"prefab.swap", tr("needs selected instances, and a prefab chosen in the Stock")},
        {"prefab.open", tr("needs an instance, or a prefab chosen in the Stock")},
        {"prefab.edition", tr("needs an instance, or a prefab chosen in the Stock")},
        {"prefab.back", tr("needs a prefab that was opened alone")},
        {"stock.", tr("needs an item chosen in the Stock")},
        {"look.through", tr("needs one selected camera")},
        {"look.setCamera", tr("needs one selected camera")},
        {"zone.inside", tr("needs one selected zone")},
        {"points.spread", tr("needs an object with points")},
        {"arrange.gaps", tr("needs three objects or more")},
        {"arrange.centres", tr("needs three objects or more")},
        {"checks.mend", tr("needs a finding that has a fix")},
        {"checks.accept", tr("needs a finding")},
        {"scripts.", tr("needs a script, or what one has shown")},
        {"view.copyMeasure", tr("needs something measured")},
        {"draw.broom", tr("needs the broom")}};
    for (const auto& [id, what] : needs)
        if (command.id.startsWith(QLatin1String(id))) return what;
    if (!editor_.session().readOnlyReason().empty()) return QString::fromStdString(editor_.session().readOnlyReason());
    return editor_.selection().empty() ? tr("needs a selection") : tr("not for what is selected");
}

void MainWindow::showManual(const QString& page) {
    auto* manual = findChild<ManualWindow*>();
    if (manual == nullptr) manual = new ManualWindow(this);
    manual->open(page);
    manual->show();
    manual->raise();
    manual->activateWindow();
}

void MainWindow::addCommands() {
    commands_->setWhyNot([this](const Command& command) { return whyNot(command); });
    addProjectCommands();
    addEditCommands();
    addStockCommands();
    addSelectCommands();
    addArrangeCommands();
    addGrouping();
    addPrefabCommands();
    addObjectCommands();
    addCheckCommands();
    addScriptCommands();
    addDrawCommands();
    addCopying();
    addLookCommands();
    addViewCommands();
    commands_->add({"help.keys", tr("Keys and mouse…"), tr("All keys; each can be changed"), Qt::Key_F1,
                    [this] { KeySheet(*commands_, editor_.hint(), this).exec(); }});
    commands_->add({"help.manual", tr("Manual"), tr("All pages, with a field to find in them"), Qt::SHIFT | Qt::Key_F1,
                    [this] { showManual("working.md"); }});
    commands_->add({"help.firstSteps", tr("First steps"), tr("Ten minutes on the demo"), {}, [this] {
                        showManual("first-steps.md");
                    }});
    commands_->add({"help.about", tr("About Mellow Lattice"), tr("Its version, and what it is made of"), {}, [this] {
                        showManual("licences.md");
                    }});
    commands_->add({"help.find", tr("Find a command, item or object"), tr("Goes to the find field"), QKeySequence::Find,
                    [this] { find_->begin(); }});
    stepSwitch_->setToolTip(commands_->action("view.step")->toolTip());
    for (const auto& [button, id] : {std::pair{selectTool_, "view.select"},
                                     {slideTool_, "view.slide"},
                                     {dialTool_, "view.dial"},
                                     {fitTool_, "view.fit"},
                                     {allTool_, "view.allHandles"},
                                     {measureTool_, "view.measure"},
                                     {axesButton_, "view.axes"},
                                     {pivotButton_, "view.pivot"}}) {
        QAction* action = commands_->action(id);
        button->setToolTip(action->toolTip());
        button->setAccessibleName(action->text());
        connect(button, &QToolButton::clicked, action, &QAction::trigger);
    }
    stepSwitch_->setAccessibleName(tr("Move in steps"));
    stepUnit_->setToolTip(tr("Usual steps, and how they are counted"));
    stepUnit_->setAccessibleName(tr("Usual steps"));
    hiddenButton_->setToolTip(tr("What is hidden: list it, show one of them or all"));
    protectedButton_->setToolTip(tr("What is protected: list it, release one of them or all"));
    aloneButton_->setToolTip(tr("Only some objects are shown; click to see everything again"));
    connect(aloneButton_, &QToolButton::clicked, commands_->action("edit.alone"), &QAction::trigger);
    connect(stepSwitch_, &QToolButton::clicked, commands_->action("view.step"), &QAction::trigger);
}

void MainWindow::addProjectCommands() {
    auto open = [this] { return editor_.isOpen(); };
    auto edit = [this] { return canEdit(); };
    commands_->add({"project.newScene", tr("New scene…"), tr("Adds a scene from a template"), QKeySequence::New,
                    [this] { newScene(); }, edit});
    commands_->add({"project.new", tr("New project…"), tr("Makes a project in a folder of its own"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_N, [this] { newProject(); }});
    commands_->add({"project.open", tr("Open project…"), tr("Opens a project’s folder"), QKeySequence::Open,
                    [this] { chooseProject(); }});
    commands_->add({"project.save", tr("Save"), tr("Writes the changed scenes to their files"), QKeySequence::Save,
                    [this] { save(); }, edit});
    commands_->add({"project.saveAs", tr("Save scene as…"),
                    tr("Writes a copy of this scene under another name and goes on with that"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_S, [this] { saveAs(); }, edit});
    commands_->add({"project.import", tr("Import models…"), tr("Adds glTF models to the Stock"), Qt::CTRL | Qt::Key_I,
                    [this] { importModels(); }, edit});
    commands_->add({"project.export", tr("Export scene…"), tr("Writes the scene as a binary glTF file"),
                    Qt::CTRL | Qt::Key_E, [this] { exportScene(); }, open});
    commands_->add({"project.quit", tr("Quit"), tr("Closes the window"), QKeySequence::Quit, [this] { close(); }});
}

void MainWindow::addEditCommands() {
    auto open = [this] { return editor_.isOpen(); };
    auto selected = [this] { return hasSelection(); };
    auto change = [this] { return canEdit() && hasSelection(); };
    commands_->add({"edit.undo", tr("Undo"), tr("Undoes the last step"), QKeySequence::Undo,
                    [this] { editor_.report(editor_.session().undo()); },
                    [this] { return canEdit() && editor_.session().history().undoTarget().has_value(); }});
    commands_->add({"edit.redo",
                    tr("Redo"),
                    tr("Does the undone step again"),
                    Qt::CTRL | Qt::SHIFT | Qt::Key_Z,
                    [this] { editor_.report(editor_.session().redo()); },
                    [this] { return canEdit() && editor_.session().history().redoTarget().has_value(); },
                    {},
                    Qt::CTRL | Qt::Key_Y});
    commands_->add({"edit.cut", tr("Cut"), tr("Removes the selection and keeps it in the clipboard"), QKeySequence::Cut,
                    [this] { cut(); }, change});
    commands_->add({"edit.copy", tr("Copy"), tr("Puts the selection into the clipboard, as text"), QKeySequence::Copy,
                    [this] { copy(); }, selected});
    commands_->add({"edit.paste", tr("Paste"), tr("Puts what is in the clipboard under the pointer"),
                    QKeySequence::Paste, [this] { paste(); }, [this] { return canEdit(); }});
    commands_->add({"edit.duplicate", tr("Duplicate"), tr("Copies the selection in place"), Qt::CTRL | Qt::Key_D,
                    [this] { duplicate(); }, change});
    commands_->add({"edit.delete", tr("Delete"), tr("Removes the selection with all below it"), QKeySequence::Delete,
                    [this] { removeSelected(); }, change});
    commands_->add({"edit.rename", tr("Rename"), tr("Edits the name in the Roster"), Qt::Key_F2,
                    [this] { roster_->renameSelected(); }, change});
    commands_->add({"edit.escape", tr("Let go"),
                    tr("Takes back what the mouse is doing, stops placing, then selects nothing"), Qt::Key_Escape,
                    [this] { escape(); }, open});
    commands_->add({"edit.protect", tr("Protect"), tr("Locks the selection against moving and removing"), Qt::Key_J,
                    [this] { flagSelected(model::flags::kProtected, "Protect"); }, change});
    commands_->add({"edit.releaseAll", tr("Release all"), tr("Unlocks everything that is protected"),
                    Qt::SHIFT | Qt::Key_J, [this] { clearFlag(model::flags::kProtected, "Release all"); },
                    [this] { return canEdit() && editor_.protectedCount() > 0; }});
    commands_->add({"edit.hide", tr("Hide"), tr("Does not draw the selection while editing"), Qt::Key_K,
                    [this] { flagSelected(model::flags::kHidden, "Hide"); }, change});
    commands_->add(
        {"edit.tint",
         tr("Tint"),
         tr("Multiplies the colours of the selection with one that Properties then shows; again: as they are"),
         {},
         [this] { toggleTint(); },
         change});
    commands_->add({"edit.showAll", tr("Show all"), tr("Draws everything that is hidden again"), Qt::SHIFT | Qt::Key_K,
                    [this] { clearFlag(model::flags::kHidden, "Show all"); },
                    [this] { return canEdit() && editor_.hiddenCount() > 0; }});
    commands_->add({"edit.alone", tr("Show alone"),
                    tr("Shows nothing but the selection, to work on it undisturbed; again: everything"), Qt::Key_I,
                    [this] { editor_.toggleAlone(); },
                    [this] { return editor_.isOpen() && (editor_.isAlone() || hasSelection()); },
                    [this] { return editor_.isOpen() && editor_.isAlone(); }});
}

void MainWindow::addViewCommands() {
    auto open = [this] { return editor_.isOpen(); };
    commands_->add({"view.bring", tr("Bring into view"), tr("Looks at the selection; again: looks where it did before"),
                    Qt::Key_Q, [this] { view_->eye().bringIntoView(); }, open});
    commands_->add({"view.select",
                    tr("No handle"),
                    tr("Mouse selects, no handle"),
                    Qt::Key_V,
                    [this] { editor_.setTool(Tool::Select); },
                    {},
                    [this] { return editor_.tools().tool == Tool::Select; }});
    commands_->add({"view.slide",
                    tr("Slide"),
                    tr("Shows the handle that moves the selection"),
                    Qt::Key_S,
                    [this] { editor_.setTool(Tool::Slide); },
                    {},
                    [this] { return editor_.tools().tool == Tool::Slide; }});
    commands_->add({"view.dial",
                    tr("Turn"),
                    tr("Shows the handle that turns the selection"),
                    Qt::Key_D,
                    [this] { editor_.setTool(Tool::Dial); },
                    {},
                    [this] { return editor_.tools().tool == Tool::Dial; }});
    commands_->add({"view.fit",
                    tr("Size"),
                    tr("Shows the handle that sizes the selection along its own axes"),
                    Qt::Key_F,
                    [this] { editor_.setTool(Tool::Fit); },
                    {},
                    [this] { return editor_.tools().tool == Tool::Fit; }});
    commands_->add({"view.allHandles",
                    tr("All handles together"),
                    tr("Shows slide, turn and size at once"),
                    Qt::Key_A,
                    [this] { editor_.setTool(Tool::All); },
                    {},
                    [this] { return editor_.tools().tool == Tool::All; }});
    commands_->add({"view.measure",
                    tr("Measure"),
                    tr("Distances, angles and heights from point to point"),
                    Qt::Key_E,
                    [this] { editor_.setTool(editor_.tools().tool == Tool::Measure ? Tool::Slide : Tool::Measure); },
                    {},
                    [this] { return editor_.tools().tool == Tool::Measure; }});
    commands_->add({"view.copyMeasure", tr("Copy the measures"),
                    tr("Puts what was measured into the clipboard, as text"), Qt::CTRL | Qt::SHIFT | Qt::Key_C,
                    [this] {
                        const QString text = view_->gesture<Measuring>().text();
                        if (text.isEmpty()) return editor_.say(tr("Nothing has been measured yet."));
                        QApplication::clipboard()->setText(text);
                        editor_.say(tr("Copied: %1").arg(QString(text).replace('\n', ", ")));
                    },
                    open});
    commands_->add({"view.axes", tr("Next axes"), tr("Which directions the handle uses: World, Own, Parent, View"),
                    Qt::Key_Y, [this] { nextAxes(); }});
    commands_->add({"view.pivot", tr("Next pivot"),
                    tr("What stays in a turn or a change of size: base, centre, each its own, the picked point"),
                    Qt::Key_B, [this] { nextPivot(); }});
    commands_->add({"view.pickPivot", tr("Pivot under the pointer"),
                    tr("Picks the point of the surface under the pointer as what stays in a turn"),
                    Qt::SHIFT | Qt::Key_B,
                    [this] {
                        if (const auto place = view_->context().landingUnder(view_->context().pointer))
                            editor_.pickPivot(*place);
                    },
                    open});
    commands_->add({"view.step",
                    tr("Move in steps"),
                    tr("Moving, turning or sizing snaps to multiples of its step"),
                    Qt::Key_G,
                    [this] {
                        StepSetting step = editor_.tools().step(editor_.tools().activeTask());
                        step.on = !step.on;
                        editor_.setStep(editor_.tools().activeTask(), step);
                    },
                    {},
                    [this] { return editor_.tools().step(editor_.tools().activeTask()).on; }});
    commands_->add({"view.stepLattice",
                    tr("Steps on the world’s lattice"),
                    tr("Steps of sliding count from the world’s zero instead of where the drag began"),
                    {},
                    [this] { editor_.change(&Tools::onLattice, !editor_.tools().onLattice); },
                    {},
                    [this] { return editor_.tools().onLattice; }});
    commands_->add({"view.fine",
                    tr("Fine steps"),
                    tr("A tenth of each step, without holding Shift"),
                    Qt::SHIFT | Qt::Key_G,
                    [this] { editor_.change(&Tools::fine, !editor_.tools().fine); },
                    {},
                    [this] { return editor_.tools().fine; }});
    commands_->add({"view.catchProtected",
                    tr("Catch on what is protected"),
                    tr("Drags also catch on objects that are protected"),
                    {},
                    [this] {
                        Catching c = editor_.tools().catching;
                        c.protectedOnes = !c.protectedOnes;
                        editor_.change(&Tools::catching, c);
                    },
                    {},
                    [this] { return editor_.tools().catching.protectedOnes; }});
    commands_->add({"view.catchHidden",
                    tr("Catch on what is hidden"),
                    tr("Drags also catch on objects that are hidden"),
                    {},
                    [this] {
                        Catching c = editor_.tools().catching;
                        c.hidden = !c.hidden;
                        editor_.change(&Tools::catching, c);
                    },
                    {},
                    [this] { return editor_.tools().catching.hidden; }});
    commands_->add({"view.catchFlush",
                    tr("Catch what is in line"),
                    tr("A drag stops where it comes in line with anything in the level; for once: hold C in the drag"),
                    Qt::SHIFT | Qt::Key_C,
                    [this] { editor_.change(&Tools::catchFlush, !editor_.tools().catchFlush); },
                    {},
                    [this] { return editor_.tools().catchFlush; }});
    commands_->add({"view.stockSearch", tr("Find in the Stock"), tr("Goes to the Stock’s search field"),
                    Qt::CTRL | Qt::Key_T,
                    [this] {
                        stockDock_->show();
                        stock_->focusSearch();
                    },
                    open});
    commands_->add({"view.rosterFilter", tr("Filter the Roster"), tr("Goes to the Roster’s filter"),
                    Qt::CTRL | Qt::Key_R,
                    [this] {
                        rosterDock_->show();
                        roster_->focusFilter();
                    },
                    open});
    auto panel = [&](const char* id, const QString& text, QDockWidget* dock) {
        commands_->add({id,
                        text,
                        tr("Shows or hides the panel"),
                        {},
                        [dock] { dock->setVisible(!dock->isVisible()); },
                        {},
                        [dock] { return dock->isVisible(); }});
        commands_->add({QString("%1Float").arg(id),
                        tr("%1 in a window of its own").arg(text),
                        tr("Takes the panel out of the window, or puts it back"),
                        {},
                        [dock] {
                            dock->show();
                            dock->setFloating(!dock->isFloating());
                        },
                        {},
                        [dock] { return dock->isFloating(); }});
    };
    panel("view.stock", tr("Stock"), stockDock_);
    panel("view.roster", tr("Roster"), rosterDock_);
    panel("view.properties", tr("Properties"), propertiesDock_);
    commands_->add({"view.sides", tr("Hide panels"), tr("Hides all panels, or shows them again"), Qt::Key_F9,
                    [this] { toggleSides(); }});
    commands_->add(
        {"view.first", tr("First arrangement"), tr("Puts all panels back where they first were"), {}, [this] {
             firstArrangement();
         }});
    commands_->add({"view.thumbnails",
                    tr("Make thumbnails anew"),
                    tr("Draws the Stock’s pictures again"),
                    {},
                    [this] { stock_->refreshThumbnails(); },
                    open});
    commands_->add({"view.oat",
                    tr("Light theme"),
                    tr("Oat instead of dusk"),
                    {},
                    [this] { editor_.setTheme(editor_.theme().name == oat().name ? dusk() : oat()); },
                    {},
                    [this] { return editor_.theme().name == oat().name; }});
}

}  // namespace app
