#include "ops/routes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "model/facet_builder.h"
#include "ops/copies.h"
#include "ops/move.h"
#include "ops/names.h"
#include "query/scene_index.h"

namespace ops {

using model::Route;
using model::RoutePoint;
using model::RouteStop;
using shape::Curve;

namespace {

constexpr std::size_t kFewestPoints = 2;

bool isPlace(const Vec3& at) {
    return base::isFinite(at) && glm::length(at) < 1e7;
}

Status noRoute(const model::Scene& scene, Slot s) {
    return fail(ErrorCode::Refused, fmt::format("“{}” has no route.", scene.nameText(s)));
}

Vec3 intoOwn(const model::Scene& scene, Slot s, const Vec3& world) {
    return base::inverse(scene.world(s)).value_or(base::Affine{}).point(world);
}

Status isPoint(const Route& route, std::size_t point) {
    if (point < route.points.size()) return {};
    return fail(ErrorCode::NotFound,
                fmt::format("The route has {} points, and no point {}.", route.points.size(), point + 1));
}

RouteStop::Passed turnedAbout(RouteStop::Passed passed) {
    using Passed = RouteStop::Passed;
    return passed == Passed::Forwards ? Passed::Backwards : passed == Passed::Backwards ? Passed::Forwards : passed;
}

/// What is said of a leg belongs to the point that it begins at, so it goes on to the other end of it.
void turnAbout(Route& route) {
    const std::size_t n = route.points.size();
    std::vector<RoutePoint> turned(route.points.rbegin(), route.points.rend());
    for (std::size_t i = 0; i < n; ++i) {
        RoutePoint& point = turned[i];
        if (point.tangent) point.tangent = -*point.tangent;
        const RoutePoint& leg = route.points[i + 1 < n ? n - 2 - i : n - 1];  // the last keeps its own
        point.straight = leg.straight;
        point.width = leg.width;
        point.speed = leg.speed;
    }
    if (route.closed && n > 1) {  // the leg back to the first begins at the last
        turned[n - 1].straight = route.points[n - 1].straight;
        turned[n - 1].width = route.points[n - 1].width;
        turned[n - 1].speed = route.points[n - 1].speed;
    }
    route.points = std::move(turned);
    std::ranges::reverse(route.stops);
    for (RouteStop& stop : route.stops) stop.passed = turnedAbout(stop.passed);
    for (model::RouteFork& fork : route.forks) fork.point = static_cast<std::int64_t>(n) + 1 - fork.point;
}

/// A point more, or fewer, and forks still go out from the points that they did.
void shiftForks(Route& route, std::size_t from, int by) {
    for (model::RouteFork& fork : route.forks)
        if (fork.point > static_cast<std::int64_t>(from)) fork.point += by;
}

}  // namespace

Result<const Route*> routeOf(const model::Scene& scene, ObjectId id) {
    const Slot s = scene.find(id);
    if (s == kNoSlot) return fail(ErrorCode::NotFound, "The route is gone.");
    const auto* route = scene.detail(s) ? scene.facet<Route>(s) : nullptr;
    if (route == nullptr) return tl::unexpected(noRoute(scene, s).error());
    return route;
}

Status changeRoute(edit::Draft& draft, ObjectId id, const std::function<Status(Slot, Route&)>& change) {
    return changeDetails(draft, {&id, 1}, [&](Slot s, model::Detail& detail) -> Status {
        if (detail.get<Route>() == nullptr) return noRoute(draft.scene(), s);
        Route route = *detail.get<Route>();
        if (Status done = change(s, route); !done) return done;
        if (Status fine = Route::type().check(&route); !fine) return fine;
        detail.put(std::optional<Route>(std::move(route)));
        return {};
    });
}

Result<ObjectId> addRoute(edit::Draft& draft, std::span<const Vec3> places, bool closed, ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (places.size() < kFewestPoints) return fail(ErrorCode::BadInput, "A route has at least two points.");
    if (places.size() > Route::kMostPoints)
        return fail(ErrorCode::BadInput, fmt::format("A route can have up to {} points.", Route::kMostPoints));
    if (!std::ranges::all_of(places, isPlace)) return fail(ErrorCode::BadInput, "There is no such place.");
    return addBare(draft, "Route", places.front(), parent, [&](const base::Affine& world, model::Detail& detail) {
        const base::Affine into = base::inverse(world).value_or(base::Affine{});
        Route& route = detail.edit<Route>();
        route.closed = closed;
        for (const Vec3& place : places) route.points.emplace_back().at = into.point(place);
    });
}

Status extendRoute(edit::Draft& draft, ObjectId id, const Vec3& to, bool atStart) {
    if (!isPlace(to)) return fail(ErrorCode::BadInput, "There is no such place.");
    return changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        const auto where = atStart ? route.points.begin() : route.points.end();
        RoutePoint point = route.points.empty() ? RoutePoint{} : atStart ? route.points.front() : route.points.back();
        point.at = intoOwn(draft.scene(), s, to);
        point.tangent.reset();
        point.waits = 0;
        route.points.insert(where, point);
        if (atStart) shiftForks(route, 0, 1);
        return {};
    });
}

