#pragma once
// What of a light can be pulled in the view: its reach, and the cones of a spot.
#include "model/facets/light.h"
#include "ops/objects.h"

namespace ops {

struct LightGrip {
    enum class Pulls { Reach, Inner, Outer } pulls = Pulls::Reach;
    base::Vec3 at{0.0};     ///< world
    base::Vec3 along{0.0};  ///< unit length, world: of the reach; of a cone across the plane it is turned in
};
/// Empty: the object has no light.
std::vector<LightGrip> lightGrips(const model::Scene& scene, model::Slot slot);
/// The light once a grip was pulled to `to` (world): reach in steps of metres, cones of degrees. 0: no steps. The inner
/// cone is never wider than the outer.
model::Light pulledLight(const model::Scene& scene, model::Slot slot, const LightGrip& grip, const base::Vec3& to,
                         double stepMetres, double stepDegrees);
/// Errors: NotFound; Refused for what is protected.
base::Status setLight(edit::Draft& draft, base::ObjectId id, const model::Light& light);

}  // namespace ops
