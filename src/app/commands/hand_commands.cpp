// Handing over: the page of the desk, lists written and taken in, receivers, the project's programs.
#include <QFileDialog>

#include "app/commands/all.h"
#include "app/names.h"
#include "app/panels/hand_panel.h"
#include "app/shell/main_window.h"
#include "app/view/view_widget.h"
#include "base/files.h"
#include "edit/session.h"
#include "hand/picture.h"
#include "hand/plan.h"
#include "io/workspace.h"

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
            "hand.picture", tr("Picture of this view…"),
            tr("What is seen in play from here, 1920 by 1080, as a PNG file"), {}, [this] { picture(); }, open());
        verb(
            "hand.plan", tr("Plan of the level…"), tr("From above and to scale, with zones and routes, as an SVG file"),
            {}, [this] { plan(); }, open());
        verb(
            "hand.stop", tr("Stop the program"), tr("Ends the program of the project that runs"), {},
            [this] { shell_.hand.stop(); }, [this] { return shell_.hand.isRunning(); });
    }

  private:
    /// Asks where to, and writes it.
    void writeTo(const QString& title, const QString& name, const QString& sort,
                 const std::function<std::string()>& bytes) {
        const QString file = QFileDialog::getSaveFileName(&shell_.window, title, name, sort);
        if (file.isEmpty()) return;
        if (editor_.report(base::writeFileWhole(file.toStdString(), bytes())))
            editor_.say(tr("Written to %1.").arg(file));
    }
    void picture() {
        const render::Camera& camera = view().camera();
        hand::PictureView from;
        from.from = camera.eye;
        from.to = camera.eye + camera.forward();
        from.verticalDegrees = camera.verticalDegrees;
        from.heightMetres = camera.heightMetres;
        constexpr int kWide = 1920, kHigh = 1080;
        writeTo(tr("Picture of this view"), QString::fromStdString(editor_.sceneName()) + ".png", tr("PNG (*.png)"),
                [&] {
                    return hand::pngOf(
                        hand::pictureOf(io::sourceOf(editor_.workspace(), editor_.scene()), from, kWide, kHigh));
                });
    }
    void plan() {
        writeTo(tr("Plan of the level"), QString::fromStdString(editor_.sceneName()) + ".svg", tr("SVG (*.svg)"), [&] {
            return hand::planOf(editor_.scene(), editor_.session().library(),
                                [this](base::Name item) { return editor_.workspace().mesh(item); });
        });
    }
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
