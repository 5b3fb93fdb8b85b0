#include "ops/align.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "ops/move.h"

#include "base/tidy.h"
#include "ops/names.h"

namespace ops {
namespace {

/// What counts as an object's extent: its meshes and those below it, else its own point.
base::Aabb boxOf(const model::Scene& scene, base::ObjectId id) {
    const Slot s = scene.find(id);
    base::Aabb box = scene.subtreeBounds(s);
    if (box.empty()) box.add(scene.world(s).translation);
    return box;
}

constexpr const char* kTooFew = "Select at least two objects, or point at the one that the others are to follow.";

base::Result<Mover> beginWith(const model::Scene& scene, std::span<const base::ObjectId> ids, std::size_t least,
                              const char* sentence) {
    auto mover = Mover::begin(scene, ids);
    if (mover && mover->ids().size() < least) return fail(ErrorCode::Refused, sentence);
    return mover;
}

}  // namespace

Status align(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, query::BoxSide side,
             const Leader& leader) {
    const bool within = std::find(ids.begin(), ids.end(), leader.object) != ids.end();
    auto mover = beginWith(draft.scene(), ids, within ? 2 : 1, kTooFew);
    if (leader.object && draft.scene().find(leader.object) == kNoSlot)
        return fail(ErrorCode::NotFound, "What the others should follow is no longer there.");
    if (!mover) return tl::unexpected(mover.error());
    const double to = leader.object ? query::sideAt(boxOf(draft.scene(), leader.object), axis, side) : 0;
    std::vector<Vec3> offsets;
    for (base::ObjectId id : mover->ids()) {
        Vec3 offset(0.0);
        offset[axis] = to - query::sideAt(boxOf(draft.scene(), id), axis, side);
        offsets.push_back(offset);
    }
    return mover->moveEachBy(draft, offsets);
}

Status distribute(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, Spacing spacing) {
    auto mover = beginWith(draft.scene(), ids, 3, "Select at least three objects; the outermost two stay.");
    if (!mover) return tl::unexpected(mover.error());
    std::vector<base::Aabb> boxes;
    for (base::ObjectId id : mover->ids()) boxes.push_back(boxOf(draft.scene(), id));
    std::vector<std::size_t> order(boxes.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return boxes[a].centre()[axis] < boxes[b].centre()[axis]; });
    const auto gaps = static_cast<double>(order.size() - 1);
    const base::Aabb &first = boxes[order.front()], &last = boxes[order.back()];
    double total = 0;
    for (std::size_t i : order) total += boxes[i].size()[axis];
    const double gap = (last.high[axis] - first.low[axis] - total) / gaps;
    const double step = (last.centre()[axis] - first.centre()[axis]) / gaps;
    std::vector<Vec3> offsets(boxes.size(), Vec3(0.0));
    double low = first.low[axis];
    for (std::size_t i = 0; i < order.size(); ++i) {
        const base::Aabb& box = boxes[order[i]];
        const bool between = i > 0 && i + 1 < order.size();
        if (between)
            offsets[order[i]][axis] = spacing == Spacing::Gaps
                                          ? low - box.low[axis]
                                          : first.centre()[axis] + step * static_cast<double>(i) - box.centre()[axis];
        low += box.size()[axis] + gap;
    }
    return mover->moveEachBy(draft, offsets);
}

Status match(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part, base::ObjectId leader) {
    const model::Scene& scene = draft.scene();
    if (part == PosePart::Height) return align(draft, ids, 1, query::BoxSide::Low, {leader});
    auto mover = beginWith(scene, ids, 1, kTooFew);
    if (!mover) return tl::unexpected(mover.error());
    const Slot target = scene.find(leader);
    if (target == kNoSlot) return fail(ErrorCode::NotFound, "What the others should follow is no longer there.");
    if (mover->ids().size() == 1 && mover->ids().front() == leader) return fail(ErrorCode::Refused, kTooFew);
    std::vector<base::Transform> poses;
    for (base::ObjectId id : mover->ids()) {
        const Slot s = scene.find(id);
        base::Transform pose = scene.local(s);
        base::Affine toParent;
        if (scene.parent(s) != kNoSlot)
            if (auto inverse = base::inverse(scene.world(scene.parent(s)))) toParent = *inverse;
        if (part == PosePart::Position) pose.position = toParent.point(scene.world(target).translation);
        if (part == PosePart::Size) pose.scale = scene.local(target).scale;
        if (part == PosePart::Turn && s != target) {
            base::Affine turned;
            turned.linear = toParent.linear * glm::mat3_cast(base::toTransform(scene.world(target)).rotation);
            pose.rotation = base::toTransform(turned).rotation;
        }
        poses.push_back(base::tidied(pose, scene.local(s)));
    }
    return draft.setTransforms(mover->ids(), poses);
}

Status reset(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part) {
    auto mover = Mover::begin(draft.scene(), ids);
    if (!mover) return tl::unexpected(mover.error());
    if (part != PosePart::Turn && part != PosePart::Size)
        return fail(ErrorCode::Refused, "Only turn and size have something to go back to.");
    std::vector<base::Transform> poses;
    for (base::ObjectId id : mover->ids()) {
        base::Transform pose = draft.scene().local(draft.scene().find(id));
        if (part == PosePart::Turn) pose.rotation = base::Quat(1, 0, 0, 0);
        if (part == PosePart::Size) pose.scale = Vec3(1.0);
        poses.push_back(pose);
    }
    return draft.setTransforms(mover->ids(), poses);
}

namespace {

/// The pose of `id` before the newest step back from the present that moved it.
std::optional<base::Transform> previousPose(edit::Session& session, const std::string& scene, base::ObjectId id) {
    constexpr int kFarthest = 400;  // steps
    const edit::History& history = session.history();
    edit::StepId at = history.present();
    for (int i = 0; i < kFarthest && at != edit::kRoot; ++i, at = history.step(at)->parent) {
        if (!history.step(at)->touches(scene)) continue;
        const auto data = session.contents(at);
        if (!data) return std::nullopt;
        for (const auto& part : (*data)->changes)
            for (auto change = part.changes.rbegin(); change != part.changes.rend(); ++change)
                if (const auto* moved = std::get_if<model::SetTransforms>(&*change))
                    for (std::size_t k = 0; k < moved->ids.size(); ++k)
                        if (moved->ids[k] == id) return moved->before[k];
    }
    return std::nullopt;
}

}  // namespace

Status swapWithPrevious(edit::Draft& draft, std::span<const base::ObjectId> ids) {
    auto mover = Mover::begin(draft.scene(), ids);
    if (!mover) return tl::unexpected(mover.error());
    Ids changed;
    std::vector<base::Transform> poses;
    for (base::ObjectId id : mover->ids())
        if (const auto pose = previousPose(draft.session(), draft.scene().name(), id))
            changed.push_back(id), poses.push_back(*pose);
    if (changed.empty()) return fail(ErrorCode::NotFound, "None of it has been moved yet.");
    return draft.setTransforms(changed, poses);
}

Status snapToLattice(edit::Draft& draft, std::span<const base::ObjectId> ids, double step) {
    auto mover = Mover::begin(draft.scene(), ids);
    if (!mover) return tl::unexpected(mover.error());
    std::vector<Vec3> offsets;
    for (base::ObjectId id : mover->ids()) {
        const Vec3 at = draft.scene().world(draft.scene().find(id)).translation;
        offsets.push_back(Vec3(snapped(at.x, step), snapped(at.y, step), snapped(at.z, step)) - at);
    }
    return mover->moveEachBy(draft, offsets);
}

}  // namespace ops
