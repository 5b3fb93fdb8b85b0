#pragma once
// The designer's verbs on routes. Each writes through a draft, or refuses before anything is touched: NotFound, Refused
// for what is protected or has no route, BadInput for what cannot be. Points are counted from 0; places and lengths
// are of the world, metres.
#include "model/facets/route.h"
#include "ops/facets.h"
#include "query/route.h"
#include "query/scene_index.h"

namespace ops {

/// Of an object that is there and has one; else why not.
base::Result<const model::Route*> routeOf(const model::Scene& scene, base::ObjectId id);
/// A new object whose route goes through `places`, standing at the first. Errors: BadInput for fewer than two.
base::Result<base::ObjectId> addRoute(edit::Draft& draft, std::span<const base::Vec3> places, bool closed,
                                      base::ObjectId parent = {});
/// Changes a route as a whole. Errors: also what `change` says, and a route that cannot be.
base::Status changeRoute(edit::Draft& draft, base::ObjectId id,
                         const std::function<base::Status(model::Slot, model::Route&)>& change);

/// One more point at its end, or before its beginning.
base::Status extendRoute(edit::Draft& draft, base::ObjectId id, const base::Vec3& to, bool atStart = false);
base::Status moveRoutePoint(edit::Draft& draft, base::ObjectId id, std::size_t point, const base::Vec3& to);
/// Which way it goes through a smooth point, and how far that reaches: to `end`, or (`behind`) as far from there.
/// Errors: BadInput for no way at all, Refused where the point is not smooth.
base::Status bendRoute(edit::Draft& draft, base::ObjectId id, std::size_t point, const base::Vec3& end,
                       bool behind = false);
/// A point on the curve, so many metres along; it goes as it went. Gives its number.
base::Result<std::size_t> insertRoutePoint(edit::Draft& draft, base::ObjectId id, double metres);
/// Errors: Refused when fewer than two would be left.
base::Status removeRoutePoints(edit::Draft& draft, base::ObjectId id, std::vector<std::size_t> which);
/// The other way round: points, stops and which way those are passed.
base::Status reverseRoute(edit::Draft& draft, base::ObjectId id);
/// In two at a point that is no end: what comes after it, with its stops, becomes a new object beside it. A closed one
/// is opened there, and stays one. Gives the new one, or the same.
base::Result<base::ObjectId> splitRoute(edit::Draft& draft, base::ObjectId id, std::size_t point);
/// Two open ones into the first: at the ends that are nearest, turned about where needed. The second one's object goes
/// when it is nothing else; else it has no route any more.
base::Status joinRoutes(edit::Draft& draft, base::ObjectId id, base::ObjectId other);
/// Leaves out points that the curve needs not to stay within a tolerance. Gives how many went.
base::Result<std::size_t> simplifyRoute(edit::Draft& draft, base::ObjectId id, double tolerance);
/// From a point of it another route can be gone on: one like the others of that point.
base::Status addFork(edit::Draft& draft, base::ObjectId id, std::size_t point, base::ObjectId to);
/// Onto what is below: each point, or all of it by the least that any has to go.
base::Status seatRoute(edit::Draft& draft, const query::SceneIndex& index, base::ObjectId id, bool each);

/// Objects become stops, each where it is along it among those that are there; one that is a stop of it already comes
/// to stand there anew. `before`: all in front of that one instead, in their order.
base::Status addStops(edit::Draft& draft, base::ObjectId route, std::span<const base::ObjectId> objects,
                      const std::optional<std::size_t>& before = {});
base::Status moveStop(edit::Draft& draft, base::ObjectId route, std::size_t from, std::size_t to);
base::Status removeStops(edit::Draft& draft, base::ObjectId route, std::span<const base::ObjectId> objects);

}  // namespace ops
