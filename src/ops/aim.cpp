#include "ops/aim.h"

#include <fmt/format.h>

#include <cmath>

#include "model/facets/camera.h"
#include "ops/names.h"
#include "ops/turned.h"

namespace ops {
namespace {

using base::Mat3;

/// The upright turn whose -Z is `way`.
Mat3 facing(const Vec3& way) {
    const double yaw = std::atan2(-way.x, -way.z), pitch = std::atan2(way.y, std::hypot(way.x, way.z));
    return glm::mat3_cast(glm::angleAxis(yaw, Vec3(0, 1, 0)) * glm::angleAxis(pitch, Vec3(1, 0, 0)));
}

/// The local pose that stands at `at` and faces `way`.
base::Transform facingPose(const model::Scene& scene, Slot slot, const Vec3& at, const Vec3& way) {
    base::Affine parent, toParent;
    if (scene.parent(slot) != kNoSlot) {
        parent = scene.world(scene.parent(slot));
        toParent = base::inverse(parent).value_or(base::Affine{});
    }
    const base::Affine& world = scene.world(slot);
    const Mat3 now = glm::mat3_cast(base::toTransform(world).rotation);
    base::Affine by;
    by.linear = facing(way) * glm::transpose(now);
    by.translation = at - by.linear * world.translation;
    return turnedBelow(scene.local(slot), parent, toParent, by);
}

}  // namespace

Status aim(edit::Draft& draft, std::span<const base::ObjectId> ids, const Vec3& point) {
    const model::Scene& scene = draft.scene();
    const Ids tops = topmost(scene, ids);
    std::vector<base::Transform> poses;
    for (base::ObjectId id : tops) {
        const Slot slot = scene.find(id);
        if (Status free = refuseMoving(scene, {&id, 1}, "turned"); !free) return free;
        const Vec3 at = scene.world(slot).translation, way = point - at;
        poses.push_back(glm::length(way) < 1e-9 ? scene.local(slot) : facingPose(scene, slot, at, glm::normalize(way)));
    }
    if (tops.empty()) return base::fail(base::ErrorCode::NotFound, "Nothing is selected.");
    return draft.setTransforms(tops, poses);
}

Status standAt(edit::Draft& draft, base::ObjectId id, const Vec3& from, const Vec3& to, double fieldOfViewDegrees) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id);
    if (slot == kNoSlot) return base::fail(base::ErrorCode::NotFound, "The object is no longer there.");
    if (Status free = refuseMoving(scene, {&id, 1}, "moved"); !free) return free;
    const base::Transform pose = facingPose(scene, slot, from, glm::normalize(to - from));
    if (Status done = draft.setTransforms({&id, 1}, {&pose, 1}); !done) return done;
    if (!scene.facet<model::Camera>(slot)) return {};
    model::Detail detail = *scene.detail(slot);
    detail.edit<model::Camera>().verticalDegrees = fieldOfViewDegrees;
    const model::DetailPtr changed = std::make_shared<const model::Detail>(std::move(detail));
    return draft.setDetails({&id, 1}, {&changed, 1});
}

}  // namespace ops
