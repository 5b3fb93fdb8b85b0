// Handing over: the page of the desk, lists written and taken in, receivers, the project's programs.
#include "app/commands/all.h"
#include "app/names.h"
#include "app/panels/hand_panel.h"
#include "edit/session.h"

namespace app {

namespace {

class HandCommands : public Rows {
  public:
    explicit HandCommands(Shell& shell) : Rows(shell) {
        toggle(
            "desk.hand", tr("Recipes and receivers"),
            tr("What this scene becomes for another program, beside the recipe that says so"), {},
            [this] { shell_.toggleDesk(shell_.hand); }, [this] { return shell_.deskShows(shell_.hand); }, open());
        verb(
            "hand.over", tr("Hand over"),
            tr("Writes everything that the chosen receiver is given; what is written over is kept once"),
            Qt::CTRL | Qt::SHIFT | Qt::Key_H, [this] { at(&HandPanel::handOver); }, receiver());
        verb(
            "hand.preview", tr("Look before handing over"), tr("Says what a hand-over would write, and writes nothing"),
            {}, [this] { at(&HandPanel::preview); }, receiver());
        verb(
            "hand.back", tr("Put files back"), tr("Files lie as they lay before the last hand-over"), {},
            [this] { at(&HandPanel::putBack); }, receiver());
        verb(
            "hand.write", tr("Write list…"), tr("Writes what the recipe makes into a folder"), {},
            [this] { at(&HandPanel::writeFiles); }, open());
        verb(
            "hand.take", tr("Take in a list…"),
            tr("A list that others changed comes back: looked at first, then one step"), {},
            [this] { at(&HandPanel::chooseList); }, edits());
        verb(
            "hand.stop", tr("Stop the program"), tr("Ends the program of the project that runs"), {},
            [this] { shell_.hand.stop(); }, [this] { return shell_.hand.isRunning(); });
    }

  private:
    Asked receiver() {
        return [this] { return editor_.isOpen() && !editor_.session().library().receivers.empty(); };
    }
    void at(void (HandPanel::*does)()) {
        shell_.openDesk(shell_.hand);
        (shell_.hand.*does)();
    }
};

}  // namespace

RowsPtr handCommands(Shell& shell) {
    return std::make_unique<HandCommands>(shell);
}

}  // namespace app