Status moveRoutePoint(edit::Draft& draft, ObjectId id, std::size_t point, const Vec3& to) {
    if (!isPlace(to)) return fail(ErrorCode::BadInput, "There is no such place.");
    return changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        if (Status is = isPoint(route, point); !is) return is;
        route.points[point].at = intoOwn(draft.scene(), s, to);
        return {};
    });
}

Status bendRoute(edit::Draft& draft, ObjectId id, std::size_t point, const Vec3& end, bool behind) {
    constexpr double kNoWay = 1e-6;  // metres
    if (!isPlace(end)) return fail(ErrorCode::BadInput, "There is no such place.");
    return changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        if (Status is = isPoint(route, point); !is) return is;
        if (route.points[point].bend != RoutePoint::Bend::Smooth)
            return fail(ErrorCode::Refused, fmt::format("Point {} is not smooth.", point + 1));
        const Vec3 ahead = intoOwn(draft.scene(), s, end) - route.points[point].at;
        if (glm::length(ahead) < kNoWay) return fail(ErrorCode::BadInput, "That is no way to go.");
        route.points[point].tangent = behind ? -ahead : ahead;
        return {};
    });
}

Result<std::size_t> insertRoutePoint(edit::Draft& draft, ObjectId id, double metres) {
    std::size_t at = 0;
    const Status done = changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        const Curve curve = query::curveOf(route, draft.scene().world(s));
        if (curve.empty() || !std::isfinite(metres) || metres < 0 || metres > curve.length())
            return fail(ErrorCode::BadInput, fmt::format("The route is {:.2f} m long.", curve.length()));
        // Of a closed one, what lies before its first point is on its last leg.
        at = route.points.size();
        for (std::size_t i = route.points.size(); i-- > 1;)
            if (curve.metresOf(i) > metres) at = i;
        RoutePoint point = route.points[at - 1];
        point.at = intoOwn(draft.scene(), s, curve.at(metres));
        point.waits = 0;
        point.tangent.reset();
        const RoutePoint& before = route.points[at - 1];
        const RoutePoint& after = route.points[at % route.points.size()];
        const bool straight =
            before.straight || (before.bend != RoutePoint::Bend::Smooth && after.bend != RoutePoint::Bend::Smooth);
        point.bend = straight ? RoutePoint::Bend::Corner : RoutePoint::Bend::Smooth;
        route.points.insert(route.points.begin() + static_cast<std::ptrdiff_t>(at), point);
        shiftForks(route, at, 1);
        return {};
    });
    if (!done) return tl::unexpected(done.error());
    return at;
}

