#include "ops/lights.h"

#include <algorithm>
#include <cmath>

#include "ops/facets.h"
#include "ops/move.h"
#include "ops/names.h"

namespace ops {
namespace {

using Pulls = LightGrip::Pulls;

constexpr double kLeastReach = 0.1;  // metres

struct Axes {
    base::Vec3 centre, ahead, side;
};

base::Vec3 unit(const base::Vec3& v, const base::Vec3& otherwise) {
    const double length = glm::length(v);
    return length > 1e-9 ? v / length : otherwise;
}

/// A spot shines along its own -Z; its cones are shown to its own X.
Axes axesOf(const model::Scene& scene, Slot slot) {
    const base::Affine& world = scene.world(slot);
    const base::Vec3 ahead = unit(world.linear * base::Vec3(0, 0, -1), {0, 0, -1});
    const base::Vec3 across = world.linear * base::Vec3(1, 0, 0);
    return {world.translation, ahead, unit(across - ahead * glm::dot(across, ahead), {1, 0, 0})};
}

base::Vec3 onCone(const Axes& axes, double degrees, double metres, double way) {
    const double angle = base::radians(degrees);
    return axes.centre + (axes.ahead * std::cos(angle) + axes.side * (way * std::sin(angle))) * metres;
}

}  // namespace

std::vector<LightGrip> lightGrips(const model::Scene& scene, Slot slot) {
    const auto* light = scene.facet<model::Light>(slot);
    if (light == nullptr) return {};
    const Axes axes = axesOf(scene, slot);
    if (light->shape == model::Light::Shape::Point) {
        const base::Vec3 east(1, 0, 0);
        return {{Pulls::Reach, axes.centre + east * light->reachMetres, east}};
    }
    const base::Vec3 across = glm::cross(axes.ahead, axes.side);
    return {{Pulls::Reach, axes.centre + axes.ahead * light->reachMetres, axes.ahead},
            {Pulls::Outer, onCone(axes, light->outerDegrees, light->reachMetres, 1), across},
            {Pulls::Inner, onCone(axes, light->innerDegrees, light->reachMetres, -1), across}};
}

model::Light pulledLight(const model::Scene& scene, Slot slot, const LightGrip& grip, const base::Vec3& to,
                         double stepMetres, double stepDegrees) {
    model::Light light = *scene.facet<model::Light>(slot);
    const Axes axes = axesOf(scene, slot);
    const base::Vec3 way = to - axes.centre;
    if (grip.pulls == Pulls::Reach) {
        light.reachMetres = std::clamp(snapped(glm::dot(way, grip.along), stepMetres), kLeastReach, 1e5);
        return light;
    }
    const double length = glm::length(way);
    if (!(length > 1e-9)) return light;
    const double angle = base::degrees(std::acos(std::clamp(glm::dot(way / length, axes.ahead), -1.0, 1.0)));
    const double degrees = std::clamp(snapped(angle, stepDegrees), 0.0, 90.0);
    if (grip.pulls == Pulls::Outer) {
        light.outerDegrees = std::max(degrees, 1.0);
        light.innerDegrees = std::min(light.innerDegrees, light.outerDegrees);
    } else {
        light.innerDegrees = std::min(degrees, light.outerDegrees);
    }
    return light;
}

Status setLight(edit::Draft& draft, ObjectId id, const model::Light& light) {
    return changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
        detail.put(light);
        return {};
    });
}

}  // namespace ops
