// The Arrange menu: seat, turn, align, distribute, match, reset.
#include "app/shell/main_window.h"
#include "ops/align.h"

namespace app {

using query::BoxSide;

void MainWindow::arrange(const QString& what, const std::function<base::Status(edit::Draft&)>& verb) {
    editor_.run(what.toStdString() + " " + ops::describe(editor_.scene(), editor_.selection()), verb);
}

void MainWindow::addArrangeCommands() {
    const QString menu = tr("Arrange");
    auto change = [this] { return canEdit() && hasSelection(); };
    auto several = [this] { return canEdit() && hasSelection() && editor_.selection().size() > 1; };
    auto three = [this] { return canEdit() && hasSelection() && editor_.selection().size() > 2; };
    commands_->add({"edit.seat",
                    menu,
                    tr("Seat"),
                    tr("Puts each selected object down on what is below it"),
                    Qt::Key_T,
                    [this] { editor_.seatSelected({}); },
                    change,
                    {},
                    true});
    commands_->add({"edit.seatLeaning",
                    menu,
                    tr("Seat, leaning with the slope"),
                    tr("Puts each selected object down, its up along the surface under it"),
                    Qt::SHIFT | Qt::Key_T,
                    [this] {
                        editor_.seatSelected({true, 0});
                    },
                    change,
                    {}});
    commands_->add({"edit.seatWhenPlacing",
                    menu,
                    tr("Seat when placing"),
                    tr("What is placed is put down by its lowest points, not by its base point"),
                    {},
                    [this] { editor_.setSeatWhenPlacing(!editor_.seatWhenPlacing()); },
                    {},
                    [this] { return editor_.seatWhenPlacing(); }});
    commands_->add({"edit.halfTurn",
                    menu,
                    tr("Turn half round"),
                    tr("Turns the selection by 180° about its up axis"),
                    Qt::Key_M,
                    [this] { halfTurn(); },
                    change,
                    {}});
    const std::tuple<const char*, QString, int, BoxSide> sides[] = {
        {"arrange.left", tr("Align left sides"), 0, BoxSide::Low},
        {"arrange.middleX", tr("Align middles, left to right"), 0, BoxSide::Centre},
        {"arrange.right", tr("Align right sides"), 0, BoxSide::High},
        {"arrange.bottoms", tr("Align bottoms"), 1, BoxSide::Low},
        {"arrange.middleY", tr("Align middles, in height"), 1, BoxSide::Centre},
        {"arrange.tops", tr("Align tops"), 1, BoxSide::High},
        {"arrange.north", tr("Align north sides"), 2, BoxSide::Low},
        {"arrange.middleZ", tr("Align middles, north to south"), 2, BoxSide::Centre},
        {"arrange.south", tr("Align south sides"), 2, BoxSide::High}};
    for (const auto& [id, text, axis, side] : sides)
        commands_->add({id,
                        menu,
                        text,
                        tr("Moves the others along the world's axis to where the one selected last is"),
                        {},
                        [this, axis = axis, side = side] {
                            arrange("Align",
                                    [&](edit::Draft& d) { return ops::align(d, editor_.selection(), axis, side); });
                        },
                        several,
                        {},
                        side == BoxSide::Low});
    const QString ways[] = {tr("left to right"), tr("in height"), tr("north to south")};
    for (int axis = 0; axis < 3; ++axis)
        for (const auto spacing : {ops::Spacing::Gaps, ops::Spacing::Centres}) {
            const bool gaps = spacing == ops::Spacing::Gaps;
            commands_->add({QString("arrange.%1%2").arg(gaps ? "gaps" : "centres").arg("XYZ"[axis]),
                            menu,
                            (gaps ? tr("Equal gaps, %1") : tr("Equal steps, %1")).arg(ways[axis]),
                            gaps ? tr("The outermost two stay, those between get equal gaps")
                                 : tr("The outermost two stay, the middles of those between get equal distances"),
                            {},
                            [this, axis, spacing] {
                                arrange("Distribute", [&](edit::Draft& d) {
                                    return ops::distribute(d, editor_.selection(), axis, spacing);
                                });
                            },
                            three,
                            {},
                            axis == 0 && gaps});
        }
    const std::tuple<const char*, QString, ops::PosePart> parts[] = {
        {"arrange.matchPosition", tr("Match position"), ops::PosePart::Position},
        {"arrange.matchTurn", tr("Match turn"), ops::PosePart::Turn},
        {"arrange.matchSize", tr("Match size"), ops::PosePart::Size},
        {"arrange.matchHeight", tr("Match height"), ops::PosePart::Height}};
    for (const auto& [id, text, part] : parts)
        commands_->add({id,
                        menu,
                        text,
                        tr("Gives the others what the one selected last has"),
                        {},
                        [this, part = part] {
                            arrange("Match", [&](edit::Draft& d) { return ops::match(d, editor_.selection(), part); });
                        },
                        several,
                        {},
                        part == ops::PosePart::Position});
    commands_->add({"arrange.resetTurn",
                    menu,
                    tr("Reset turn"),
                    tr("No turn against the parent"),
                    {},
                    [this] {
                        arrange("Reset turn of", [&](edit::Draft& d) {
                            return ops::reset(d, editor_.selection(), ops::PosePart::Turn);
                        });
                    },
                    change,
                    {},
                    true});
    commands_->add({"arrange.resetSize",
                    menu,
                    tr("Reset size"),
                    tr("Size 1 along every axis"),
                    {},
                    [this] {
                        arrange("Reset size of", [&](edit::Draft& d) {
                            return ops::reset(d, editor_.selection(), ops::PosePart::Size);
                        });
                    },
                    change,
                    {}});
    commands_->add({"arrange.lattice",
                    menu,
                    tr("Onto the lattice"),
                    tr("Each position to the nearest multiple of the step in the world"),
                    {},
                    [this] {
                        const double step = editor_.step(render::Task::Slide).value;
                        arrange("Snap",
                                [&](edit::Draft& d) { return ops::snapToLattice(d, editor_.selection(), step); });
                    },
                    change,
                    {}});
}

}  // namespace app
