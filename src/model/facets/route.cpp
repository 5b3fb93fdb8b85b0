#include "model/facets/route.h"

#include <fmt/format.h>

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& routePointFields() {
    static const Fields fields = [] {
        FieldsOf<RoutePoint> f;
        using Bend = RoutePoint::Bend;
        const auto bends = [&](Bend bend) { return f.when([bend](const RoutePoint& p) { return p.bend == bend; }); };
        f.vector("at", "Place", &RoutePoint::at, "m", -kFarthestMetres, kFarthestMetres).always = true;
        f.last().required = true;
        f.word("bend", "Bends", &RoutePoint::bend, {"smooth", "round", "corner"});
        f.real("radius", "Radius", &RoutePoint::radius, "m", 0, kLargestMetres).shown = bends(Bend::Round);
        f.vector("tangent", "Tangent", &RoutePoint::tangent, "m", -kLargestMetres, kLargestMetres).shown =
            bends(Bend::Smooth);
        f.flag("straight", "Straight from here", &RoutePoint::straight);
        f.real("width", "Width from here", &RoutePoint::width, "m", 0, kLargestMetres).property.help = "0: the route's";
        f.real("speed", "Speed from here", &RoutePoint::speed, "m/s", 0, 1000).property.help = "0: the route's";
        f.real("waits", "Waits here", &RoutePoint::waits, "s", 0, 36'000);
        return f.done();
    }();
    return fields;
}

const Fields& stopFields() {
    static const Fields fields = [] {
        FieldsOf<RouteStop> f;
        f.link("object", "Object", &RouteStop::object);
        f.word("passed", "Passed", &RouteStop::passed, {"forwards", "backwards", "either way"});
        f.vector("size", "Volume", &RouteStop::size, "m", kAboveNothing, kLargestMetres);
        f.last().help = "Across the route, high, and along it: who goes through it passes the stop";
        return f.done();
    }();
    return fields;
}

const Fields& forkFields() {
    static const Fields fields = [] {
        FieldsOf<RouteFork> f;
        f.whole("point", "From its point", &RouteFork::point, 1, 1e6).always = true;
        f.link("to", "To the route", &RouteFork::to);
        f.real("share", "Share", &RouteFork::share, "", 0, 1000);
        f.last().help = "How often, against the others from there; going on counts 1";
        f.link("goal", "Once met", &RouteFork::goal);
        f.last().help = "A goal: the fork is open when it has been met; without one, always";
        return f.done();
    }();
    return fields;
}

base::Status isARoute(const void* facet) {
    const Route& route = FieldsOf<Route>::self(facet);
    const auto most = [](std::size_t count, std::size_t limit, const char* what) -> base::Status {
        if (count <= limit) return {};
        return base::fail(base::ErrorCode::BadInput, fmt::format("A route can have up to {} {}.", limit, what));
    };
    if (auto few = most(route.points.size(), Route::kMostPoints, "points"); !few) return few;
    if (auto few = most(route.stops.size(), Route::kMostStops, "stops"); !few) return few;
    if (auto few = most(route.forks.size(), Route::kMostForks, "forks"); !few) return few;
    for (const RoutePoint& point : route.points)
        if (!base::isFinite(point.at) || !(glm::length(point.at) < kFarthestMetres))
            return base::fail(base::ErrorCode::BadInput, "A point of the route is at a place that cannot be.");
    return {};
}

}  // namespace

const FacetType& Route::type() {
    static const FacetType type = [] {
        FieldsOf<Route> f;
        f.flag("closed", "Closed", &Route::closed);
        f.whole("laps", "Laps", &Route::laps, 1, 100'000).shown = f.when([](const Route& r) { return r.closed; });
        f.real("width", "Width", &Route::width, "m", 0, kLargestMetres);
        f.real("height", "Height", &Route::height, "m", 0, kLargestMetres);
        f.real("speed", "Speed", &Route::speed, "m/s", 0.01, 1000);
        f.real("gains", "Gains speed by", &Route::gains, "m/s²", 0, 1000).property.help =
            "And loses as much before it stands; 0: at once";
        f.colour("colour", "Colour", &Route::colour);
        f.text("tells", "Tells its stops", &Route::tells).property.help =
            "The property of theirs that in play becomes waiting, next or passed";
        f.parts("points", "Points", &Route::points, routePointFields()).property.unit = "point";
        f.parts("stops", "Stops", &Route::stops, stopFields()).property.unit = "stop";
        f.parts("forks", "Forks", &Route::forks, forkFields()).property.unit = "fork";
        FacetType made =
            facetTypeOf<Route>("route", "Route", "A course in order: drawn once, measured, followed", f.done());
        made.check = isARoute;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
