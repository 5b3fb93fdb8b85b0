#include "query/route_network.h"

#include <algorithm>
#include <map>
#include <set>

#include "query/pace.h"
#include "query/route.h"

namespace query {

using model::Route;
using model::RouteFork;
using model::Slot;

namespace {

constexpr double kHere = 1e-6;  // metres

const Route* routeAt(const model::Scene& scene, Slot slot) {
    return slot != model::kNoSlot && scene.detail(slot) ? scene.facet<Route>(slot) : nullptr;
}

/// Somewhere along a route, as far as where it leads on from there is concerned.
using Place = std::pair<Slot, std::size_t>;  // the next point with a fork; as many as there are points: none

}  // namespace

std::string faultOf(const model::Scene& scene, Slot route, std::size_t fork) {
    const Route& is = *scene.facet<Route>(route);
    const RouteFork& f = is.forks[fork];
    const Slot to = f.to ? scene.find(f.to) : model::kNoSlot;
    if (!f.to) return "leads to no route yet";
    if (to == model::kNoSlot) return "leads to something that is gone";
    if (to == route) return "leads back to its own route";
    if (routeAt(scene, to) == nullptr) return "leads to something that is no route";
    if (f.point < 1 || static_cast<std::size_t>(f.point) > is.points.size())
        return "leaves from a point that there is not";
    if (f.share <= 0) return "is never taken: its share is 0";
    if (f.goal && scene.find(f.goal) == model::kNoSlot) return "waits for a goal that is gone";
    return {};
}

std::vector<Branch> branchesOf(const model::Scene& scene, Slot route) {
    std::vector<Branch> all;
    const Route* is = routeAt(scene, route);
    for (std::size_t i = 0; is != nullptr && i < is->forks.size(); ++i) {
        if (!faultOf(scene, route, i).empty()) continue;
        const RouteFork& fork = is->forks[i];
        const auto point = static_cast<std::size_t>(fork.point - 1);
        const Slot to = scene.find(fork.to);
        const auto near = curveOf(scene, to).nearest(scene.world(route).point(is->points[point].at));
        all.push_back({point, to, near.metres, fork.share, fork.goal});
    }
    return all;
}

std::vector<Slot> networkOf(const model::Scene& scene, Slot route) {
    std::vector<Slot> all = {route};
    for (std::size_t i = 0; i < all.size(); ++i)
        for (const Branch& branch : branchesOf(scene, all[i]))
            if (std::ranges::find(all, branch.to) == all.end()) all.push_back(branch.to);
    return all;
}

bool comesToAnEnd(const model::Scene& scene, Slot route) {
    std::map<Slot, std::vector<Branch>> branches;
    std::map<Slot, shape::Curve> curves;
    for (const Slot s : networkOf(scene, route)) {
        branches[s] = branchesOf(scene, s);
        std::ranges::sort(branches[s], {}, &Branch::point);
        curves[s] = curveOf(scene, s);
    }
    // Backwards from what ends: a place does when one of the ways on from it does.
    const auto from = [&](Slot s, double metres) -> Place {
        for (const Branch& b : branches[s])
            if (Pace::placeOf(curves[s], b.point) >= metres - kHere) return {s, b.point};
        return {s, routeAt(scene, s)->points.size()};
    };
    std::set<Place> places;
    std::vector<Place> open = {from(route, 0)};
    std::multimap<Place, Place> cameFrom;
    std::set<Place> ends;
    while (!open.empty()) {
        const Place at = open.back();
        open.pop_back();
        if (!places.insert(at).second) continue;
        const auto go = [&](const Place& to) {
            cameFrom.emplace(to, at);
            open.push_back(to);
        };
        const Route& is = *routeAt(scene, at.first);
        if (at.second >= is.points.size()) {
            ends.insert(at);
            continue;
        }
        for (const Branch& b : branches[at.first])
            if (b.point == at.second) go(from(b.to, b.metres));
        // At the end of an open one nothing goes on.
        if (is.closed || at.second + 1 < is.points.size())
            go(from(at.first, Pace::placeOf(curves[at.first], at.second) + 2 * kHere));
    }
    open.assign(ends.begin(), ends.end());
    while (!open.empty()) {
        const Place at = open.back();
        open.pop_back();
        const auto [first, last] = cameFrom.equal_range(at);
        for (auto i = first; i != last; ++i)
            if (ends.insert(i->second).second) open.push_back(i->second);
    }
    return std::ranges::all_of(places, [&](const Place& p) { return ends.contains(p); });
}

}  // namespace query
