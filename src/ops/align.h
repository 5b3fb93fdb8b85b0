#pragma once
// Bringing objects in line with one another: align, distribute, match, reset. Groups go as one; the one selected last
// is what the others follow, and stays.
#include "ops/objects.h"
#include "query/flush.h"

namespace ops {

/// Moves each along `axis` 0..2 (world) until its side is where the last one's is. Errors: Refused for fewer than two
/// or a protected one.
base::Status align(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, query::BoxSide side);

enum class Spacing { Gaps, Centres };
/// The outermost two along `axis` stay; those between get equal gaps, or equal steps from centre to centre. Errors:
/// Refused for fewer than three or a protected one.
base::Status distribute(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, Spacing spacing);

enum class PosePart { Position, Turn, Size, Height };
/// Gives each the last one's position or turn in the world, its size, or its height: the bottom at the same level.
base::Status match(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part);

/// Turn to none or size to 1, in its parent. Errors: Refused for a protected one or another part.
base::Status reset(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part);

/// Each object's position to the nearest multiple of `step` metres on the world's lattice.
base::Status snapToLattice(edit::Draft& draft, std::span<const base::ObjectId> ids, double step);

}  // namespace ops
