// What stands where: seat, turn, align, spread evenly, match, reset.
#include <cmath>

#include "app/dialogs/popovers.h"
#include "app/shell/main_window.h"
#include "base/units.h"
#include "ops/align.h"

namespace app {

using query::BoxSide;

namespace {

constexpr std::size_t kMostPreviewed = 2000;

}  // namespace

/// A command that arranges the selection. While it is pointed at in the menu the view shows what it would do.
void MainWindow::addArranging(const char* id, const QString& text, const QString& tip, const QKeySequence& keys,
                              const QString& verb, const std::function<base::Status(edit::Draft&)>& act,
                              const std::function<bool()>& enabled) {
    commands_->add({id, text, tip, keys,
                    [this, verb, act] {
                        preview_.reset();
                        editor_.run(verb.toStdString() + " " + ops::describe(editor_.scene(), editor_.selection()),
                                    act);
                    },
                    enabled});
    QAction* action = commands_->action(id);
    connect(action, &QAction::hovered, this, [this, action, act] {
        preview_.reset();
        if (!action->isEnabled() || editor_.selection().size() > kMostPreviewed) return;
        preview_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Preview");
        if (!preview_->state() || !act(*preview_)) preview_.reset();
    });
}

/// Whom the others follow, as it is set; none: the world's zero.
base::ObjectId MainWindow::leader() const {
    const auto& ids = editor_.selection();
    switch (editor_.tools().leader) {
        case LeaderChoice::First: return ids.empty() ? base::ObjectId{} : ids.front();
        case LeaderChoice::Last: return ids.empty() ? base::ObjectId{} : ids.back();
        case LeaderChoice::Pointed: {
            const model::Slot under = view_->context().pointedObject();
            return under != model::kNoSlot ? editor_.scene().id(under) : base::ObjectId{};
        }
        case LeaderChoice::World: break;
    }
    return {};
}

void MainWindow::seatSunk() {
    new NamePopover(this, tr("Seat, sunk by how much"), tr("Seat"), QStringLiteral("10 cm"), {},
                    [this](const QString& text, const QString&) {
                        auto depth = base::evaluateQuantity(text.toStdString(), base::Quantity::Length, 0.0);
                        if (!depth) return QString::fromStdString(depth.error().message);
                        if (std::abs(*depth) > 1000) return tr("A depth can be up to 1000 m.");
                        ops::SeatOptions options;
                        options.sinkMetres = *depth;
                        editor_.seatSelected(options);
                        return QString();
                    });
}

void MainWindow::addArrangeCommands() {
    auto change = [this] { return canEdit() && hasSelection(); };
    auto follows = [this] {
        const bool within =
            editor_.tools().leader == LeaderChoice::Last || editor_.tools().leader == LeaderChoice::First;
        return canEdit() && hasSelection() && (!within || editor_.selection().size() > 1);
    };
    auto three = [this] { return canEdit() && hasSelection() && editor_.selection().size() > 2; };
    commands_->add({"edit.seat", tr("Seat"), tr("Puts each selected object down on what is below it"), Qt::Key_T,
                    [this] { editor_.seatSelected({}); }, change});
    commands_->add({"edit.seatLeaning", tr("Seat, leaning with the slope"),
                    tr("Puts each selected object down, its up along the surface under it"),
                    Qt::ALT | Qt::SHIFT | Qt::Key_T,
                    [this] {
                        ops::SeatOptions options;
                        options.tilt = true;
                        editor_.seatSelected(options);
                    },
                    change});
    commands_->add({"edit.seatBelow", tr("Seat below what it is in"),
                    tr("Out of what it overlaps downwards, then onto what is below: under a shelf and not on it"),
                    Qt::SHIFT | Qt::Key_T,
                    [this] {
                        ops::SeatOptions options;
                        options.out = query::Way::Down;
                        editor_.seatSelected(options);
                    },
                    change});
    commands_->add({"edit.seatSunk",
                    tr("Seat and sink…"),
                    tr("Puts each selected object down and into what carries it, by a depth"),
                    {},
                    [this] { seatSunk(); },
                    change});
    commands_->add({"edit.seatByCollision",
                    tr("Seat with collision shapes"),
                    tr("What falls is the shape one bumps into, not what one sees"),
                    {},
                    [this] { editor_.change(&Tools::seatByCollision, !editor_.tools().seatByCollision); },
                    {},
                    [this] { return editor_.tools().seatByCollision; }});
    commands_->add({"edit.seatOntoCollision",
                    tr("Seat onto collision shapes"),
                    tr("What carries are the shapes one bumps into, not what one sees"),
                    {},
                    [this] { editor_.change(&Tools::seatOntoCollision, !editor_.tools().seatOntoCollision); },
                    {},
                    [this] { return editor_.tools().seatOntoCollision; }});
    commands_->add({"look.drops",
                    tr("Show how far it would fall"),
                    tr("At each selected object: its way down, and by collision shapes where that differs"),
                    Qt::SHIFT | Qt::Key_D,
                    [this] { changeLooks([](Looks& l) { l.drops = !l.drops; }); },
                    {},
                    [this] { return editor_.looks().drops; }});
    commands_->add({"edit.followSlopes",
                    tr("Lean with surfaces"),
                    tr("What is carried, or catches on a face, leans with the surface and keeps its heading"),
                    Qt::Key_N,
                    [this] { editor_.change(&Tools::followSlopes, !editor_.tools().followSlopes); },
                    {},
                    [this] { return editor_.tools().followSlopes; }});
    commands_->add({"edit.uniform",
                    tr("Keep proportions"),
                    tr("Sizing one axis sizes all of them"),
                    Qt::Key_U,
                    [this] { editor_.change(&Tools::uniform, !editor_.tools().uniform); },
                    {},
                    [this] { return editor_.tools().uniform; }});
    commands_->add({"edit.seatWhenPlacing",
                    tr("Seat when placing"),
                    tr("What is placed is put down by its lowest points, not by its base point"),
                    {},
                    [this] { editor_.change(&Tools::seatWhenPlacing, !editor_.tools().seatWhenPlacing); },
                    {},
                    [this] { return editor_.tools().seatWhenPlacing; }});
    commands_->add({"edit.halfTurn", tr("Turn half round"), tr("Turns the selection by 180° about its up axis"),
                    Qt::Key_M, [this] { halfTurn(); }, change});
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
        addArranging(
            id, text, tr("Moves the others along the world’s axis to where the one they follow is"), {}, tr("Align"),
            [this, axis = axis, side = side](edit::Draft& d) -> base::Status {
                const base::ObjectId to = leader();
                if (!to && editor_.tools().leader != LeaderChoice::World)
                    return base::fail(base::ErrorCode::NotFound, "Point at the object to follow first.");
                return ops::align(d, editor_.selection(), axis, side, {to});
            },
            follows);
    const QString ways[] = {tr("left to right"), tr("in height"), tr("north to south")};
    for (int axis = 0; axis < 3; ++axis)
        for (const auto spacing : {ops::Spacing::Gaps, ops::Spacing::Centres}) {
            const bool gaps = spacing == ops::Spacing::Gaps;
            const QByteArray id = QString("arrange.%1%2").arg(gaps ? "gaps" : "centres").arg("XYZ"[axis]).toUtf8();
            addArranging(
                id.constData(), (gaps ? tr("Even gaps, %1") : tr("Even steps, %1")).arg(ways[axis]),
                gaps ? tr("The outermost two stay, those between get equal gaps")
                     : tr("The outermost two stay, the middles of those between get equal distances"),
                {}, tr("Spread evenly"),
                [this, axis, spacing](edit::Draft& d) {
                    return ops::distribute(d, editor_.selection(), axis, spacing);
                },
                three);
        }
    const std::tuple<const char*, QString, ops::PosePart> parts[] = {
        {"arrange.matchPosition", tr("Match position"), ops::PosePart::Position},
        {"arrange.matchTurn", tr("Match turn"), ops::PosePart::Turn},
        {"arrange.matchSize", tr("Match size"), ops::PosePart::Size},
        {"arrange.matchHeight", tr("Match height"), ops::PosePart::Height}};
    for (const auto& [id, text, part] : parts)
        addArranging(
            id, text, tr("Gives the others what the one they follow has"), {}, tr("Match"),
            [this, part = part](edit::Draft& d) { return ops::match(d, editor_.selection(), part, leader()); },
            follows);
    const std::tuple<const char*, QString, QString, LeaderChoice> leaders[] = {
        {"arrange.followLast", tr("Follow the one selected last"), tr("Aligning and matching go by it; it stays"),
         LeaderChoice::Last},
        {"arrange.followFirst", tr("Follow the one selected first"), tr("Aligning and matching go by it; it stays"),
         LeaderChoice::First},
        {"arrange.followPointed", tr("Follow the one under the pointer"),
         tr("Point at it in the view, then use a key or the find field; from the menu the last one pointed at"),
         LeaderChoice::Pointed},
        {"arrange.followWorld", tr("Follow the world’s zero"), tr("Aligning goes to 0 along the axis"),
         LeaderChoice::World}};
    for (const auto& [id, text, tip, choice] : leaders)
        commands_->add({id,
                        text,
                        tip,
                        {},
                        [this, choice = choice] { editor_.change(&Tools::leader, choice); },
                        {},
                        [this, choice = choice] { return editor_.tools().leader == choice; }});
    for (const auto& [id, text, tip, part] :
         {std::tuple{"arrange.resetTurn", tr("Reset turn"), tr("No turn against the parent"), ops::PosePart::Turn},
          {"arrange.resetSize", tr("Reset size"), tr("Size 1 along every axis"), ops::PosePart::Size}})
        addArranging(
            id, text, tip, {}, text,
            [this, part = part](edit::Draft& d) { return ops::reset(d, editor_.selection(), part); }, change);
    addArranging(
        "arrange.swap", tr("Swap with the previous pose"), tr("The pose before the last change; again: back"),
        Qt::CTRL | Qt::Key_Backspace, tr("Swap pose of"),
        [this](edit::Draft& d) { return ops::swapWithPrevious(d, editor_.selection()); }, change);
    addArranging(
        "arrange.lattice", tr("Onto the lattice"), tr("Each position to the nearest multiple of the step in the world"),
        {}, tr("Snap"),
        [this](edit::Draft& d) {
            return ops::snapToLattice(d, editor_.selection(), editor_.tools().step(render::Task::Slide).value);
        },
        change);
}

}  // namespace app
