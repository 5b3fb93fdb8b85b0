#pragma once
// What stands and falls as one, and how deep two of them are in one another. Any thread.
#include "check/rule.h"

namespace check {

/// The outermost ancestor of an object that is taken as one with it: an instance, a whole group, or something with a
/// mesh. Itself when there is none.
model::Slot unitOf(const model::Scene& scene, model::Slot slot);
/// Is it a unit with a mesh in it?
bool isUnit(const model::Scene& scene, model::Slot slot);

/// Is a point (the mesh's own axes) inside it? False for what is not closed there.
bool isInside(const query::MeshIndex& mesh, const base::Vec3& point);

/// Something closed, as `index` knows it, but `but` and what is in it, within which a point of the world lies; kNoSlot:
/// nothing.
model::Slot closedAround(const model::Scene& scene, const query::SceneIndex& index, const base::Vec3& point,
                         model::Slot but);

/// The box of all that is bumped into of a unit, world.
base::Aabb solidBounds(const model::Scene& scene, const query::SceneIndex& index, model::Slot unit);

/// How deep two units lie in one another as `index` knows them, metres, and where; nothing: they do not.
struct Overlap {
    double metres = 0;
    base::Vec3 at{0.0};
    base::Aabb box;  ///< of what lies inside
};
std::optional<Overlap> overlapOf(const model::Scene& scene, const query::SceneIndex& index, model::Slot a,
                                 model::Slot b);

}  // namespace check
