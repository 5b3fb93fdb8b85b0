// Routes that cannot be followed, and stops that nobody passes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "model/facets/body.h"
#include "ops/move.h"
#include "ops/routes.h"
#include "query/route_network.h"
#include "query/route_passage.h"

namespace check {

namespace {

using model::Mark;
using model::Route;
using model::RouteStop;

constexpr std::size_t kMostLooks = 2000;  // along one route

const Route* routeOf(const model::Scene& scene, Slot slot) {
    return scene.detail(slot) ? scene.facet<Route>(slot) : nullptr;
}

void tooShort(const Subject& s, Slot slot, Report& r) {
    const Route* route = routeOf(s.scene, slot);
    if (route == nullptr || !query::curveOf(s.scene, slot).empty()) return;
    r.add(s.scene.id(slot), fmt::format("The route {} leads nowhere: it has {} points in one place.", named(s, slot),
                                        route->points.size()));
}

/// Gone, twice in the list, or so far off that its volume does not reach the way.
void strayStops(const Subject& s, Slot, Report& r) {
    for (const Slot slot : s.scene.subtree(kNoSlot)) {
        const Route* route = routeOf(s.scene, slot);
        if (route == nullptr || route->stops.empty()) continue;
        const auto stops = query::stopsOf(s.scene, slot, query::curveOf(s.scene, slot));
        for (std::size_t i = 0; i < stops.size(); ++i) {
            const RouteStop& stop = route->stops[i];
            if (stops[i].slot == kNoSlot) {
                r.add(s.scene.id(slot),
                      fmt::format("Stop {} of the route {} is an object that is gone.", i + 1, named(s, slot)));
                continue;
            }
            const auto same = std::ranges::find(route->stops, stop.object, &RouteStop::object);
            if (static_cast<std::size_t>(same - route->stops.begin()) < i)
                r.add(s.scene.id(slot),
                      fmt::format("{} is a stop of the route {} twice.", named(s, stops[i].slot), named(s, slot)))
                    .other = stop.object;
            else if (stops[i].away > std::max(stop.size.x, stop.size.y))
                r.add(s.scene.id(slot), fmt::format("{} is a stop of the route {}, and stands {:.1f} m off it.",
                                                    named(s, stops[i].slot), named(s, slot), stops[i].away))
                    .other = stop.object;
        }
    }
}
Status dropStray(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::changeRoute(draft, f.object, [&](Slot, Route& route) -> Status {
        std::vector<RouteStop> kept;
        for (const RouteStop& stop : route.stops) {
            const bool twice = std::ranges::find(kept, stop.object, &RouteStop::object) != kept.end();
            const bool stray =
                f.other ? stop.object == f.other &&
                              (twice || std::ranges::count(route.stops, stop.object, &RouteStop::object) == 1)
                        : draft.scene().find(stop.object) == kNoSlot;
            if (!stray) kept.push_back(stop);
        }
        route.stops = std::move(kept);
        return {};
    });
}

void tooSteep(const Subject& s, Slot slot, Report& r) {
    const Route* route = routeOf(s.scene, slot);
    if (route == nullptr) return;
    const shape::Curve curve = query::curveOf(s.scene, slot);
    const query::RouteFacts facts = query::factsOf(*route, curve);
    if (!(std::abs(facts.steepestDegrees) > r.number("most"))) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("The route {} is {:.0f}° steep at {:.1f} m.", named(s, slot),
                                                     std::abs(facts.steepestDegrees), facts.steepestAt));
    f.marks = {{Mark::Shape::Dot, curve.at(facts.steepestAt), {}, 0, {}, {}, {}}};
}

void crosses(const Subject& s, Slot slot, Report& r) {
    const Route* route = routeOf(s.scene, slot);
    if (route == nullptr) return;
    const shape::Curve curve = query::curveOf(s.scene, slot);
    const auto at = query::crossingOf(curve, route->width / 2, std::max(route->height, 0.5));
    if (!at) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("The route {} crosses itself: at {:.1f} m and at {:.1f} m.",
                                                     named(s, slot), at->first, at->second));
    f.marks = {{Mark::Shape::Dot, curve.at(at->first), {}, 0, {}, {}, {}}};
}

template <class F>
void eachRoute(const Subject& s, const F& look) {
    for (const Slot slot : s.scene.subtree(kNoSlot))
        if (const Route* route = routeOf(s.scene, slot); route != nullptr && !s.cancelled()) look(slot, *route);
}

Mark dotAt(const Vec3& at) {
    return {Mark::Shape::Dot, at, {}, 0, {}, {}, {}};
}

