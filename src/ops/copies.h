#pragma once
// Copies of objects, and mirror images.
#include "ops/objects.h"

namespace ops {

/// `count` copies of one object with all below it, after their siblings; poses as the original's. Names get the next
/// free numbers. Errors: NotFound.
base::Result<Ids> copyMany(edit::Draft& draft, base::ObjectId id, std::size_t count);

/// Copies, each moved and turned in the world as `by` says: pulling the same way once more. Errors: NotFound.
base::Result<Ids> copyMoved(edit::Draft& draft, std::span<const base::ObjectId> ids, const base::Affine& by);

/// The world motion (turn and move, no size) that brings pose `from` to pose `to`.
base::Affine motionBetween(const base::Affine& from, const base::Affine& to);

/// Mirrors objects about the plane through `point` across world axis 0..2. A turned thing becomes its mirror image:
/// one factor of its size changes sign. Errors: Refused if one is protected or would have to be sheared.
base::Status mirror(edit::Draft& draft, std::span<const base::ObjectId> ids, int axis, const base::Vec3& point);

}  // namespace ops
