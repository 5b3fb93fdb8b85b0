#pragma once
// Pushing: objects go along a direction, as one, until they touch something by what others bump into.
#include "ops/objects.h"
#include "query/scene_index.h"

namespace ops {

struct Pushed {
    double metres = 0;
    base::ObjectId moved, on;  ///< what of them touches, and what it touches
};

/// `direction` in the world, of any length. What they lie in already does not stop them. Errors: BadInput for a
/// direction that is none; NotFound when nothing is selected, has a shape, or is in the way; Refused if one is
/// protected.
base::Result<Pushed> push(edit::Draft& draft, const query::SceneIndex& index, std::span<const base::ObjectId> ids,
                          const base::Vec3& direction);

/// Moves objects by `by`, as one, as far as they can go without entering anything, and along what stops them. Gives how
/// far they came. Errors: Refused if one is protected; NotFound if nothing is selected.
base::Result<base::Vec3> moveInContact(edit::Draft& draft, const query::SceneIndex& index,
                                       std::span<const base::ObjectId> ids, const base::Vec3& by);

}  // namespace ops
