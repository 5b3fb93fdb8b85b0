#pragma once
// Distances, angles and heights between points that were picked one after the other. Values.
#include <vector>

#include "base/math.h"

namespace query {

struct Measure {
    std::vector<base::Vec3> points;  ///< world, metres

    /// From point i to the next, metres.
    double length(std::size_t i) const { return glm::length(points[i + 1] - points[i]); }
    base::Vec3 span(std::size_t i) const { return points[i + 1] - points[i]; }
    /// Along all of them.
    double total() const;
    /// At point i (neither the first nor the last), degrees; 180: straight on.
    double degreesAt(std::size_t i) const;
    /// How steep the way from point i to the next is, degrees; up is positive.
    double slopeDegrees(std::size_t i) const;
};

}  // namespace query