Status removeRoutePoints(edit::Draft& draft, ObjectId id, std::vector<std::size_t> which) {
    return changeRoute(draft, id, [&](Slot, Route& route) -> Status {
        std::ranges::sort(which, std::greater<>());
        which.erase(std::unique(which.begin(), which.end()), which.end());
        for (const std::size_t point : which)
            if (Status is = isPoint(route, point); !is) return is;
        if (route.points.size() < which.size() + kFewestPoints)
            return fail(ErrorCode::Refused, "A route has at least two points; delete the object to be rid of it.");
        for (const std::size_t point : which) {
            route.points.erase(route.points.begin() + static_cast<std::ptrdiff_t>(point));
            std::erase_if(route.forks, [&](const model::RouteFork& fork) {
                return fork.point == static_cast<std::int64_t>(point) + 1;
            });
            shiftForks(route, point + 1, -1);
        }
        return {};
    });
}

Status reverseRoute(edit::Draft& draft, ObjectId id) {
    return changeRoute(draft, id, [](Slot, Route& route) -> Status {
        turnAbout(route);
        return {};
    });
}

Result<ObjectId> splitRoute(edit::Draft& draft, ObjectId id, std::size_t point) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const auto known = routeOf(draft.scene(), id);
    if (!known) return tl::unexpected(known.error());
    const Route before = **known;
    if (Status is = isPoint(before, point); !is) return tl::unexpected(is.error());
    const auto at = static_cast<std::ptrdiff_t>(point);
    if (before.closed) {
        const Status opened = changeRoute(draft, id, [&](Slot, Route& route) -> Status {
            std::ranges::rotate(route.points, route.points.begin() + at);
            route.points.push_back(route.points.front());
            const auto n = static_cast<std::int64_t>(before.points.size());
            for (model::RouteFork& fork : route.forks) fork.point = (fork.point - 1 - at + n) % n + 1;
            route.closed = false;
            route.laps = 1;
            return {};
        });
        if (!opened) return tl::unexpected(opened.error());
        return id;
    }
    if (point == 0 || point + 1 >= before.points.size())
        return fail(ErrorCode::Refused, "A route is split at a point between its ends.");
    const Slot s = draft.scene().find(id);
    const Curve curve = query::curveOf(draft.scene(), s);
    const std::vector<query::StopAt> stops = query::stopsOf(draft.scene(), s, curve);
    Route rest = before;
    rest.points.erase(rest.points.begin(), rest.points.begin() + at);
    rest.stops.clear();
    std::erase_if(rest.forks, [&](const auto& fork) { return fork.point <= at; });
    for (model::RouteFork& fork : rest.forks) fork.point -= at;
    std::vector<RouteStop> first;
    for (std::size_t i = 0; i < before.stops.size(); ++i)
        (stops[i].metres > curve.metresOf(point) ? rest.stops : first).push_back(before.stops[i]);
    const Status cut = changeRoute(draft, id, [&](Slot, Route& route) -> Status {
        route.points.erase(route.points.begin() + at + 1, route.points.end());
        route.stops = first;
        std::erase_if(route.forks, [&](const auto& fork) { return fork.point > at; });
        return {};
    });
    if (!cut) return tl::unexpected(cut.error());
    model::ObjectRecord made = draft.scene().record(s);
    made.id = draft.session().random().nextId();
    made.name = draft.session().intern(draft.freeNames().next(std::string(draft.scene().nameText(s))));
    made.before = {};
    made.item = made.kind = {};  // only the way goes on, not what it was of
    made.flags = 0;
    model::Detail detail;
    detail.put(std::move(rest));
    made.detail = std::make_shared<const model::Detail>(std::move(detail));
    const ObjectId other = made.id;
    if (Status created = draft.create({&made, 1}); !created) return tl::unexpected(created.error());
    return other;
}

