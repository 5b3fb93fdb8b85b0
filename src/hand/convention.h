#pragma once
// How another program says where a thing stands: its axes, its unit, its angles. Poses go there and come back. Pure;
// any thread.
#include <array>
#include <string>
#include <vector>

#include "base/math.h"
#include "base/result.h"

namespace hand {

enum class AngleUnit { Degrees, Radians, Turns };

struct Convention {
    /// Which of ours each of their axes is: 0, 1, 2 for x, y, z; `sign` -1: it points the other way.
    std::array<int, 3> axis{0, 1, 2};
    std::array<int, 3> sign{1, 1, 1};
    double metres = 1;  ///< one of their units
    AngleUnit angles = AngleUnit::Degrees;
    std::array<int, 3> order{1, 0, 2};  ///< their axes, the outermost turn first: 1 0 2 is heading, pitch, roll
    std::array<int, 3> turns{1, 1, 1};  ///< by axis; -1: counted the other way round
    bool positive = false;              ///< from 0 up to a full turn, else from minus half a turn to half a turn

    /// Left-handed axes: then what turns one way here turns the other there, by the same rule of the other hand.
    bool mirrors() const;
    double fullTurn() const;
    friend bool operator==(const Convention&, const Convention&) = default;
};

/// "x -z y": their first axis is ours, their second points against our z. Errors: BadInput, unless each is named once.
base::Status readAxes(const std::string& text, Convention& into);
std::string axesText(const Convention& convention);
/// "yxz". Errors: BadInput, unless each is named once.
base::Status readOrder(const std::string& text, Convention& into);
std::string orderText(const Convention& convention);

/// A pose in their terms.
struct TheirPose {
    base::Vec3 position{0.0};         ///< in their unit
    base::Vec3 turns{0.0};            ///< about their axes x, y, z, in their unit of angle
    base::Quat rotation{1, 0, 0, 0};  ///< the same turn
    base::Vec3 size{1.0};             ///< along their axes
};
TheirPose toTheirs(const Convention& convention, const base::Transform& ours);
/// From position, rotation and size.
base::Transform toOurs(const Convention& convention, const TheirPose& theirs);
/// What angles about their axes come to; any number of full turns.
base::Quat rotationOf(const Convention& convention, const base::Vec3& turns);
/// Within the range that it wants.
double inRange(const Convention& convention, double angle);

}  // namespace hand
