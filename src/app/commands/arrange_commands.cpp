// Bringing objects in line: seating, aligning, spreading, matching.
#include <cmath>

#include "app/commands/all.h"
#include "app/commands/arranging.h"
#include "app/dialogs/popovers.h"
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/looks.h"
#include "app/view/view_widget.h"
#include "base/units.h"
#include "ops/align.h"
#include "ops/objects.h"
#include "ops/push.h"
#include "render/handle.h"

namespace app {

namespace {

using query::BoxSide;

class ArrangeCommands : public Arranging {
  public:
    explicit ArrangeCommands(Shell& shell);

  private:
    void addSeating();
    void addAligning();
    void addSpreading();
    void addMatching();
    base::ObjectId leader() const;
    void seatSunk();
    void addTurning();
    void addPushing();
    void turnRound(double degrees);
    base::Vec3 pushWay(int way) const;
    void push(int way);
};

ArrangeCommands::ArrangeCommands(Shell& shell) : Arranging(shell) {
    addSeating();
    addAligning();
    addSpreading();
    addMatching();
}

void ArrangeCommands::addSeating() {
    verb(
        "edit.seat", tr("Seat"), tr("Puts each selected object down on what is below it"), Qt::Key_T,
        [this] { editor_.seatSelected({}); }, changes());
    verb(
        "edit.seatLeaning", tr("Seat, leaning with the slope"),
        tr("Puts each selected object down, its up along the surface under it"), Qt::ALT | Qt::SHIFT | Qt::Key_T,
        [this] {
            ops::SeatOptions options;
            options.tilt = true;
            editor_.seatSelected(options);
        },
        changes());
    verb(
        "edit.seatBelow", tr("Seat below what it is in"),
        tr("Out of what it overlaps downwards, then onto what is below: under a shelf and not on it"),
        Qt::SHIFT | Qt::Key_T,
        [this] {
            ops::SeatOptions options;
            options.out = query::Way::Down;
            editor_.seatSelected(options);
        },
        changes());
    verb(
        "edit.seatSunk", tr("Seat and sink…"),
        tr("Puts each selected object down and into what carries it, by a depth"), {}, [this] { seatSunk(); },
        changes());
    toggle("edit.seatAsSeen", tr("Seat by what is seen"),
           tr("What falls is what one sees of it, not the shape that others bump into"), {}, &Tools::seatAsSeen);
    toggle("edit.seatOntoSeen", tr("Seat onto what is seen"),
           tr("What carries is what one sees, not the shapes that one bumps into"), {}, &Tools::seatOntoSeen);
    toggle("look.drops", tr("Show how far it would fall"),
           tr("At each selected object: its way down, and by collision shapes where that differs"),
           Qt::SHIFT | Qt::Key_D, &Looks::drops);
    toggle("edit.followSlopes", tr("Lean with surfaces"),
           tr("What is carried, or catches on a face, leans with the surface and keeps its heading"), Qt::Key_N,
           &Tools::followSlopes);
    toggle("edit.uniform", tr("Keep proportions"), tr("Sizing one axis sizes all of them"), Qt::Key_U, &Tools::uniform);
    toggle("edit.seatWhenPlacing", tr("Seat when placing"),
           tr("What is placed is put down by its lowest points, not by its base point"), {}, &Tools::seatWhenPlacing);
    addTurning();
    addPushing();
}

/// Of the selection, or of what is about to be placed.
void ArrangeCommands::addTurning() {
    const auto turns = [this] {
        return canEdit() && (hasSelection() || !editor_.placing().empty() || editor_.tools().tool == Tool::Lay);
    };
    for (const auto& [id, text, tip, key, degrees] :
         {std::tuple{"edit.halfTurn", tr("Turn half round"),
                     tr("By 180° about up: the selection, or what is placed or laid"), QKeySequence(Qt::Key_M), 180.0},
          {"edit.quarterLeft", tr("Quarter turn to the left"),
           tr("By 90° about up, anticlockwise from above: the selection, or what is placed"),
           QKeySequence(Qt::SHIFT | Qt::Key_M), 90.0},
          {"edit.quarterRight", tr("Quarter turn to the right"),
           tr("By 90° about up, clockwise from above: the selection, or what is placed"),
           QKeySequence(Qt::CTRL | Qt::Key_M), -90.0}})
        verb(
            id, text, tip, key, [this, degrees = degrees] { turnRound(degrees); }, turns);
    const auto places = [this] { return canEdit() && !editor_.placing().empty(); };
    for (const auto& [id, text, key, sign] :
         {std::tuple{"place.larger", tr("Place larger"), QKeySequence(Qt::Key_Plus), 1},
          {"place.smaller", tr("Place smaller"), QKeySequence(Qt::Key_Minus), -1}})
        verb(
            id, text, tr("By a step of sizing: what is about to be placed, and all after it"), key,
            [this, sign = sign] {
                PlacedAs placed = editor_.tools().placed;
                const double size = placed.size + sign * editor_.tools().step(render::Task::Fit).value;
                placed.size = std::round(std::clamp(size, 0.01, 100.0) * 1e4) / 1e4;
                editor_.change(&Tools::placed, placed);
            },
            places);
    verb(
        "place.asItIs", tr("Place as it is"), tr("What is about to be placed is not turned, sized or raised any more"),
        {}, [this] { editor_.change(&Tools::placed, PlacedAs{}); }, places);
}

void ArrangeCommands::addPushing() {
    const std::tuple<const char*, QString, QString, QKeySequence, int> ways[] = {
        {"push.down", tr("Push down"), tr("down"), QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_PageDown), 0},
        {"push.up", tr("Push up"), tr("up"), QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_PageUp), 1},
        {"push.left", tr("Push left"), tr("to the left in the view"), QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_Left),
         2},
        {"push.right", tr("Push right"), tr("to the right in the view"),
         QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_Right), 3},
        {"push.away", tr("Push away"), tr("away from you"), QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_Up), 4},
        {"push.nearer", tr("Push nearer"), tr("towards you"), QKeySequence(Qt::ALT | Qt::SHIFT | Qt::Key_Down), 5}};
    for (const auto& [id, text, where, key, way] : ways)
        verb(
            id, text,
            tr("The selection goes %1, along the nearest of the axes, until it touches what one bumps into").arg(where),
            key, [this, way = way] { push(way); }, changes());
    toggle("drag.contact", tr("Stop at contact"),
           tr("What is dragged stops at what it would enter, and slides along it; hold X to go through"),
           Qt::SHIFT | Qt::Key_X, &Tools::contact);
    toggle("drag.standing", tr("Take along what stands on it"), tr("What is dragged takes along what stands on it"), {},
           &Tools::takesStanding);
}