/// Its front against the way that it is passed: what has no look of its own has no front either.
void facesAway(const Subject& s, Slot, Report& r) {
    eachRoute(s, [&](Slot slot, const Route& route) {
        const auto stops = query::stopsOf(s.scene, slot, query::curveOf(s.scene, slot));
        for (std::size_t i = 0; i < stops.size(); ++i) {
            using Passed = RouteStop::Passed;
            if (stops[i].slot == kNoSlot || route.stops[i].passed == Passed::EitherWay || !s.scene.item(stops[i].slot))
                continue;
            const double off = route.stops[i].passed == Passed::Forwards ? 0 : 180;
            if (std::abs(std::remainder(stops[i].turnDegrees - off, 360.0)) <= r.number("beyond")) continue;
            r.add(s.scene.id(stops[i].slot),
                  fmt::format("{}, stop {} of the route {}, faces away from how it is passed.", named(s, stops[i].slot),
                              i + 1, named(s, slot)))
                .other = s.scene.id(slot);
        }
    });
}
Status turnRound(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot) return base::fail(base::ErrorCode::NotFound, "The stop is gone.");
    base::Affine motion{glm::mat3_cast(glm::angleAxis(base::kPi, Vec3(0, 1, 0))), Vec3(0.0)};
    const Vec3 at = draft.scene().world(slot).translation;
    motion.translation = at - motion.linear * at;
    return ops::moveEach(draft, {&f.object, 1}, {&motion, 1});
}

/// Their volumes are in one another: one is passed with the other.
void crowdedStops(const Subject& s, Slot, Report& r) {
    eachRoute(s, [&](Slot slot, const Route& route) {
        const auto stops = query::stopsOf(s.scene, slot, query::curveOf(s.scene, slot));
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < stops.size(); ++i)
            if (stops[i].slot != kNoSlot) order.push_back(i);
        std::ranges::stable_sort(order, {}, [&](std::size_t i) { return stops[i].metres; });
        for (std::size_t k = 1; k < order.size(); ++k) {
            const std::size_t a = order[k - 1], b = order[k];
            const double room = (route.stops[a].size.z + route.stops[b].size.z) / 2;
            if (stops[a].slot == stops[b].slot || stops[b].metres - stops[a].metres >= room) continue;
            r.add(s.scene.id(slot),
                  fmt::format("Stops {} and {} of the route {} are in one another: {:.1f} m apart.", std::min(a, b) + 1,
                              std::max(a, b) + 1, named(s, slot), stops[b].metres - stops[a].metres))
                .other = route.stops[std::max(a, b)].object;
        }
    });
}

void tooSharp(const Subject& s, Slot slot, Report& r) {
    const Route* route = routeOf(s.scene, slot);
    if (route == nullptr) return;
    const shape::Curve curve = query::curveOf(s.scene, slot);
    const query::RouteFacts facts = query::factsOf(*route, curve);
    const double least = r.number("least") * query::widthAt(*route, curve, facts.sharpestAt);
    if (facts.sharpestRadius <= 0 || facts.sharpestRadius >= least) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("The route {} bends with a radius of {:.2f} m at {:.1f} m: it "
                                                     "should have {:.2f} m, as wide as it is.",
                                                     named(s, slot), facts.sharpestRadius, facts.sharpestAt, least));
    f.marks = {dotAt(curve.at(facts.sharpestAt))};
}

/// What moves by itself, or is pushed, may be out of the way by then.
bool staysThere(const model::Scene& scene, Slot s) {
    const auto* body = scene.detail(s) ? scene.facet<model::Body>(s) : nullptr;
    return body == nullptr || body->role == model::Body::Role::Fixed;
}

void blocked(const Subject& s, Slot, Report& r) {
    eachRoute(s, [&](Slot slot, const Route&) {
        const shape::Curve curve = query::curveOf(s.scene, slot);
        const auto room = query::passageOf(s.scene, s.index, slot, curve, kMostLooks,
                                           [&](Slot other) { return staysThere(s.scene, other); });
        if (!room.blockedAt) return;
        Finding& f = r.add(s.scene.id(slot), fmt::format("The route {} goes through {} at {:.1f} m.", named(s, slot),
                                                         named(s, room.blockedBy), *room.blockedAt));
        f.other = s.scene.id(room.blockedBy);
        f.marks = {dotAt(curve.at(*room.blockedAt))};
    });
}

void tooNarrow(const Subject& s, Slot, Report& r) {
    eachRoute(s, [&](Slot slot, const Route& route) {
        const shape::Curve curve = query::curveOf(s.scene, slot);
        const auto room = query::passageOf(s.scene, s.index, slot, curve, kMostLooks,
                                           [&](Slot other) { return staysThere(s.scene, other); });
        // What it goes through is another finding.
        const auto isBlocked = [&](double at) {
            return room.blockedAt && std::abs(*room.blockedAt - at) < std::max(route.width, 1.0);
        };
        if (room.tightAt && !isBlocked(*room.tightAt))
            r.add(s.scene.id(slot),
                  fmt::format("The route {} is {:.1f} m wide, and there are {:.1f} m at {:.1f} m.", named(s, slot),
                              query::widthAt(route, curve, *room.tightAt), room.tight, *room.tightAt))
                .marks = {dotAt(curve.at(*room.tightAt))};
        else if (room.lowAt && !isBlocked(*room.lowAt))
            r.add(s.scene.id(slot), fmt::format("The route {} is {:.1f} m high, and there are {:.1f} m at {:.1f} m.",
                                                named(s, slot), route.height, room.low, *room.lowAt))
                .marks = {dotAt(curve.at(*room.lowAt))};
    });
}

