#pragma once
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// One of an object's points. Its number is its place in the list.
struct PlacePoint {
    std::string name;
    base::Vec3 at{0.0};                 ///< metres; own axes, or the world's when the set stays
    std::optional<double> turnDegrees;  ///< which way one faces there, about up
    double radiusMetres = 0;            ///< 0: a bare point
    std::optional<base::Vec3> colour;   ///< linear RGB; nothing: the set's
    Unknown unknown;
    friend bool operator==(const PlacePoint&, const PlacePoint&) = default;
};
struct PointSet {
    static constexpr std::size_t kMost = 100'000;
    bool stays = false;  ///< the points are where they are in the world, wherever the object goes
    base::Vec3 colour{0.29, 0.55, 0.85};
    std::vector<PlacePoint> points;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const PointSet&, const PointSet&) = default;
};

}  // namespace model
