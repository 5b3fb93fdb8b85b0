#pragma once
#include <cstdint>
#include <optional>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// What physics does with an object, and what others bump into instead of its mesh.
struct Body {
    enum class Role : std::uint8_t { Fixed, Guided, Loose };
    enum class Shape : std::uint8_t { Mesh, Box, Sphere, Capsule, Hull };
    /// When what is loose begins to fall.
    enum class Wakes : std::uint8_t { AtOnce, WhenBumped, ByCue };
    Role role = Role::Fixed;
    Wakes wakes = Wakes::AtOnce;
    Shape shape = Shape::Box;
    bool fitted = true;        ///< the shape follows from the mesh; a mesh and a hull always do
    base::Vec3 centre{0.0};    ///< when not fitted; own axes, metres
    base::Vec3 size{1.0};      ///< when not fitted; a sphere is as wide as the largest, a capsule lies along it
    double massKilograms = 0;  ///< 0: of its kind, else by its volume
    /// Of the kind, else the usual, when not said.
    std::optional<double> friction, bounce;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Body&, const Body&) = default;
};

}  // namespace model