void ArrangeCommands::addAligning() {
    auto follows = [this] {
        const bool within =
            editor_.tools().leader == LeaderChoice::Last || editor_.tools().leader == LeaderChoice::First;
        return canEdit() && hasSelection() && (!within || editor_.selection().size() > 1);
    };
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
}

void ArrangeCommands::addSpreading() {
    auto three = [this] { return canEdit() && hasSelection() && editor_.selection().size() > 2; };
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
}

void ArrangeCommands::addMatching() {
    auto follows = [this] {
        const bool within =
            editor_.tools().leader == LeaderChoice::Last || editor_.tools().leader == LeaderChoice::First;
        return canEdit() && hasSelection() && (!within || editor_.selection().size() > 1);
    };
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
    for (const auto& [id, text, tip, whom] : leaders) choice(id, text, tip, {}, &Tools::leader, whom);
    for (const auto& [id, text, tip, part] :
         {std::tuple{"arrange.resetTurn", tr("Reset turn"), tr("No turn against the parent"), ops::PosePart::Turn},
          {"arrange.resetSize", tr("Reset size"), tr("Size 1 along every axis"), ops::PosePart::Size}})
        addArranging(
            id, text, tip, {}, text,
            [this, part = part](edit::Draft& d) { return ops::reset(d, editor_.selection(), part); }, changes());
    addArranging(
        "arrange.swap", tr("Swap with the previous pose"), tr("The pose before the last change; again: back"),
        Qt::CTRL | Qt::Key_Backspace, tr("Swap pose of"),
        [this](edit::Draft& d) { return ops::swapWithPrevious(d, editor_.selection()); }, changes());
    addArranging(
        "arrange.lattice", tr("Onto the lattice"), tr("Each position to the nearest multiple of the step in the world"),
        {}, tr("Snap"),
        [this](edit::Draft& d) {
            return ops::snapToLattice(d, editor_.selection(), editor_.tools().step(render::Task::Slide).value);
        },
        changes());
}

