#pragma once
#include <array>
#include <cstdint>
#include <vector>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// Where one stands along a route; it follows from the route (ops::setArray).
struct ArrayPlace {
    base::Vec3 at{0.0};      ///< own axes of the array, metres
    double turnDegrees = 0;  ///< about up
    Unknown unknown;
    friend bool operator==(const ArrayPlace&, const ArrayPlace&) = default;
};

/// The first child repeated, in the object's own axes (ops::setArray keeps the children so). Along a route: that of the
/// object that it lies below.
struct Array {
    enum class Shape : std::uint8_t { Row, Grid, Ring, Route };
    Shape shape = Shape::Row;
    std::array<int, 3> counts{3, 1, 1};  ///< row and ring: the first; grid: along x, y, z; the original counts
    base::Vec3 spacing{2, 0, 0};         ///< metres; row: from one to the next; grid: along each axis
    double radiusMetres = 3;             ///< ring
    double sweepDegrees = 360;           ///< ring: of a part of one, from the first to the last
    double fromMetres = 0;               ///< route: of the first
    double everyMetres = 0;              ///< route: between two, as many as there is room for; 0: as many as counted
    bool turned = true;                  ///< route: with its way
    std::vector<ArrayPlace> places;      ///< route: of each
    double turnDegrees = 0;              ///< from one to the next, about up
    double size = 1;                     ///< times, from one to the next
    double jitterMetres = 0;             ///< by chance, level, up to so much either way; not the original
    double jitterDegrees = 0;            ///< about up
    double jitterSize = 0;               ///< a share, 0..0.9
    std::uint64_t seed = 1;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Array&, const Array&) = default;
};

}  // namespace model
