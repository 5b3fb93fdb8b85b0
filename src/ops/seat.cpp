#include "ops/seat.h"

#include "base/tidy.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_set>

#include "ops/names.h"
#include "ops/turned.h"

namespace ops {
namespace {

/// One object on its way down.
struct Falling {
    base::ObjectId id;
    Slot slot;
    query::FallingBody body;
    base::Affine adjust;  // the tilt, in the world
};

void moveDown(query::FallingBody& body, double metres) {
    for (query::Triangle& t : body.triangles)
        for (Vec3& p : t) p.y -= metres;
    body.bounds.low.y -= metres;
    body.bounds.high.y -= metres;
}

/// The world map that leans an object so that its up follows the surface under its base point.
base::Affine tiltOf(const model::Scene& scene, const query::SceneIndex& index, Slot slot,
                    const query::SlotFilter& others) {
    base::Affine none;
    const base::Aabb box = scene.subtreeBounds(slot);
    if (box.empty()) return none;
    const auto hit = index.pick(scene, {{box.centre().x, box.high.y, box.centre().z}, {0, -1, 0}}, others);
    if (!hit) return none;
    base::Affine own;
    own.linear = scene.world(slot).linear;
    const Vec3 up = glm::normalize(base::toTransform(own).rotation * Vec3(0, 1, 0));
    const base::Mat3 lean = turnBetween(up, hit->normal);
    return lean == base::Mat3(1.0) ? none : turnAbout(box.baseCentre(), lean);
}

/// The local pose of `slot` when its world map becomes `adjust` times what it is, moved down.
base::Transform poseAfter(const model::Scene& scene, Slot slot, const base::Affine& adjust, double metres) {
    base::Affine parent, toParent, by = adjust;
    if (scene.parent(slot) != kNoSlot) {
        parent = scene.world(scene.parent(slot));
        toParent = base::inverse(parent).value_or(base::Affine{});
    }
    by.translation.y -= metres;
    return turnedBelow(scene.local(slot), parent, toParent, by);
}

}  // namespace

std::vector<SeatDrop> seatDrops(const model::Scene& scene, const query::SceneIndex& index,
                                std::span<const base::ObjectId> ids, const SeatOptions& options,
                                const std::function<bool()>& goesOn) {
    std::unordered_set<Slot> moving;
    std::vector<Falling> all;
    for (base::ObjectId id : topmost(scene, ids)) {
        const Slot slot = scene.find(id);
        for (Slot s : scene.subtree(slot)) moving.insert(s);
        all.push_back({id, slot, {}, {}});
    }
    const query::SlotFilter others = [&](Slot s) { return !moving.contains(s) && !scene.hiddenInTree(s); };
    const query::SceneIndex& falls = options.asSeen ? index.seen() : index.solid();
    const query::SceneIndex& onto = options.ontoSeen ? index.seen() : index.solid();
    for (Falling& f : all) {
        if (goesOn && !goesOn()) return {};
        if (options.tilt) f.adjust = tiltOf(scene, onto, f.slot, others);
        f.body = query::fallingBody(scene, falls, f.slot, f.adjust);
    }
    std::stable_sort(all.begin(), all.end(),
                     [](const Falling& a, const Falling& b) { return a.body.bounds.low.y < b.body.bounds.low.y; });
    std::vector<SeatDrop> drops;
    query::Settled settled;
    for (Falling& f : all) {
        if (goesOn && !goesOn()) return {};
        const auto fall = query::settle(f.body, scene, onto, others, options.out, settled);
        SeatDrop drop{f.id, fall.has_value(), 0, scene.local(f.slot)};
        if (fall) {
            constexpr double kStands = 1e-7;  // metres: it is where it comes to rest
            const double sunk = *fall + options.sinkMetres;
            drop.metres = std::abs(sunk) < kStands ? 0 : sunk;
            if (drop.metres != 0 || options.tilt)
                drop.pose = base::tidied(poseAfter(scene, f.slot, f.adjust, drop.metres), scene.local(f.slot));
            moveDown(f.body, drop.metres);
        }
        settled.add(f.body);
        drops.push_back(drop);
    }
    return drops;
}

base::Result<std::vector<SeatDrop>> seat(edit::Draft& draft, const query::SceneIndex& index,
                                         std::span<const base::ObjectId> ids, const SeatOptions& options) {
    const model::Scene& scene = draft.scene();
    if (base::Status free = refuseMoving(scene, topmost(scene, ids), "moved"); !free)
        return tl::unexpected(free.error());
    base::Status on;
    std::vector<SeatDrop> drops = seatDrops(scene, index, ids, options, [&] {
        on = draft.goOn();
        return on.has_value();
    });
    if (!on) return tl::unexpected(on.error());
    Ids moved;
    std::vector<base::Transform> poses;
    for (const SeatDrop& drop : drops)
        if (drop.supported) moved.push_back(drop.id), poses.push_back(drop.pose);
    if (moved.empty())
        return base::fail(
            base::ErrorCode::NotFound,
            drops.empty() ? "Nothing is selected." : fmt::format("There is nothing below {}.", describe(scene, ids)));
    if (auto written = draft.setTransforms(moved, poses); !written) return tl::unexpected(written.error());
    return drops;
}

std::optional<double> heightAboveSupport(const model::Scene& scene, const query::SceneIndex& index, Slot top,
                                         double enough) {
    const query::SlotFilter others = [&](Slot s) { return !scene.isWithin(s, top) && !scene.hiddenInTree(s); };
    return query::fallOntoScene(query::fallingBody(scene, index, top), scene, index, others, query::kFarthestFall,
                                enough);
}

}  // namespace ops
