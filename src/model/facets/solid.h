#pragma once
#include <cstdint>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// A plain body made here: its mesh follows from these numbers. Its base stands on the object's origin.
struct Solid {
    enum class Shape : std::uint8_t { Box, Wedge, Cylinder, Cone, Sphere, Plane, Stairs, Wall };
    Shape shape = Shape::Box;
    base::Vec3 size{1.0};  ///< metres along the own axes, each above 0; a plane's y is not used
    int parts = 0;         ///< sides of what is round, steps of stairs; 0: as many as suits the size
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Solid&, const Solid&) = default;
};

/// What a shape is called in files and for people: "box".
const std::string& solidName(Solid::Shape shape);
/// The shape of that name.
std::optional<Solid::Shape> solidShape(std::string_view name);

}  // namespace model
