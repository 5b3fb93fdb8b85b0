#pragma once
// Several objects with meshes made one object of one item.
#include "ops/objects.h"

namespace ops {

/// An object whose mesh goes into the merged one.
struct Merging {
    base::Name item;
    base::Affine world;
    base::Vec3 tint{1.0};
};
/// What of a selection, and below it, has a mesh. Hidden objects too.
std::vector<Merging> toMerge(const model::Scene& scene, const model::Library& library,
                             std::span<const base::ObjectId> ids);

/// The axes of the merged mesh: at `basePoint`, turned as what is merged is turned, when all of it is turned alike, or
/// is one object; else the world's.
base::Transform mergeFrame(const model::Scene& scene, const model::Library& library,
                           std::span<const base::ObjectId> ids, const base::Vec3& basePoint);

/// Puts one object of `item` at `frame` (world) in the place of a selection. Lights and whatever else below has no mesh
/// go below the new object and stay where they are. Gives that object. Errors: NotFound; Refused for what is protected,
/// or has no mesh at all.
base::Result<base::ObjectId> replaceByMerged(edit::Draft& draft, std::span<const base::ObjectId> ids, base::Name item,
                                             std::string_view name, const base::Transform& frame);

}  // namespace ops
