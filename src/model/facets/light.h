#pragma once
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// A light at the object's origin; a spot shines along the object's -Z axis (as glTF's punctual lights do).
struct Light {
    enum class Shape { Point, Spot };
    Shape shape = Shape::Point;
    base::Vec3 colour{1.0};      ///< linear RGB, 0..1
    double intensity = 40.0;     ///< candela, above 0
    double reachMetres = 8.0;    ///< beyond it the light has no effect
    double innerDegrees = 20.0;  ///< spot: half angle of the full cone
    double outerDegrees = 35.0;  ///< spot: half angle where it ends, above inner, at most 90
    bool on = true;              ///< at the start of play
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Light&, const Light&) = default;
};

}  // namespace model