void badForks(const Subject& s, Slot, Report& r) {
    eachRoute(s, [&](Slot slot, const Route& route) {
        for (std::size_t i = 0; i < route.forks.size(); ++i)
            if (const std::string fault = query::faultOf(s.scene, slot, i); !fault.empty())
                r.add(s.scene.id(slot), fmt::format("Fork {} of the route {} {}.", i + 1, named(s, slot), fault));
    });
}
Status dropForks(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::changeRoute(draft, f.object, [&](Slot slot, Route& route) -> Status {
        std::vector<model::RouteFork> kept;
        for (std::size_t i = 0; i < route.forks.size(); ++i)
            if (query::faultOf(draft.scene(), slot, i).empty()) kept.push_back(route.forks[i]);
        route.forks = std::move(kept);
        return {};
    });
}

/// Those that lead round in the same circle are one finding.
void endless(const Subject& s, Slot, Report& r) {
    std::vector<Slot> told;
    eachRoute(s, [&](Slot slot, const Route& route) {
        if (route.forks.empty() || std::ranges::find(told, slot) != told.end() || query::comesToAnEnd(s.scene, slot))
            return;
        const std::vector<Slot> all = query::networkOf(s.scene, slot);
        told.insert(told.end(), all.begin(), all.end());
        r.add(s.scene.id(slot), fmt::format("What follows the route {} goes round for ever: no way on from its forks "
                                            "comes to an end.",
                                            named(s, slot)));
    });
}

}  // namespace

std::vector<Rule> routeRules() {
    using Looks = Rule::Looks;
    const auto rule = [](const char* id, const char* label, const char* why, Severity severity,
                         std::vector<model::Property> parameters, Looks looks, Find find) {
        return Rule{id, "In play", label, why, severity, std::move(parameters), looks, std::move(find), {}, {}};
    };
    Rule stray = rule("route-stop", "Stop that nobody passes",
                      "It is gone, stands off the route, or is there twice: the course cannot be gone as it is meant.",
                      Severity::Error, {}, Looks::Scene, strayStops);
    stray.fixLabel = "No stop any more";
    stray.fix = dropStray;
    Rule away = rule("route-facing", "Stop that faces away",
                     "Whoever comes along sees it from behind; which way it is passed is said by the stop.",
                     Severity::Caution, {amount("beyond", "Beyond", "°", 100, 0, 180)}, Looks::Scene, facesAway);
    away.fixLabel = "Turn it round";
    away.fix = turnRound;
    Rule forks = rule("route-fork", "Fork that leads nowhere",
                      "What comes there goes on as if it were not there: it leads to no route, or is never taken.",
                      Severity::Error, {}, Looks::Scene, badForks);
    forks.fixLabel = "Without such forks";
    forks.fix = dropForks;
    return {
        away,
        forks,
        rule("route-crowded", "Stops in one another", "They cannot be passed one after the other.", Severity::Error, {},
             Looks::Scene, crowdedStops),
        rule("route-sharp", "Route too sharp", "It is wider than its bend: what follows it turns on the spot.",
             Severity::Caution, {amount("least", "At least", "×", 0.5, 0, 100, "The radius, as a part of the width")},
             Looks::Own, tooSharp),
        rule("route-blocked", "Route through things",
             "What follows it goes through what stands there; what moves by itself does not count.", Severity::Caution,
             {}, Looks::Scene, blocked),
        rule("route-narrow", "Route too narrow or low", "It is wider or higher than what there is between things.",
             Severity::Caution, {}, Looks::Scene, tooNarrow),
        rule("route-endless", "Routes without an end", "What follows them never comes to an end of its way.",
             Severity::Caution, {}, Looks::Scene, endless),
        rule("route-short", "Route that leads nowhere", "It has fewer than two points apart.", Severity::Error, {},
             Looks::Own, tooShort),
        stray,
        rule("route-steep", "Route too steep", "What follows it goes up a wall, or falls.", Severity::Caution,
             {amount("most", "At most", "°", 45, 0, 90)}, Looks::Own, tooSteep),
        rule("route-crosses", "Route that crosses itself",
             "What follows it meets itself there; over a bridge it is higher than it is high.", Severity::Caution, {},
             Looks::Own, crosses)};
}

}  // namespace check
