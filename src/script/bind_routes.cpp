// Routes: drawn, asked, and what stands along them.
#include "ops/along.h"
#include "ops/routes.h"
#include "script/bindings.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {
namespace {

using base::ObjectId;

Data route(Context& c, const Data& a) {
    Reader r(c, a);
    const std::vector<Vec3> points = r.points();
    const bool closed = r.truth(false);
    return {taken(ops::addRoute(c.create(), points, closed))};
}

/// Of the object that is at hand.
std::pair<ObjectId, shape::Curve> curveOf(Context& c, Reader& r) {
    const ObjectId id = r.object();
    const Slot slot = c.scene().find(id);
    shape::Curve curve = query::curveOf(c.scene(), slot);
    if (curve.empty()) trouble("this object has no route that leads anywhere");
    return {id, std::move(curve)};
}

Data routeLength(Context& c, const Data& a) {
    Reader r(c, a);
    const auto [id, curve] = curveOf(c, r);
    return {curve.length(), query::factsOf(*c.scene().facet<model::Route>(c.scene().find(id)), curve).seconds};
}

/// As it is written, or in metres.
double placeOf(Reader& r, const shape::Curve& curve, double now) {
    const Datum& given = r.next();
    if (const auto* metres = std::get_if<double>(&given)) return *metres;
    const auto* written = std::get_if<std::string>(&given);
    if (written == nullptr) r.wrong("metres, or a place as a text,");
    return taken(ops::placeAlong(*written, curve, now));
}

Data pointAlong(Context& c, const Data& a) {
    Reader r(c, a);
    const auto [id, curve] = curveOf(c, r);
    const double metres = placeOf(r, curve, 0);
    return {curve.at(metres), curve.direction(metres)};
}

Data nearestAlong(Context& c, const Data& a) {
    Reader r(c, a);
    const auto [id, curve] = curveOf(c, r);
    const auto near = curve.nearest(r.point());
    return {near.metres, near.away};
}

Data stops(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    if (r.more()) {
        const Objects ids = r.objects();
        check(ops::addStops(c.change({&id, 1}), id, ids));
    }
    const Slot slot = c.scene().find(id);
    const auto* is = c.scene().detail(slot) ? c.scene().facet<model::Route>(slot) : nullptr;
    if (is == nullptr) trouble("this object has no route");
    Objects all;
    for (const model::RouteStop& stop : is->stops)
        if (c.scene().find(stop.object) != model::kNoSlot) all.push_back(stop.object);
    return {std::move(all)};
}

Data along(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const Objects ids = r.objects();
    ops::Along how;
    how.from = r.number(0);
    how.spacing = r.number(0);
    how.aside = r.number(0);
    check(ops::putAlong(c.change(ids), id, ids, how));
    return {};
}

Data moveAlong(Context& c, const Data& a) {
    Reader r(c, a);
    const auto [id, curve] = curveOf(c, r);
    const Objects ids = r.objects();
    if (ids.empty()) return {};
    const double now = curve.nearest(c.scene().world(c.scene().find(ids.front())).translation).metres;
    check(ops::moveAlong(c.change(ids), id, ids, placeOf(r, curve, now)));
    return {};
}

Data fork(Context& c, const Data& a) {
    Reader r(c, a);
    const ObjectId id = r.object();
    const double point = r.number();
    const ObjectId to = r.object();
    if (!(point >= 1 && point <= 1e6)) trouble("points are counted from 1");
    check(ops::addFork(c.change({&id, 1}), id, static_cast<std::size_t>(point) - 1, to));
    return {};
}

}  // namespace

Bindings routeBindings() {
    constexpr auto kScene = Binding::Needs::Scene;
    return {
        {{"route", "points [, closed]", "A new route through places in the world."}, kScene, false, route},
        {{"routeLength", "route", "How long a route is, and how many seconds it takes with its speeds and waits."},
         kScene,
         false,
         routeLength},
        {{"pointAlong", "route, place", "Where a place along a route is, and which way it goes there."},
         kScene,
         false,
         pointAlong},
        {{"nearestAlong", "route, point", "How many metres along a route a point is, and how far from it."},
         kScene,
         false,
         nearestAlong},
        {{"stops", "route [, objects]",
          "The stops of a route in their order; objects become such, each where it stands along it."},
         kScene,
         false,
         stops},
        {{"along", "route, objects [, from [, spacing [, aside]]]",
          "Puts objects along a route, turned with it; without a spacing evenly to its end."},
         kScene,
         false,
         along},
        {{"moveAlong", "route, objects, place",
          "Moves objects along a route: the first to a place, as metres or as \"half way\", \"30 %\", \"+2 m\"; beside "
          "and above it they stay."},
         kScene,
         false,
         moveAlong},
        {{"fork", "route, point, other", "From a point of a route, counted from 1, one can go on along another."},
         kScene,
         false,
         fork},
    };
}

}  // namespace script
