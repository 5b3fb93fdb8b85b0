#pragma once
#include <cstdint>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// A volume that means something. It stands on the object's origin; a sphere lies round it.
struct Zone {
    enum class Shape : std::uint8_t { Box, Sphere, Polygon };
    Shape shape = Shape::Box;
    base::Vec3 size{4, 3, 4};         ///< metres, own axes; a sphere's x is its diameter, a polygon's y its height
    std::vector<base::Vec2> corners;  ///< of a polygon: x and z, metres, own axes; three or more
    base::Vec3 colour{0.45, 0.62, 0.32};
    bool water = false;  ///< one swims in it, and what is light floats
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Zone&, const Zone&) = default;
};
/// Is a point within it, in the zone's own axes?
bool isInside(const Zone& zone, const base::Vec3& own);

/// Round it, own axes.
base::Aabb boxOf(const Zone& zone);

}  // namespace model
