#include "query/measure.h"

#include <cmath>

namespace query {

double Measure::total() const {
    double sum = 0;
    for (std::size_t i = 0; i + 1 < points.size(); ++i) sum += length(i);
    return sum;
}

double Measure::degreesAt(std::size_t i) const {
    const base::Vec3 a = points[i - 1] - points[i], b = points[i + 1] - points[i];
    // Exact for small and for straight angles, where an arc cosine is not.
    return base::degrees(std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)));
}

double Measure::slopeDegrees(std::size_t i) const {
    const base::Vec3 d = span(i);
    return base::degrees(std::atan2(d.y, std::hypot(d.x, d.z)));
}

}  // namespace query
