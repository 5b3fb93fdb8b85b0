#pragma once
// What stands along routes: put there, repeated, moved on by lengths. Each writes through a draft, or refuses before
// anything is touched: NotFound, Refused for what is protected, has no route, or holds it, BadInput for what cannot be.
// Lengths are of the world, metres.
#include <string_view>

#include "model/facets/array.h"
#include "ops/broom.h"
#include "ops/facets.h"
#include "query/route.h"

namespace ops {

/// How things lie along a route.
struct Along {
    double from = 0;           ///< metres of the first
    double spacing = 0;        ///< metres between two; 0: evenly to its end (a closed one: round it)
    double aside = 0, up = 0;  ///< right of its way; above it
    bool turned = true;        ///< with the way, else as they are
    double turnDegrees = 0;    ///< besides, about up
    std::int64_t count = 0;    ///< of copies; 0: as many as there is room for
};
/// What of it is filled in.
const model::Fields& alongFields();
/// Objects are put on it, in the order given. Errors: BadInput where there is no room for all.
base::Status putAlong(edit::Draft& draft, base::ObjectId route, std::span<const base::ObjectId> ids,
                      const Along& along);
/// Copies of one object along it. It is itself the first of them, and put there. Gives all, in order.
base::Result<Ids> copyAlong(edit::Draft& draft, base::ObjectId route, base::ObjectId id, const Along& along);
constexpr std::size_t kMostAlong = 10'000;

/// An array along a route, below whose object it then lies: the first stands on it, so far aside (right of its way) and
/// above. They follow when the route changes. Errors: also those of makeArray() and setArray().
base::Result<base::ObjectId> makeArrayAlong(edit::Draft& draft, std::span<const base::ObjectId> ids,
                                            base::ObjectId route, const model::Array& array, double aside = 0,
                                            double up = 0);
/// The first of them stands so far along it then, the others as far from it as they were; each as far beside the way
/// and above it, and turned against it, as it was. Round a closed one, and not past the ends of an open one.
base::Status moveAlong(edit::Draft& draft, base::ObjectId route, std::span<const base::ObjectId> ids, double metres);
/// A place as it is written: "42", "42 m", "30 %", "half way", "start", "end"; "+2" and "-2" from where it is. Errors:
/// BadInput for what is none of these, or not on it.
base::Result<double> placeAlong(std::string_view written, const shape::Curve& curve, double now);

/// The broom from one end to the other, on what is below the route, so far to the right of it; nothing between is
/// missed.
base::Status sweepAlong(Broom& broom, const shape::Curve& curve, double radiusMetres, double aside,
                        const query::SceneIndex& index, const model::Scene& scene);

}  // namespace ops
