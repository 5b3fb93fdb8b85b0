// Routes that cannot be followed, and stops that nobody passes.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "ops/routes.h"
#include "query/route.h"

namespace check {

namespace {

using model::Route;
using model::RouteStop;

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
    return {rule("route-short", "Route that leads nowhere", "It has fewer than two points apart.", Severity::Error, {},
                 Looks::Own, tooShort),
            stray,
            rule("route-steep", "Route too steep", "What follows it goes up a wall, or falls.", Severity::Caution,
                 {amount("most", "At most", "°", 45, 0, 90)}, Looks::Own, tooSteep),
            rule("route-crosses", "Route that crosses itself",
                 "What follows it meets itself there; over a bridge it is higher than it is high.", Severity::Caution,
                 {}, Looks::Own, crosses)};
}

}  // namespace check
