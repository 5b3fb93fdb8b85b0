#include "ops/push.h"

#include <fmt/format.h>

#include <cmath>

#include "ops/move.h"
#include "ops/names.h"
#include "query/sweep.h"

namespace ops {
namespace {

constexpr double kFarthest = 5000;  // metres

/// Those of `ids`, to be moved, and what may stop them.
query::Sweep sweepOf(const model::Scene& scene, const query::SceneIndex& index, const Ids& ids) {
    std::vector<Slot> slots;
    for (base::ObjectId id : ids) slots.push_back(scene.find(id));
    return {scene, index, slots, [&scene](Slot s) { return !scene.hiddenInTree(s); }};
}

}  // namespace

base::Result<Pushed> push(edit::Draft& draft, const query::SceneIndex& index, std::span<const base::ObjectId> ids,
                          const Vec3& direction) {
    const model::Scene& scene = draft.scene();
    const double length = glm::length(direction);
    if (!std::isfinite(length) || length < 1e-9)
        return base::fail(ErrorCode::BadInput, "A direction to push in is not three zeros.");
    auto mover = Mover::begin(scene, ids);
    if (!mover) return tl::unexpected(mover.error());
    const query::Sweep sweep = sweepOf(scene, index, mover->ids());
    if (sweep.empty())
        return base::fail(ErrorCode::NotFound,
                          fmt::format("Nothing of {} bumps into anything: it has no collision.", describe(scene, ids)));
    const auto stop = sweep.along(direction / length, kFarthest);
    if (!stop)
        return base::fail(ErrorCode::NotFound, fmt::format("Nothing is in the way of {}.", describe(scene, ids)));
    const Pushed pushed{stop->share * kFarthest, scene.id(stop->moved), scene.id(stop->on)};
    constexpr double kStands = 1e-7;  // metres: it touches already
    if (pushed.metres < kStands) return Pushed{0, pushed.moved, pushed.on};
    if (base::Status moved = mover->moveBy(draft, direction / length * pushed.metres); !moved)
        return tl::unexpected(moved.error());
    return pushed;
}

base::Result<Vec3> moveInContact(edit::Draft& draft, const query::SceneIndex& index,
                                 std::span<const base::ObjectId> ids, const Vec3& by) {
    if (!base::isFinite(by) || !(glm::length(by) <= kFarthest))
        return base::fail(ErrorCode::BadInput, "A way is up to 5,000 m long.");
    auto mover = Mover::begin(draft.scene(), ids);
    if (!mover) return tl::unexpected(mover.error());
    query::Sweep sweep = sweepOf(draft.scene(), index, mover->ids());
    const Vec3 came = sweep.go(Vec3(0.0), by);
    if (base::Status moved = mover->moveBy(draft, came); !moved) return tl::unexpected(moved.error());
    return came;
}

}  // namespace ops