Status joinRoutes(edit::Draft& draft, ObjectId id, ObjectId other) {
    if (!draft.state()) return draft.state();
    if (id == other) return fail(ErrorCode::BadInput, "A route is joined to another one.");
    const auto theirs = routeOf(draft.scene(), other);
    if (!theirs) return tl::unexpected(theirs.error());
    if ((*theirs)->closed) return fail(ErrorCode::Refused, "A closed route has no end to join at: split it first.");
    Route tail = **theirs;
    const base::Affine world = draft.scene().world(draft.scene().find(other));
    const bool goes = isNothingBut(draft.scene(), draft.scene().find(other), Route::type());
    const Status joined = changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        if (route.closed) return fail(ErrorCode::Refused, "A closed route has no end to join at: split it first.");
        if (route.points.empty() || tail.points.empty())
            return fail(ErrorCode::Refused, "A route without points joins nothing.");
        const base::Affine own = draft.scene().world(s);
        const base::Affine into = base::inverse(own).value_or(base::Affine{});
        const auto ends = [](const Route& r, const base::Affine& in) {
            return std::pair(in.point(r.points.front().at), in.point(r.points.back().at));
        };
        const auto [a, b] = ends(route, own);
        const auto [c, d] = ends(tail, world);
        const double gaps[] = {glm::length(b - c), glm::length(b - d), glm::length(a - c), glm::length(a - d)};
        const auto least = std::min_element(std::begin(gaps), std::end(gaps)) - std::begin(gaps);
        if (least == 1 || least == 2) turnAbout(tail);
        const bool infront = least >= 2;
        std::vector<RoutePoint> points;
        for (RoutePoint point : tail.points) {
            point.at = into.point(world.point(point.at));
            if (point.tangent) point.tangent = into.direction(world.direction(*point.tangent));
            points.push_back(point);
        }
        const auto n = static_cast<std::int64_t>(points.size()), m = static_cast<std::int64_t>(route.points.size());
        // Two ends in one place are one point.
        const bool meet = gaps[least] < 1e-3;
        if (infront) {
            if (meet) points.pop_back();
            for (model::RouteFork& fork : route.forks) fork.point += n - (meet ? 1 : 0);
            route.points.insert(route.points.begin(), points.begin(), points.end());
            route.forks.insert(route.forks.begin(), tail.forks.begin(), tail.forks.end());
            route.stops.insert(route.stops.begin(), tail.stops.begin(), tail.stops.end());
        } else {
            if (meet) points.erase(points.begin());
            for (model::RouteFork& fork : tail.forks) fork.point += m - (meet ? 1 : 0);
            route.points.insert(route.points.end(), points.begin(), points.end());
            route.forks.insert(route.forks.end(), tail.forks.begin(), tail.forks.end());
            route.stops.insert(route.stops.end(), tail.stops.begin(), tail.stops.end());
        }
        return {};
    });
    if (!joined) return joined;
    if (goes) return remove(draft, {&other, 1});
    return changeDetails(draft, {&other, 1}, [](Slot, model::Detail& detail) -> Status {
        detail.drop<Route>();
        return {};
    });
}

namespace {

/// Would a route go on within a tolerance of where it went, without the `at`th of the points that are kept so far?
/// Points that are three away know nothing of it.
class Without {
  public:
    Without(const Route& route, const base::Affine& world, double tolerance)
        : route_(route), world_(world), before_(query::curveOf(route, world)), tolerance_(tolerance) {}
    bool isNear(const std::vector<std::size_t>& kept, std::size_t at) const {
        constexpr std::ptrdiff_t kAround = 3;
        const auto n = static_cast<std::ptrdiff_t>(kept.size());
        Route some;
        for (std::ptrdiff_t k = -kAround; k <= kAround; ++k)
            if (const auto point = pointAt(kept, n, static_cast<std::ptrdiff_t>(at) + k); k != 0 && point)
                some.points.push_back(route_.points[*point]);
        const Curve curve = query::curveOf(some, world_);
        const double from = metresAt(kept, n, static_cast<std::ptrdiff_t>(at) - kAround + 1),
                     to = metresAt(kept, n, static_cast<std::ptrdiff_t>(at) + kAround - 1);
        const int parts = std::clamp(static_cast<int>((to - from) / (2 * tolerance_)), 24, 400);
        for (int i = 0; i <= parts; ++i)
            if (curve.nearest(before_.at(from + (to - from) * i / parts)).away > tolerance_) return false;
        return true;
    }

