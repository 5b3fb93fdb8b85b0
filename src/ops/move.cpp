#include "ops/move.h"

#include <fmt/format.h>

#include <cmath>

namespace ops {

using base::ErrorCode;
using base::fail;
using model::kNoSlot;
using model::Slot;

base::Result<Mover> Mover::begin(const model::Scene& scene, std::span<const base::ObjectId> ids) {
    Mover mover;
    mover.ids_ = topmost(scene, ids);
    if (mover.ids_.empty()) return fail(ErrorCode::NotFound, "Nothing is selected.");
    base::Aabb box, points;
    for (base::ObjectId id : mover.ids_) {
        const Slot s = scene.find(id);
        if (scene.protectedInTree(s))
            return fail(ErrorCode::Refused, fmt::format("“{}” is protected and stays where it is.", scene.nameText(s)));
        mover.locals_.push_back(scene.local(s));
        base::Mat3 toParent(1.0);
        if (scene.parent(s) != kNoSlot)
            if (auto inv = base::inverse(scene.world(scene.parent(s)))) toParent = inv->linear;
        mover.worldToParent_.push_back(toParent);
        box.add(scene.subtreeBounds(s));
        points.add(scene.world(s).translation);
    }
    mover.start_ = box.empty() ? points.baseCentre() : box.baseCentre();
    return mover;
}

base::Status Mover::moveBy(edit::Draft& draft, const base::Vec3& by) const {
    std::vector<base::Transform> poses = locals_;
    for (std::size_t i = 0; i < poses.size(); ++i) poses[i].position += worldToParent_[i] * by;
    return draft.setTransforms(ids_, poses);
}

double snapped(double value, double step) {
    return step > 0 ? std::round(value / step) * step : value;
}

double poseField(const base::Transform& t, PoseField field) {
    const int i = static_cast<int>(field);
    if (i < 3) return t.position[i];
    if (i < 6) return base::toDegrees(t.rotation)[i - 3];
    return t.scale[i - 6];
}

base::Result<base::Transform> withPoseField(const base::Transform& t, PoseField field, double value) {
    const int i = static_cast<int>(field);
    base::Transform result = t;
    if (i < 3)
        result.position[i] = value;
    else if (i < 6) {
        base::Vec3 turn = base::toDegrees(t.rotation);
        turn[i - 3] = std::remainder(value, 360.0);
        result.rotation = base::fromDegrees(turn);
    } else {
        if (std::abs(value) < 1e-4)
            return fail(ErrorCode::BadInput, "A size of zero would make it vanish; 0.0001 is the smallest.");
        result.scale[i - 6] = value;
    }
    return result;
}

}  // namespace ops
