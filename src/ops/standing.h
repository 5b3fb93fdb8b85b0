#pragma once
// What stands on what, by what others bump into.
#include "ops/objects.h"
#include "query/scene_index.h"

namespace ops {

/// What carries an object: the topmost object that it would first come to rest on, within `enough` metres below it;
/// zero: nothing.
base::ObjectId supportOf(const model::Scene& scene, const query::SceneIndex& index, model::Slot slot,
                         double enough = 0.01);

/// Those that stand on `ids`, and on these in turn, each of them topmost in its own group; without `ids` themselves and
/// what is in them. Hidden and protected ones stay out.
Ids standingOn(const model::Scene& scene, const query::SceneIndex& index, std::span<const base::ObjectId> ids);

}  // namespace ops