  private:
    std::optional<std::size_t> pointAt(const std::vector<std::size_t>& kept, std::ptrdiff_t n, std::ptrdiff_t k) const {
        if (route_.closed) return kept[static_cast<std::size_t>((k % n + n) % n)];
        return k < 0 || k >= n ? std::nullopt : std::optional(kept[static_cast<std::size_t>(k)]);
    }
    /// Of a closed one before its beginning and after its end, too.
    double metresAt(const std::vector<std::size_t>& kept, std::ptrdiff_t n, std::ptrdiff_t k) const {
        if (!route_.closed) k = std::clamp(k, std::ptrdiff_t{0}, n - 1);
        const std::ptrdiff_t round = k < 0 ? -1 : k >= n ? 1 : 0;
        return before_.metresOf(*pointAt(kept, n, k)) + static_cast<double>(round) * before_.length();
    }

    const Route& route_;
    const base::Affine world_;
    const Curve before_;
    const double tolerance_;
};

}  // namespace

Result<std::size_t> simplifyRoute(edit::Draft& draft, ObjectId id, double tolerance) {
    constexpr std::size_t kFewest = 8;  // of a closed one: its points are no neighbours from both sides
    if (!(tolerance > 0) || !std::isfinite(tolerance)) return fail(ErrorCode::BadInput, "The tolerance is above 0 m.");
    std::size_t went = 0;
    const Status done = changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        const Without without(route, draft.scene().world(s), tolerance);
        std::vector<std::size_t> kept(route.points.size());
        std::iota(kept.begin(), kept.end(), std::size_t{0});
        const auto isSaid = [&](std::size_t point) {
            return route.points[point].waits > 0 || std::ranges::any_of(route.forks, [&](const auto& fork) {
                       return fork.point == static_cast<std::int64_t>(point) + 1;
                   });
        };
        const std::size_t fewest = route.closed ? kFewest : kFewestPoints;
        for (std::size_t i = 1; i + 1 < kept.size() && kept.size() > fewest;)
            if (!isSaid(kept[i]) && without.isNear(kept, i))
                kept.erase(kept.begin() + static_cast<std::ptrdiff_t>(i));
            else
                ++i;
        went = route.points.size() - kept.size();
        std::vector<RoutePoint> points;
        for (const std::size_t point : kept) points.push_back(route.points[point]);
        for (model::RouteFork& fork : route.forks) {
            const auto place = std::ranges::find(kept, static_cast<std::size_t>(fork.point - 1));
            if (place != kept.end()) fork.point = place - kept.begin() + 1;
        }
        route.points = std::move(points);
        return {};
    });
    if (!done) return tl::unexpected(done.error());
    return went;
}

Status seatRoute(edit::Draft& draft, const query::SceneIndex& index, ObjectId id, bool each) {
    return changeRoute(draft, id, [&](Slot s, Route& route) -> Status {
        const model::Scene& scene = draft.scene();
        constexpr double kAbove = 2, kFarthest = 1000;
        std::vector<std::optional<double>> down;  // how far each point has to go
        for (const RoutePoint& point : route.points) {
            const Vec3 at = scene.world(s).point(point.at);
            const auto hit = index.solid().pick(scene, {at + Vec3(0, kAbove, 0), {0, -1, 0}}, [&](Slot other) {
                return !scene.isWithin(other, s) && (scene.flagsOf(other) & model::flags::kHidden) == 0;
            });
            down.push_back(hit && hit->distance < kFarthest ? std::optional(hit->distance - kAbove) : std::nullopt);
        }
        std::optional<double> least;
        for (const auto& metres : down)
            if (metres && (!least || *metres < *least)) least = metres;
        if (!least) return fail(ErrorCode::NotFound, "There is nothing below the route.");
        for (std::size_t i = 0; i < route.points.size(); ++i) {
            const double by = each ? down[i].value_or(0) : *least;
            const Vec3 at = scene.world(s).point(route.points[i].at) - Vec3(0, by, 0);
            route.points[i].at = intoOwn(scene, s, at);
        }
        return {};
    });
}

// ---- Stops

