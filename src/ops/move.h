#pragma once
// Moving, turning and sizing objects: the verbs behind the handle, the pose fields and the keys.
#include <optional>
#include <span>
#include <vector>

#include "edit/draft.h"
#include "ops/objects.h"

namespace ops {

/// Whose directions a handle uses. Size is always along the objects' own axes: along others it would shear them.
enum class AxesMode { World, Own, Parent, View };

/// What stays where it is in a turn or a change of size.
enum class PivotMode { Base, Centre, Each, Picked };

/// Objects being moved, turned or sized together, from where they stood when it began. Groups carry their children
/// along once. Every call starts from the first poses, so nothing adds up during a drag.
class Mover {
  public:
    /// Errors: Refused if one is protected; NotFound if none is left.
    static base::Result<Mover> begin(const model::Scene& scene, std::span<const base::ObjectId> ids);

    /// Puts each at its starting pose moved by `by`, in the world.
    base::Status moveBy(edit::Draft& draft, const base::Vec3& by) const;
    /// Each by an offset of its own, in the order of ids().
    base::Status moveEachBy(edit::Draft& draft, std::span<const base::Vec3> by) const;
    /// Turned about a world axis (unit length), right-handed. Below a parent of uneven size the turn is the nearest
    /// one that leaves the object's size as it is.
    base::Status turnBy(edit::Draft& draft, const base::Vec3& axis, double radians, PivotMode pivot) const;
    /// Sized by factors along its own axes. Factors stop where the kind's limits are. True when one did.
    base::Result<bool> sizeBy(edit::Draft& draft, const base::Vec3& factors, PivotMode pivot) const;

    /// Turned about the base of them all, then moved: what carrying does.
    base::Status carryTo(edit::Draft& draft, const base::Vec3& by, const base::Mat3& turn) const;

    const Ids& ids() const { return ids_; }
    /// The base centre of them all when it began, world.
    const base::Vec3& start() const { return base_; }
    /// What stays put for `mode`, world. Each: the base of them all, where the handle stands.
    base::Vec3 pivot(PivotMode mode) const;
    /// For PivotMode::Picked, world.
    void setPicked(const base::Vec3& point) { picked_ = point; }
    /// The box of them all when it began; a point where none has a mesh.
    const base::Aabb& bounds() const { return bounds_; }
    /// Directions as columns, unit length, right-handed; Own and Parent are those of the one selected last.
    base::Mat3 axes(AxesMode mode, const base::Mat3& view) const;
    /// The box of what is moved, along its own axes: an affine map from the unit cube (0 to 1), world. Of several, when
    /// all stand the same way. Nothing without a mesh.
    std::optional<base::Affine> ownBox(const model::Scene& scene, const model::Library& library) const;
    /// Length of the last selected object along its own axis 0..2, metres; 0 without a mesh.
    double ownSize(const model::Scene& scene, int axis, const model::Library& library) const;

  private:
    struct Object {
        base::Transform local;
        base::Affine parent, toParent;  ///< its parent's world map, and back
    };
    base::Status write(edit::Draft& draft, const std::vector<base::Transform>& poses) const;
    static base::Transform turned(const Object& object, const base::Mat3& turn, const base::Vec3& about);
    base::Vec3 ownPivot(const Object& object, PivotMode mode) const;

    Ids ids_;
    std::vector<Object> objects_;
    base::Aabb bounds_;
    base::Vec3 base_{0.0}, picked_{0.0};
};

/// Each by a motion of its own (a turn and a move, in the world) from where it stands, as one: what lies below another
/// of them ends where its own motion brings it. Sizes stay. Errors: Refused if one is protected; NotFound.
base::Status moveEach(edit::Draft& draft, std::span<const base::ObjectId> ids, std::span<const base::Affine> motions);

/// `value` at the nearest multiple of `step`; unchanged when `step` is 0.
double snapped(double value, double step);

/// One component of the poses' fields, 0..8: position x y z (metres), turn x y z (degrees), size x y z.
enum class PoseField { PositionX, PositionY, PositionZ, TurnX, TurnY, TurnZ, SizeX, SizeY, SizeZ };
double poseField(const base::Transform& t, PoseField field);
/// The pose with one field replaced. Errors: BadInput for a size of nearly zero.
base::Result<base::Transform> withPoseField(const base::Transform& t, PoseField field, double value);

}  // namespace ops
