// Tools, steps and catching; panels.
#include <QApplication>
#include <QClipboard>
#include <QDockWidget>
#include <QMenuBar>

#include "app/commands/all.h"
#include "app/dialogs/key_sheet.h"
#include "app/dialogs/manual_window.h"
#include "app/names.h"
#include "app/panels/roster_panel.h"
#include "app/panels/stock_panel.h"
#include "app/shell/main_window.h"
#include "app/shell/preferences.h"
#include "app/shell/tools.h"
#include "app/view/gestures/measuring.h"
#include "app/view/looks.h"
#include "app/view/view_widget.h"

namespace app {

namespace {

class ViewCommands : public Rows {
  public:
    explicit ViewCommands(Shell& shell);

  private:
    void addTools();
    void addHandles();
    void addSteps();
    void addPanels();
    void nextAxes();
    void nextPivot();
};

ViewCommands::ViewCommands(Shell& shell) : Rows(shell) {
    verb(
        "view.bring", tr("Bring into view"), tr("Looks at the selection; again: looks where it did before"), Qt::Key_Q,
        [this] { view().eye().bringIntoView(); }, open());
    addTools();
    addHandles();
    addSteps();
    addPanels();
}

void ViewCommands::addTools() {
    hand("view.select", tr("No handle"), tr("Mouse selects, no handle"), Qt::Key_V, Tool::Select);
    hand("view.slide", tr("Slide"), tr("Shows the handle that moves the selection"), Qt::Key_S, Tool::Slide);
    hand("view.dial", tr("Turn"), tr("Shows the handle that turns the selection"), Qt::Key_D, Tool::Dial);
    hand("view.fit", tr("Size"), tr("Shows the handle that sizes the selection along its own axes"), Qt::Key_F,
         Tool::Fit);
    hand("view.allHandles", tr("All handles together"), tr("Shows slide, turn and size at once"), Qt::Key_A, Tool::All);
    toggle(
        "view.measure", tr("Measure"), tr("Distances, angles and heights from point to point"), Qt::Key_E,
        [this] { editor_.setTool(editor_.tools().tool == Tool::Measure ? Tool::Slide : Tool::Measure); },
        [this] { return editor_.tools().tool == Tool::Measure; });
    verb(
        "view.copyMeasure", tr("Copy the measures"), tr("Puts what was measured into the clipboard, as text"),
        Qt::CTRL | Qt::SHIFT | Qt::Key_C,
        [this] {
            const QString text = view().gesture<Measuring>().text();
            if (text.isEmpty()) return editor_.say(tr("Nothing has been measured yet."));
            QApplication::clipboard()->setText(text);
            editor_.say(tr("Copied: %1").arg(QString(text).replace('\n', ", ")));
        },
        open());
}

void ViewCommands::addHandles() {
    verb("view.axes", tr("Next axes"), tr("Which directions the handle uses: World, Own, Parent, View"), Qt::Key_Y,
         [this] { nextAxes(); });
    verb("view.pivot", tr("Next pivot"),
         tr("What stays in a turn or a change of size: base, centre, each its own, the picked point"), Qt::Key_B,
         [this] { nextPivot(); });
    verb(
        "view.pickPivot", tr("Pivot under the pointer"),
        tr("Picks the point of the surface under the pointer as what stays in a turn"), Qt::SHIFT | Qt::Key_B,
        [this] {
            if (const auto place = view().context().landingUnder(view().context().pointer)) editor_.pickPivot(*place);
        },
        open());
}

void ViewCommands::addSteps() {
    toggle(
        "view.step", tr("Move in steps"), tr("Moving, turning or sizing snaps to multiples of its step"), Qt::Key_G,
        [this] {
            StepSetting step = editor_.tools().step(editor_.tools().activeTask());
            step.on = !step.on;
            editor_.setStep(editor_.tools().activeTask(), step);
        },
        [this] { return editor_.tools().step(editor_.tools().activeTask()).on; });
    toggle("view.stepLattice", tr("Steps on the world’s lattice"),
           tr("Steps of sliding count from the world’s zero instead of where the drag began"), {}, &Tools::onLattice);
    for (const auto& [id, text, tip, fineness] :
         {std::tuple{"view.notFine", tr("Whole steps"), tr("Each step as it is set"), Fineness::Off},
          {"view.fine", tr("Fine steps"), tr("A tenth of each step, until it is changed"), Fineness::Fine},
          {"view.veryFine", tr("Very fine steps"), tr("A hundredth of each step, until it is changed"),
           Fineness::VeryFine}})
        choice(id, text, tip, {}, &Tools::fineness, fineness);
    verb("view.fineness", tr("Next fineness"), tr("Steps as they are, a tenth, a hundredth of them"),
         Qt::SHIFT | Qt::Key_G, [this] {
             const auto next = (static_cast<int>(editor_.tools().fineness) + 1) % 3;
             editor_.change(&Tools::fineness, static_cast<Fineness>(next));
         });
    toggle(
        "view.catchProtected", tr("Catch on what is protected"), tr("Drags also catch on objects that are protected"),
        {}, +[](Tools& t) -> bool& { return t.catching.protectedOnes; });
    toggle(
        "view.catchHidden", tr("Catch on what is hidden"), tr("Drags also catch on objects that are hidden"), {},
        +[](Tools& t) -> bool& { return t.catching.hidden; });
    toggle("view.catchFlush", tr("Catch what is in line"),
           tr("A drag stops where it comes in line with anything in the level; for once: hold C in the drag"),
           Qt::SHIFT | Qt::Key_C, &Tools::catchFlush);
}

void ViewCommands::addPanels() {
    verb(
        "view.stockSearch", tr("Find in the Stock"), tr("Goes to the Stock’s search field"), Qt::CTRL | Qt::Key_T,
        [this] {
            shell_.stockDock.show();
            shell_.stock.focusSearch();
        },
        open());
    verb(
        "view.rosterFilter", tr("Filter the Roster"), tr("Goes to the Roster’s filter"), Qt::CTRL | Qt::Key_R,
        [this] {
            shell_.rosterDock.show();
            shell_.roster.focusFilter();
        },
        open());
    auto panel = [&](const char* id, const QString& text, QDockWidget* dock) {
        toggle(
            id, text, tr("Shows or hides the panel"), {}, [dock] { dock->setVisible(!dock->isVisible()); },
            [dock] { return dock->isVisible(); });
        toggle(
            QString("%1Float").arg(id), tr("%1 in a window of its own").arg(text),
            tr("Takes the panel out of the window, or puts it back"), {},
            [dock] {
                dock->show();
                dock->setFloating(!dock->isFloating());
            },
            [dock] { return dock->isFloating(); });
    };
    panel("view.stock", tr("Stock"), &shell_.stockDock);
    panel("view.roster", tr("Roster"), &shell_.rosterDock);
    panel("view.properties", tr("Properties"), &shell_.propertiesDock);
    verb("view.sides", tr("Hide panels"), tr("Hides all panels, or shows them again"), Qt::Key_F9,
         [this] { shell_.window.toggleSides(); });
    verb("view.first", tr("First arrangement"), tr("Puts all panels back where they first were"), {},
         [this] { shell_.window.firstArrangement(); });
    verb(
        "view.thumbnails", tr("Make thumbnails anew"), tr("Draws the Stock’s pictures again"), {},
        [this] { shell_.stock.refreshThumbnails(); }, open());
    toggle(
        "view.oat", tr("Light theme"), tr("Oat instead of dusk"), {},
        [this] {
            Preferences changed = editor_.preferences();
            using Tone = Preferences::Tone;
            changed.tone = changed.tone == Tone::Oat ? Tone::Dusk : Tone::Oat;
            editor_.setPreferences(changed);
        },
        [this] { return editor_.theme().name == oat().name; });
}

void ViewCommands::nextAxes() {
    editor_.change(&Tools::axes, static_cast<ops::AxesMode>((static_cast<int>(editor_.tools().axes) + 1) % 4));
}

// The picked point takes part only once one was picked.
void ViewCommands::nextPivot() {
    const int count = editor_.tools().pivot == ops::PivotMode::Picked ? 4 : 3;
    editor_.change(&Tools::pivot, static_cast<ops::PivotMode>((static_cast<int>(editor_.tools().pivot) + 1) % count));
}

}  // namespace

RowsPtr viewCommands(Shell& shell) {
    return std::make_unique<ViewCommands>(shell);
}

}  // namespace app
