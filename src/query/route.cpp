#include "query/route.h"

#include <algorithm>
#include <cmath>

#include "query/pace.h"

namespace query {

using base::Vec3;
using model::Route;
using model::RoutePoint;
using model::Slot;
using shape::Curve;
using shape::CurvePoint;

namespace {

/// Of the point that was passed last; those after the first lie one after the other.
const RoutePoint* passedAt(const Route& route, const Curve& curve, double metres) {
    if (route.points.empty()) return nullptr;
    std::size_t low = 0, high = route.points.size();
    while (high - low > 1) {
        const std::size_t middle = (low + high) / 2;
        (curve.metresOf(middle) <= metres + 1e-9 ? low : high) = middle;
    }
    return &route.points[low];
}

CurvePoint::Bend bendOf(RoutePoint::Bend bend) {
    return bend == RoutePoint::Bend::Round    ? CurvePoint::Bend::Round
           : bend == RoutePoint::Bend::Corner ? CurvePoint::Bend::Corner
                                              : CurvePoint::Bend::Smooth;
}

Vec3 flat(const Vec3& v) {
    return {v.x, 0, v.z};
}

/// Which way something looks, about up: 0 along +z, 90 along +x.
double headingOf(const Vec3& ahead) {
    return base::degrees(std::atan2(ahead.x, ahead.z));
}

}  // namespace

Curve curveOf(const Route& route, const base::Affine& world, const Curve* before) {
    std::vector<CurvePoint> points;
    points.reserve(route.points.size());
    for (const RoutePoint& p : route.points) {
        CurvePoint& made = points.emplace_back();
        made.at = world.point(p.at);
        made.bend = bendOf(p.bend);
        made.radius = p.radius;
        made.straight = p.straight;
        if (p.tangent) made.tangent = world.direction(*p.tangent);
    }
    return {points, route.closed, before};
}

Curve curveOf(const model::Scene& scene, Slot route) {
    const auto* is = route != model::kNoSlot && scene.detail(route) ? scene.facet<Route>(route) : nullptr;
    return is != nullptr ? curveOf(*is, scene.world(route)) : Curve();
}

std::vector<Vec3> wayOf(const model::Scene& scene, Slot route) {
    std::vector<Vec3> way;
    for (const Curve::Sample& sample : curveOf(scene, route).samples()) way.push_back(sample.at);
    return way;
}

std::vector<StopAt> stopsOf(const model::Scene& scene, Slot route, const Curve& curve) {
    std::vector<StopAt> all;
    const auto* is = scene.detail(route) ? scene.facet<Route>(route) : nullptr;
    for (const model::RouteStop& stop : is != nullptr ? is->stops : std::vector<model::RouteStop>{}) {
        StopAt& at = all.emplace_back();
        at.slot = stop.object ? scene.find(stop.object) : model::kNoSlot;
        if (at.slot == model::kNoSlot || curve.empty()) continue;
        const auto near = curve.nearest(scene.world(at.slot).translation);
        at.metres = near.metres;
        at.away = near.away;
        const Vec3 front = scene.world(at.slot).direction({0, 0, 1});
        at.turnDegrees = std::remainder(headingOf(front) - headingOf(curve.direction(near.metres)), 360.0);
    }
    return all;
}

double widthAt(const Route& route, const Curve& curve, double metres) {
    const RoutePoint* passed = passedAt(route, curve, metres);
    return passed != nullptr && passed->width > 0 ? passed->width : route.width;
}

RouteFacts factsOf(const Route& route, const Curve& curve) {
    RouteFacts facts;
    if (curve.empty()) return facts;
    facts.lap = curve.length();
    const double laps = route.closed ? static_cast<double>(route.laps) : 1;
    facts.length = facts.lap * laps;
    const Pace pace(route, curve);
    facts.seconds = pace.seconds();
    for (const RoutePoint& point : route.points) facts.seconds += point.waits;
    facts.seconds = facts.seconds * laps + (route.closed ? pace.secondsToStand() : 0);
    facts.lowest = facts.highest = curve.at(0).y;
    constexpr double kApart = 0.5;  // metres
    for (const Curve::Sample& sample : curve.samples(0.01, kApart)) {
        facts.lowest = std::min(facts.lowest, sample.at.y);
        facts.highest = std::max(facts.highest, sample.at.y);
        const double steep = base::degrees(std::atan2(sample.way.y, std::hypot(sample.way.x, sample.way.z)));
        if (std::abs(steep) > std::abs(facts.steepestDegrees))
            facts.steepestDegrees = steep, facts.steepestAt = sample.metres;
        if (std::isfinite(sample.radius) && (facts.sharpestRadius == 0 || sample.radius < facts.sharpestRadius))
            facts.sharpestRadius = sample.radius, facts.sharpestAt = sample.metres;
    }
    return facts;
}

std::vector<ProfilePoint> profileOf(const Route& route, const Curve& curve, std::size_t count) {
    std::vector<ProfilePoint> all;
    if (curve.empty() || count < 2) return all;
    const Pace pace(route, curve);
    for (std::size_t i = 0; i < count; ++i) {
        const double m = curve.length() * static_cast<double>(i) / static_cast<double>(count - 1);
        // The end of a closed one is its beginning.
        all.push_back({m, curve.at(i + 1 == count && curve.isClosed() ? 0 : m).y, pace.at(m)});
    }
    return all;
}

std::optional<std::pair<double, double>> crossingOf(const Curve& curve, double apart, double height) {
    struct Leg {
        Vec3 a, b;
        double from, to;
    };
    std::vector<Leg> legs;
    const std::vector<Curve::Sample> samples = curve.samples(0.05);
    for (std::size_t i = 1; i < samples.size(); ++i)
        legs.push_back({samples[i - 1].at, samples[i].at, samples[i - 1].metres, samples[i].metres});
    // Swept along x: only those that overlap there can meet.
    std::vector<std::size_t> order(legs.size());
    for (std::size_t i = 0; i < order.size(); ++i) order[i] = i;
    const auto low = [&](std::size_t i) { return std::min(legs[i].a.x, legs[i].b.x) - apart; };
    const auto high = [&](std::size_t i) { return std::max(legs[i].a.x, legs[i].b.x) + apart; };
    std::ranges::sort(order, {}, low);
    std::optional<std::pair<double, double>> first;
    std::vector<std::size_t> open;
    for (const std::size_t i : order) {
        std::erase_if(open, [&](std::size_t k) { return high(k) < low(i); });
        for (const std::size_t k : open) {
            const Leg &one = legs[std::min(i, k)], &other = legs[std::max(i, k)];
            // What follows on itself is near itself.
            const double along = other.from - one.to, round = one.from + curve.length() - other.to;
            if (along < 2 * apart + 1e-6 || (curve.isClosed() && round < 2 * apart + 1e-6)) continue;
            const Vec3 d1 = flat(one.b - one.a), d2 = flat(other.b - other.a), between = flat(other.a - one.a);
            const double cross = d1.x * d2.z - d1.z * d2.x;
            if (std::abs(cross) < 1e-12) continue;
            const double s = (between.x * d2.z - between.z * d2.x) / cross;
            const double t = (between.x * d1.z - between.z * d1.x) / cross;
            if (s < 0 || s > 1 || t < 0 || t > 1) continue;
            if (std::abs(glm::mix(one.a.y, one.b.y, s) - glm::mix(other.a.y, other.b.y, t)) > height) continue;
            const std::pair found{glm::mix(one.from, one.to, s), glm::mix(other.from, other.to, t)};
            if (!first || found < *first) first = found;
        }
        open.push_back(i);
    }
    return first;
}

base::Transform poseOn(const Curve& curve, double metres, double aside, double up) {
    const Vec3 way = curve.direction(metres);
    const double heading = std::hypot(way.x, way.z) < 1e-9 ? 0 : std::atan2(way.x, way.z);
    base::Transform pose;
    pose.rotation = glm::angleAxis(heading, Vec3(0, 1, 0));
    // Right of the way, as one looks along it.
    pose.position = curve.at(metres) + Vec3(-std::cos(heading), 0, std::sin(heading)) * aside + Vec3(0, up, 0);
    return pose;
}

}  // namespace query
