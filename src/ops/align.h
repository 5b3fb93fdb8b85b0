#pragma once
// Bringing objects in line with one another: align, distribute, match, reset. Groups go as one.
#include "ops/objects.h"
#include "query/flush.h"

namespace ops {

/// What the others are brought in line with: an object, one of them or another, or (without one) the world's zero.
struct Leader {
    base::ObjectId object;
};

/// Moves each along `axis` 0..2 (world) until its side is where the leader's is. Errors: Refused for too few or a
/// protected one; NotFound for a leader that is gone.
base::Status align(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, query::BoxSide side,
                   const Leader& leader);

enum class Spacing { Gaps, Centres };
/// The outermost two along `axis` stay; those between get equal gaps, or equal steps from centre to centre. Errors:
/// Refused for fewer than three or a protected one.
base::Status distribute(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, Spacing spacing);

enum class PosePart { Position, Turn, Size, Height };
/// Gives each the leader's position or turn in the world, its size, or its height: the bottom at the same level.
base::Status match(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part, base::ObjectId leader);

/// Turn to none or size to 1, in its parent. Errors: Refused for a protected one or another part.
base::Status reset(edit::Draft& draft, std::span<const base::ObjectId> ids, PosePart part);

/// Gives each the pose it had before its last change; again: back. Errors: NotFound when none was changed.
base::Status swapWithPrevious(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// Each object's position to the nearest multiple of `step` metres on the world's lattice.
base::Status snapToLattice(edit::Draft& draft, std::span<const base::ObjectId> ids, double step);

}  // namespace ops
