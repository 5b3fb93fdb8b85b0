// The tool in the hand and how it works: steps, axes, what is placed, seated, drawn and swept.
#include <algorithm>
#include <cmath>

#include "app/shell/editor.h"
#include "base/text.h"
#include "model/facets/solid.h"

namespace app {

using base::Status;
using model::Slot;

namespace {

constexpr std::size_t kMostRecent = 24;

}  // namespace

void Editor::setTheme(const Theme& theme) {
    theme_ = &theme;
    Q_EMIT themeChanged();
}

void Editor::setLooks(const Looks& looks) {
    if (looks == looks_) return;
    looks_ = looks;
    Q_EMIT shownChanged();
}

void Editor::setTool(Tool tool) {
    tool_ = tool;
    setPlacing({});
    Q_EMIT toolChanged();
}

render::Task Editor::activeTask() const {
    return tool_ == Tool::Dial ? render::Task::Turn : tool_ == Tool::Fit ? render::Task::Fit : render::Task::Slide;
}

void Editor::setStep(render::Task task, StepSetting setting) {
    steps_[task == render::Task::None ? 0 : static_cast<std::size_t>(task) - 1] = setting;
    Q_EMIT toolChanged();
}

render::Steps Editor::activeSteps(double share) const {
    if (fine_) share *= 0.1;
    auto value = [&](std::size_t i) { return steps_[i].on ? steps_[i].value * share : 0.0; };
    return {value(0), value(1), value(2), onLattice_};
}

void Editor::setAxesMode(ops::AxesMode mode) {
    axesMode_ = mode;
    Q_EMIT toolChanged();
}

void Editor::setPivotMode(ops::PivotMode mode) {
    pivotMode_ = mode;
    Q_EMIT toolChanged();
}

void Editor::pickPivot(const base::Vec3& point) {
    pickedPivot_ = point;
    setPivotMode(ops::PivotMode::Picked);
}

void Editor::setPlacing(const std::string& item) {
    if (item == placing_) return;
    placing_ = item;
    Q_EMIT placingChanged();
}

bool Editor::placeAt(const std::string& item, const base::Vec3& position) {
    ops::Placement placement;
    placement.item = session().intern(item);
    placement.position = position;
    placement.parent = entered();
    const model::Item* info = session().library().item(placement.item);
    recent_.erase(std::remove(recent_.begin(), recent_.end(), item), recent_.end());
    recent_.insert(recent_.begin(), item);
    if (recent_.size() > kMostRecent) recent_.pop_back();
    return run("Place " + (info != nullptr ? info->label : item), [&](edit::Draft& draft) -> Status {
        // From the session's own chance, and what came of it is in the step: redo is exact.
        auto id = varying_.on ? ops::placeByChance(draft, placement, varying_, session().random())
                              : ops::place(draft, placement);
        if (!id) return tl::unexpected(id.error());
        session().select({*id});
        // On what is there; over nothing the item stays on the lattice.
        if (seatWhenPlacing_ && index_) (void)ops::seat(draft, *index_, {&*id, 1}, {});
        return {};
    });
}

void Editor::setVarying(const Varying& varying) {
    varying_ = varying;
    Q_EMIT toolChanged();
}

void Editor::cycleVariation(int by) {
    const auto all = ops::variationsOf(workspace_->session->library(), placing_);
    if (placing_.empty() || all.size() < 2)
        return say(tr("This item has no siblings: others of its name with another number."));
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    const auto at = std::find(all.begin(), all.end(), placing_) - all.begin();
    setPlacing(all[static_cast<std::size_t>((at + by + count) % count)]);
}

bool Editor::replaceSelected(const std::string& item) {
    const std::vector<base::ObjectId> ids = selection();
    const model::Item* info = session().library().item(session().intern(item));
    ops::Replaced told;
    const bool done = run("Replace " + ops::describe(*scene_, ids), [&](edit::Draft& draft) -> Status {
        auto replaced = ops::replaceItem(draft, ids, session().intern(item), surfacesGo_);
        if (!replaced) return tl::unexpected(replaced.error());
        told = *replaced;
        return {};
    });
    if (!done) return false;
    QStringList differs;
    for (int k = 0; k < 3; ++k)
        if (std::abs(told.sizeFactor[k] - 1) > 0.005)
            differs << tr("%1 × %2").arg(QString("XYZ").mid(k, 1)).arg(told.sizeFactor[k], 0, 'f', 2);
    if (std::abs(told.baseMetres) > 0.001)
        differs << tr("its base %1 m %2")
                       .arg(std::abs(told.baseMetres), 0, 'f', 2)
                       .arg(told.baseMetres > 0 ? tr("lower") : tr("higher"));
    if (told.idleSurfaces > 0)
        differs << tr("%1 without effect").arg(counted(told.idleSurfaces, tr("surface"), tr("surfaces")));
    say(differs.isEmpty()
            ? tr("Replaced by %1.").arg(QString::fromStdString(info->label))
            : tr("Replaced by %1; different: %2.").arg(QString::fromStdString(info->label), differs.join(", ")));
    return true;
}

void Editor::setSeatWhenPlacing(bool on) {
    seatWhenPlacing_ = on;
    Q_EMIT toolChanged();
}

void Editor::setSelecting(const Selecting& how) {
    selecting_ = how;
    Q_EMIT toolChanged();
}

void Editor::setCatching(const Catching& catching) {
    catching_ = catching;
    Q_EMIT toolChanged();
}

void Editor::setFollowSlopes(bool on) {
    followSlopes_ = on;
    Q_EMIT toolChanged();
}

void Editor::setUniform(bool on) {
    uniform_ = on;
    Q_EMIT toolChanged();
}

void Editor::setOnLattice(bool on) {
    onLattice_ = on;
    Q_EMIT toolChanged();
}

void Editor::setFine(bool on) {
    fine_ = on;
    Q_EMIT toolChanged();
}

void Editor::setSeatByCollision(bool on) {
    seatByCollision_ = on;
    Q_EMIT toolChanged();
}

void Editor::setSeatOntoCollision(bool on) {
    seatOntoCollision_ = on;
    Q_EMIT toolChanged();
}

void Editor::setLeader(LeaderChoice leader) {
    leader_ = leader;
    Q_EMIT toolChanged();
}

void Editor::setSolidShape(model::Solid::Shape shape) {
    solidShape_ = shape;
    Q_EMIT toolChanged();
}

void Editor::setPullsLinked(bool on) {
    pullsLinked_ = on;
    Q_EMIT toolChanged();
}

void Editor::setDrawsOn(bool on) {
    drawsOn_ = on;
    Q_EMIT toolChanged();
}

void Editor::setBroom(const ops::BroomSettings& broom) {
    broom_ = broom;
    Q_EMIT toolChanged();
}

void Editor::setCatchFlush(bool on) {
    catchFlush_ = on;
    Q_EMIT toolChanged();
}

bool Editor::seatSelected(const ops::SeatOptions& options) {
    if (!isOpen()) return false;
    if (!index_)
        return report(
            base::fail(base::ErrorCode::Refused, "Where things are is still being worked out; try again in a moment."));
    std::vector<ops::SeatDrop> drops;
    const bool done = run("Seat " + ops::describe(*scene_, selection()), [&](edit::Draft& draft) -> Status {
        const query::SceneIndex* shapes = seatByCollision_ ? collision() : index_.get();
        ops::SeatOptions onto = options;
        onto.onto = seatOntoCollision_ ? collision() : index_.get();
        auto seated = ops::seat(draft, *shapes, selection(), onto);
        if (!seated) return tl::unexpected(seated.error());
        drops = std::move(*seated);
        return {};
    });
    std::string left;
    for (const ops::SeatDrop& drop : drops)
        if (!drop.supported) left += (left.empty() ? "" : ", ") + std::string(scene_->nameText(scene_->find(drop.id)));
    if (done && !left.empty()) say(tr("Nothing is below %1: left where it is.").arg(QString::fromStdString(left)));
    return done;
}

}  // namespace app
