#pragma once
#include <cstdint>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// What physics does with an object, and what others bump into instead of its mesh.
struct Body {
    enum class Role : std::uint8_t { Fixed, Guided, Loose, LooseWhenTouched };
    enum class Shape : std::uint8_t { Mesh, Box, Sphere, Capsule, Hull };
    Role role = Role::Fixed;
    Shape shape = Shape::Box;
    bool fitted = true;        ///< the shape follows from the mesh; a mesh and a hull always do
    base::Vec3 centre{0.0};    ///< when not fitted; own axes, metres
    base::Vec3 size{1.0};      ///< when not fitted; a sphere is as wide as the largest, a capsule lies along it
    double massKilograms = 0;  ///< 0: as the game reckons it
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Body&, const Body&) = default;
};

}  // namespace model
