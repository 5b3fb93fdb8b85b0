#pragma once
// Routes as curves in the world: how long they are, how steep, how sharp, and where along them things stand. Metres,
// degrees; any thread.
#include <optional>
#include <vector>

#include "model/facets/route.h"
#include "model/scene.h"
#include "shape/curve.h"

namespace query {

/// Of an object with a route, in the world; else nothing is in it.
shape::Curve curveOf(const model::Scene& scene, model::Slot route);
/// The same of a route that is not the scene's yet, in the axes of the object that it is of. `before`: what it was
/// like, of which what has not changed is not measured anew.
shape::Curve curveOf(const model::Route& route, const base::Affine& world, const shape::Curve* before = nullptr);

/// Its corners, between which it is as good as straight; empty for what has no route.
std::vector<base::Vec3> wayOf(const model::Scene& scene, model::Slot route);

/// Where a stop stands, by its place in the route's list.
struct StopAt {
    model::Slot slot = model::kNoSlot;  ///< kNoSlot: the object is gone
    double metres = 0, away = 0;        ///< along the curve; from it
    double turnDegrees = 0;             ///< of its front against the way the route goes there, about up; -180..180
};
std::vector<StopAt> stopsOf(const model::Scene& scene, model::Slot route, const shape::Curve& curve);

/// What a route says from there on, and its own otherwise.
double widthAt(const model::Route& route, const shape::Curve& curve, double metres);

struct RouteFacts {
    double lap = 0, length = 0;                  ///< once along; with all laps
    double seconds = 0;                          ///< with waits, of all laps, from standing to standing
    double steepestDegrees = 0, steepestAt = 0;  ///< up or down, the greater; where
    double sharpestRadius = 0, sharpestAt = 0;   ///< 0: it bends nowhere
    double lowest = 0, highest = 0;              ///< heights in the world
};
RouteFacts factsOf(const model::Route& route, const shape::Curve& curve);

/// Height and speed along it, at `count` places from its beginning to its end.
struct ProfilePoint {
    double metres = 0, height = 0, speed = 0;
};
std::vector<ProfilePoint> profileOf(const model::Route& route, const shape::Curve& curve, std::size_t count);

/// Where it comes within `apart` metres of itself, seen from above, and as near in height: metres along it, the
/// earlier first. The first such place; nothing: it does not.
std::optional<std::pair<double, double>> crossingOf(const shape::Curve& curve, double apart, double height);

/// A pose on a curve: there, upright, its front along it; moved aside (right of the way) and up.
base::Transform poseOn(const shape::Curve& curve, double metres, double aside = 0, double up = 0);

}  // namespace query
