#pragma once
// Groups: an object without a mesh or facets of its own, whose children go with it.
#include "ops/objects.h"

namespace ops {

/// Nothing but a place for others: no item, no facet, no property.
bool isBareGroup(const model::Scene& scene, model::Slot slot);

/// What a group of these would be called: "Lanterns, 4", "Stone blocks, 2", "Group of 3".
std::string groupName(const model::Scene& scene, std::span<const base::ObjectId> ids);

/// Puts objects below a new group that a click takes as one. It stands where the first of them stood in the tree, its
/// pivot at the base centre of them all; nothing moves. Errors: NotFound if nothing is left; Refused if one is
/// protected, or would have to be sheared.
base::Result<base::ObjectId> group(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string_view name);

struct Ungrouping {
    bool nested = false;   ///< the groups within as well
    bool nearest = false;  ///< where keeping a pose would take a shear: the nearest pose, instead of refusing
};
/// Puts the children of groups in their place and removes the groups; gives the children. They keep their world poses.
/// Errors: NotFound; Refused for what is more than a group, is protected, or (BadInput) would take a shear.
base::Result<Ids> ungroup(edit::Draft& draft, std::span<const base::ObjectId> ids, const Ungrouping& how = {});

/// Groups with nothing in them, in tree order.
Ids emptyGroups(const model::Scene& scene);

}  // namespace ops
