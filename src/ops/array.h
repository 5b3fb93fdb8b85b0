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

/// What of an array can be pulled by the mouse.
struct ArrayGrip {
    enum class Pulls { Count, Spacing, Radius } pulls = Pulls::Count;
    int axis = 0;             ///< of a grid: along which of the array's own axes
    base::Vec3 at{0.0};       ///< where it is, world
    base::Vec3 through{0.0};  ///< the first object's place; it moves on a line, or a level plane, through this, world
    base::Vec3 along{0.0};    ///< the line's direction, world; zero: the plane
    friend bool operator==(const ArrayGrip&, const ArrayGrip&) = default;
};
/// Those of an array that repeats something; else none. Counts stand where the next copy would.
std::vector<ArrayGrip> arrayGrips(const model::Scene& scene, model::Slot slot);
/// The numbers of the array in `slot` once that grip was pulled to a world point; distances in steps of `stepMetres`
/// (0: none). Always within what setArray() takes.
model::Array pulledArray(const model::Scene& scene, model::Slot slot, const ArrayGrip& grip, const base::Vec3& to,
                         double stepMetres);

/// Makes plain groups of arrays: nothing moves, the numbers are gone. Errors: NotFound if none is an array.
base::Status bakeArray(edit::Draft& draft, std::span<const base::ObjectId> ids);

}  // namespace ops
