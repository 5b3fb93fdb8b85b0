#pragma once
// Something drawn over the view to explain or to be pulled: by scripts, by checks. Values, any thread.
#include <optional>
#include <string>

#include "base/id.h"
#include "base/math.h"

namespace model {

/// World, metres.
struct Mark {
    enum class Shape { Line, Arrow, Circle, Box, Label, Dot, Handle } shape = Shape::Dot;
    base::Vec3 a{0.0};        ///< its place; of a circle the centre, of a box the low corner
    base::Vec3 b{0.0};        ///< the other end; of a circle its axis, of unit length; of a box the high corner
    double radiusMetres = 0;  ///< of a circle
    std::optional<base::Vec3> colour;  ///< linear RGB; nothing: the usual one
    std::string text;                  ///< of a label; of a handle the property it changes
    base::ObjectId object;             ///< that a handle belongs to
    friend bool operator==(const Mark&, const Mark&) = default;
};

}  // namespace model
