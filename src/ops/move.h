#pragma once
// Moving objects: the verbs behind the handle, the pose fields and the keys.
#include <span>
#include <vector>

#include "edit/draft.h"
#include "ops/objects.h"

namespace ops {

/// Objects being moved together, from where they stood when it began. Groups carry their children along once.
class Mover {
  public:
    /// Errors: Refused if one is protected; NotFound if none is left.
    static base::Result<Mover> begin(const model::Scene& scene, std::span<const base::ObjectId> ids);

    /// Puts each at its starting pose moved by `by`, in the world. Call as often as wanted during a drag.
    base::Status moveBy(edit::Draft& draft, const base::Vec3& by) const;

    const Ids& ids() const { return ids_; }
    /// The base centre of them all when it began, world.
    const base::Vec3& start() const { return start_; }

  private:
    Ids ids_;
    std::vector<base::Transform> locals_;
    std::vector<base::Mat3> worldToParent_;
    base::Vec3 start_{0.0};
};

/// `value` at the nearest multiple of `step`; unchanged when `step` is 0.
double snapped(double value, double step);

/// One component of the poses' fields, 0..8: position x y z (metres), turn x y z (degrees), size x y z.
enum class PoseField { PositionX, PositionY, PositionZ, TurnX, TurnY, TurnZ, SizeX, SizeY, SizeZ };
double poseField(const base::Transform& t, PoseField field);
/// The pose with one field replaced. Errors: BadInput for a size of nearly zero.
base::Result<base::Transform> withPoseField(const base::Transform& t, PoseField field, double value);

}  // namespace ops