Status addStops(edit::Draft& draft, ObjectId route, std::span<const ObjectId> objects,
                const std::optional<std::size_t>& before) {
    return changeRoute(draft, route, [&](Slot s, Route& is) -> Status {
        const model::Scene& scene = draft.scene();
        const Curve curve = query::curveOf(scene, s);
        std::vector<RouteStop> fresh;
        for (const ObjectId id : objects) {
            if (scene.find(id) == kNoSlot) return fail(ErrorCode::NotFound, "One of the objects is gone.");
            if (id == route) return fail(ErrorCode::BadInput, "A route is no stop of itself.");
            const auto known = std::ranges::find(is.stops, id, &RouteStop::object);
            fresh.push_back(known != is.stops.end() ? *known : RouteStop{});
            fresh.back().object = id;
        }
        std::size_t where = before.value_or(0);
        for (std::size_t i = 0; i < std::min(before.value_or(0), is.stops.size()); ++i)
            if (std::ranges::find(objects, is.stops[i].object) != objects.end()) --where;
        std::erase_if(is.stops,
                      [&](const RouteStop& stop) { return std::ranges::find(objects, stop.object) != objects.end(); });
        if (before) {
            where = std::min(where, is.stops.size());
            is.stops.insert(is.stops.begin() + static_cast<std::ptrdiff_t>(where), fresh.begin(), fresh.end());
            return {};
        }
        const auto metresOf = [&](ObjectId id) {
            const Slot at = scene.find(id);
            return at == kNoSlot || curve.empty() ? -1 : curve.nearest(scene.world(at).translation).metres;
        };
        std::vector<double> metres;
        for (const RouteStop& stop : is.stops) metres.push_back(metresOf(stop.object));
        for (const RouteStop& stop : fresh) {
            const double its = metresOf(stop.object);
            // After the last that lies before it: the order of the others is kept, whatever it is.
            std::size_t at = 0;
            for (std::size_t i = 0; i < metres.size(); ++i)
                if (metres[i] >= 0 && metres[i] <= its) at = i + 1;
            is.stops.insert(is.stops.begin() + static_cast<std::ptrdiff_t>(at), stop);
            metres.insert(metres.begin() + static_cast<std::ptrdiff_t>(at), its);
        }
        return {};
    });
}

Status addFork(edit::Draft& draft, ObjectId id, std::size_t point, ObjectId to) {
    if (auto other = routeOf(draft.scene(), to); !other) return tl::unexpected(other.error());
    if (id == to) return fail(ErrorCode::BadInput, "A route does not fork to itself.");
    return changeRoute(draft, id, [&](Slot, Route& route) -> Status {
        if (Status is = isPoint(route, point); !is) return is;
        const auto number = static_cast<std::int64_t>(point) + 1;
        for (const model::RouteFork& fork : route.forks)
            if (fork.point == number && fork.to == to)
                return fail(ErrorCode::Refused, fmt::format("There is a fork to it from point {} already.", number));
        model::RouteFork& fork = route.forks.emplace_back();
        fork.point = number;
        fork.to = to;
        return {};
    });
}

Status moveStop(edit::Draft& draft, ObjectId route, std::size_t from, std::size_t to) {
    return changeRoute(draft, route, [&](Slot, Route& is) -> Status {
        if (from >= is.stops.size() || to >= is.stops.size())
            return fail(ErrorCode::NotFound, fmt::format("The route has {} stops.", is.stops.size()));
        const RouteStop stop = is.stops[from];
        is.stops.erase(is.stops.begin() + static_cast<std::ptrdiff_t>(from));
        is.stops.insert(is.stops.begin() + static_cast<std::ptrdiff_t>(to), stop);
        return {};
    });
}

Status removeStops(edit::Draft& draft, ObjectId route, std::span<const ObjectId> objects) {
    return changeRoute(draft, route, [&](Slot, Route& is) -> Status {
        const auto gone = std::erase_if(
            is.stops, [&](const RouteStop& stop) { return std::ranges::find(objects, stop.object) != objects.end(); });
        return gone > 0 ? Status{} : fail(ErrorCode::NotFound, "None of them is a stop of the route.");
    });
}

}  // namespace ops
