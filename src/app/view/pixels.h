#pragma once
// Pixels as Qt and as the core write them.
#include <QPointF>
#include <optional>

#include "base/math.h"

namespace app {

inline base::Vec2 toVec(const QPointF& p) {
    return {p.x(), p.y()};
}
inline QPointF toQt(const base::Vec2& p) {
    return {p.x, p.y};
}

/// The point of a line (through a point, along a unit vector) that lies nearest to a ray; nothing: they are parallel.
inline std::optional<base::Vec3> nearestOnLine(const base::Ray& ray, const base::Vec3& through,
                                               const base::Vec3& along) {
    const base::Vec3 between = ray.origin - through;
    const double a = glm::dot(ray.direction, ray.direction), b = glm::dot(ray.direction, along);
    const double d = glm::dot(ray.direction, between), e = glm::dot(along, between), low = a - b * b;
    if (low < 1e-9) return std::nullopt;
    return through + along * ((a * e - b * d) / low);
}

}  // namespace app
