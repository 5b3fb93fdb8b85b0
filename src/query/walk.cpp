#include "query/walk.h"

#include <algorithm>
#include <cmath>

namespace query {
namespace {

using base::Vec3;
using model::Scene;
using model::Walker;

constexpr double kFarthestDrop = 200;  // metres

/// The wall in the way of a body that goes by `by`: the nearest hit at knee, chest and eye height.
std::optional<SceneHit> wallAhead(const Scene& scene, const SceneIndex& index, const Vec3& from, const Vec3& by,
                                  const Walker& walker, const SlotFilter& filter) {
    const double length = glm::length(by);
    std::optional<SceneHit> nearest;
    for (const double height :
         {walker.stepHeight + 0.02, (walker.stepHeight + walker.eyeHeight) / 2, walker.eyeHeight}) {
        const auto hit = index.pick(scene, {from + Vec3(0, height, 0), by / length}, filter);
        if (!hit || hit->distance > length + walker.radius) continue;
        if (hit->normal.y >= std::cos(base::radians(walker.slopeDegrees))) continue;  // ground to walk on
        if (!nearest || hit->distance < nearest->distance) nearest = hit;
    }
    return nearest;
}

/// One short stride; nothing when it cannot be made.
std::optional<Vec3> stride(const Scene& scene, const SceneIndex& index, const Vec3& from, const Vec3& by,
                           const Walker& walker, const SlotFilter& filter) {
    if (wallAhead(scene, index, from, by, walker, filter)) return std::nullopt;
    return floorBelow(scene, index, from + by + Vec3(0, walker.stepHeight, 0), walker,
                      kFarthestDrop + walker.stepHeight, filter);
}

}  // namespace

std::optional<Vec3> floorBelow(const Scene& scene, const SceneIndex& index, const Vec3& point, const Walker& walker,
                               double drop, const SlotFilter& filter) {
    const auto hit = index.pick(scene, {point, {0, -1, 0}}, filter);
    if (!hit || hit->distance > drop || hit->normal.y < std::cos(base::radians(walker.slopeDegrees)))
        return std::nullopt;
    return hit->point;
}

Vec3 walk(const Scene& scene, const SceneIndex& index, const Vec3& from, const Vec3& by, const Walker& walker,
          const SlotFilter& filter) {
    const Vec3 flat(by.x, 0, by.z);
    const double length = glm::length(flat);
    if (length < 1e-9) return from;
    const int strides = static_cast<int>(std::ceil(length / std::max(walker.radius / 2, 0.05)));
    Vec3 at = from, each = flat / static_cast<double>(strides);
    for (int i = 0; i < std::min(strides, 400); ++i) {
        auto next = stride(scene, index, at, each, walker, filter);
        if (!next)
            if (const auto wall = wallAhead(scene, index, at, each, walker, filter)) {
                // What is left of the stride along the wall.
                Vec3 across(wall->normal.x, 0, wall->normal.z);
                if (glm::length(across) < 1e-6) break;
                across = glm::normalize(across);
                const Vec3 along = each - across * glm::dot(each, across);
                if (glm::length(along) > 1e-6) next = stride(scene, index, at, along, walker, filter);
            }
        if (!next) break;
        at = *next;
    }
    return at;
}

}  // namespace query
