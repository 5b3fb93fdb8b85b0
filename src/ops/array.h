#pragma once
// Arrays: a group whose first child is repeated, by numbers that can be changed as long as it is not baked.
#include "model/array.h"
#include "model/facets/array.h"
#include "ops/objects.h"

namespace ops {

/// Errors: BadInput for numbers out of range, or more copies than can be.
base::Status usableArray(const model::Array& array);
/// What arrays begin with, by their shape.
std::array<model::Array, 4> usualArrays();

constexpr int kMostCopies = 10'000;

using model::countOf;
using model::placeInArray;

/// Puts objects (several: as one group) below a new group and repeats them; gives that group. Nothing but the copies
/// appears anew. A ring goes round `about` (world), its radius what lies between; without that the first one goes out
/// to the ring's radius. Errors: as group() and setArray(); BadInput when it stands in the middle itself.
base::Result<base::ObjectId> makeArray(edit::Draft& draft, std::span<const base::ObjectId> ids,
                                       const model::Array& array, const std::optional<base::Vec3>& about = {});

/// Lays the arrays along routes anew whose routes these are. Part of each change of them.
base::Status followRoutes(edit::Draft& draft, std::span<const base::ObjectId> routes);

/// Changes an array's numbers: copies come, go and move; those that stay keep their ids. One that was put elsewhere by
/// hand stays there, and where one was deleted none comes back. Errors: BadInput for numbers that cannot be; NotFound
/// for what is no array or has no first object; Refused if a copy is protected.
base::Status setArray(edit::Draft& draft, base::ObjectId id, const model::Array& array);

/// What in an array is not as its numbers and its first object say.
struct ArrayOddities {
    Ids changed;      ///< copies moved or changed by hand
    int missing = 0;  ///< deleted by hand
};
ArrayOddities arrayOddities(const model::Scene& scene, model::Slot slot);
/// Is it such a copy?
bool isOddCopy(const model::Scene& scene, model::Slot slot);
/// Makes all copies like the first object again, each at its place, also those that were deleted. Errors: as
/// setArray(); NotFound if none is an array.
base::Status alikeArray(edit::Draft& draft, std::span<const base::ObjectId> ids);

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