/// Whom the others follow, as it is set; none: the world's zero.
base::ObjectId ArrangeCommands::leader() const {
    const auto& ids = editor_.selection();
    switch (editor_.tools().leader) {
        case LeaderChoice::First: return ids.empty() ? base::ObjectId{} : ids.front();
        case LeaderChoice::Last: return ids.empty() ? base::ObjectId{} : ids.back();
        case LeaderChoice::Pointed: {
            const model::Slot under = view().context().pointedObject();
            return under != model::kNoSlot ? editor_.scene().id(under) : base::ObjectId{};
        }
        case LeaderChoice::World: break;
    }
    return {};
}

void ArrangeCommands::seatSunk() {
    new NamePopover(over(), tr("Seat, sunk by how much"), tr("Seat"), QStringLiteral("10 cm"), {},
                    [this](const QString& text, const QString&) {
                        auto depth = base::evaluateQuantity(base::typedIn(text.toStdString(), editor_.unit()),
                                                            base::Quantity::Length, 0.0);
                        if (!depth) return QString::fromStdString(depth.error().message);
                        if (std::abs(*depth) > 1000) return tr("A depth can be up to 1000 m.");
                        ops::SeatOptions options;
                        options.sinkMetres = *depth;
                        editor_.seatSelected(options);
                        return QString();
                    });
}

void ArrangeCommands::turnRound(double degrees) {
    if (!editor_.placing().empty()) {
        PlacedAs placed = editor_.tools().placed;
        placed.turnDegrees = std::remainder(placed.turnDegrees + degrees, 360.0);
        return editor_.change(&Tools::placed, placed);
    }
    if (editor_.tools().tool == Tool::Lay) {
        Laying laying = editor_.tools().laying;
        laying.quarters = ((laying.quarters + static_cast<int>(degrees / 90)) % 4 + 4) % 4;
        return editor_.change(&Tools::laying, laying);
    }
    auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) {
        editor_.report(tl::unexpected(mover.error()));
        return;
    }
    mover->setPicked(editor_.tools().pickedPivot);
    const std::string how = std::abs(degrees) > 90 ? " half round"
                            : degrees > 0          ? " a quarter left"
                                                   : " a quarter right";
    editor_.run("Turn " + ops::describe(editor_.scene(), mover->ids()) + how, [&](edit::Draft& draft) {
        return mover->turnBy(draft, {0, 1, 0}, base::radians(degrees), editor_.tools().pivot);
    });
}

/// A direction along one of the axes that are set, nearest to what the view calls so.
base::Vec3 ArrangeCommands::pushWay(int way) const {
    const auto mover = ops::Mover::begin(editor_.scene(), editor_.selection());
    if (!mover) return base::Vec3(0.0);
    const render::Camera& camera = view().context().camera;
    const base::Vec3 up(0, 1, 0);
    const base::Vec3 ahead = camera.isFlat() ? camera.up() : glm::cross(up, camera.right());
    const base::Vec3 wanted = way < 2 ? up : way < 4 ? camera.right() : ahead;
    const base::Mat3 axes =
        mover->axes(editor_.tools().axes, base::Mat3{camera.right(), camera.up(), -camera.forward()});
    int best = 0;
    for (int k = 1; k < 3; ++k)
        if (std::abs(glm::dot(axes[k], wanted)) > std::abs(glm::dot(axes[best], wanted))) best = k;
    const bool against = way == 0 || way == 2 || way == 5;
    const double sign = (glm::dot(axes[best], wanted) < 0) != against ? -1 : 1;
    return axes[best] * sign;
}

void ArrangeCommands::push(int way) {
    if (editor_.sight().index() == nullptr) return editor_.say(tr("The scene is still being taken in."));
    std::optional<ops::Pushed> pushed;
    const bool done = editor_.run(
        "Push " + ops::describe(editor_.scene(), editor_.selection()), [&](edit::Draft& draft) -> base::Status {
            auto now = ops::push(draft, *editor_.sight().index(), editor_.selection(), pushWay(way));
            if (!now) return tl::unexpected(now.error());
            pushed = *now;
            return {};
        });
    if (!done || !pushed) return;
    const QString on = toQt(editor_.scene().nameText(editor_.scene().find(pushed->on)));
    editor_.say(pushed->metres == 0 ? tr("It touches “%1” already.").arg(on)
                                    : tr("%1, to “%2”.").arg(editor_.length(pushed->metres, 3), on));
}

}  // namespace

RowsPtr arrangeCommands(Shell& shell) {
    return std::make_unique<ArrangeCommands>(shell);
}

}  // namespace app
