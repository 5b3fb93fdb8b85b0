#pragma once
// Rows: what comes next after like things, and pieces side by side.
#include <optional>

#include "ops/objects.h"

namespace ops {

/// Are two objects of the same item or prefab, kind and size, with as much below them?
bool areAlike(const model::Scene& scene, model::Slot a, model::Slot b);

/// How the second of two like sets of objects came from the first, in the world, so that a third can come from the
/// second; nothing: they are not alike, not moved alike, or in one place.
std::optional<base::Affine> motionOfRow(const model::Scene& scene, std::span<const base::ObjectId> first,
                                        std::span<const base::ObjectId> second);

/// Places for pieces of an item side by side from one of them on, along that of its own level axes that is nearest to
/// `way` (world): as many as fit into its length, at least the first one.
std::vector<Placement> sideBySide(const model::Item& item, const Placement& first, const base::Vec3& way,
                                  std::size_t most = 1000);

}  // namespace ops
