#pragma once
// Walking: feet on the ground, over steps, along walls.
#include <optional>

#include "model/project.h"
#include "query/scene_index.h"

namespace query {

/// Where feet stand at or below `point`: on the first surface down that is not too steep, at most `drop` metres below.
std::optional<base::Vec3> floorBelow(const model::Scene& scene, const SceneIndex& index, const base::Vec3& point,
                                     const model::Walker& walker, double drop, const SlotFilter& filter);

/// Where feet that stand at `from` come to when they go by `by` (its height does not count): up steps, down ledges,
/// along walls that they meet; nowhere over ground that is too steep or where there is none.
base::Vec3 walk(const model::Scene& scene, const SceneIndex& index, const base::Vec3& from, const base::Vec3& by,
                const model::Walker& walker, const SlotFilter& filter);

}  // namespace query
