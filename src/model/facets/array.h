#pragma once
#include <array>
#include <cstdint>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// The first child repeated, in the object's own axes (ops::setArray keeps the children so).
struct Array {
    enum class Shape : std::uint8_t { Row, Grid, Ring };
    Shape shape = Shape::Row;
    std::array<int, 3> counts{3, 1, 1};  ///< row and ring: the first; grid: along x, y, z; the original counts
    base::Vec3 spacing{2, 0, 0};         ///< metres; row: from one to the next; grid: along each axis
    double radiusMetres = 3;             ///< ring
    double sweepDegrees = 360;           ///< ring: of a part of one, from the first to the last
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
