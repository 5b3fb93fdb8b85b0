#pragma once
// Arrays: a group whose first child is repeated, by numbers that can be changed as long as it is not baked.
#include "ops/objects.h"

namespace ops {

constexpr int kMostCopies = 10'000;

/// How many objects an array has, the first one counted.
int countOf(const model::Array& array);

/// Where object `index` stands, given where the first would stand without the array: in the group's own axes.
base::Transform placeInArray(const model::Array& array, int index, const base::Transform& source);

/// Puts objects (several: as one group) below a new group and repeats them; gives that group. Nothing but the copies
/// appears anew, and with a ring the first one goes out to its radius. Errors: as group() and setArray().
base::Result<base::ObjectId> makeArray(edit::Draft& draft, std::span<const base::ObjectId> ids,
                                       const model::Array& array);

/// Changes an array's numbers: copies come, go and move; those that stay keep their ids. Errors: BadInput for numbers
/// that cannot be; NotFound for what is no array or has no first object; Refused if a copy is protected.
base::Status setArray(edit::Draft& draft, base::ObjectId id, const model::Array& array);

/// Makes plain groups of arrays: nothing moves, the numbers are gone. Errors: NotFound if none is an array.
base::Status bakeArray(edit::Draft& draft, std::span<const base::ObjectId> ids);

}  // namespace ops
