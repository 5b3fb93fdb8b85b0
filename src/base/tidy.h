#pragma once
// Numbers that were reckoned, without the noise that reckoning leaves. What was typed never goes through here.
#include <cmath>

#include "base/math.h"

namespace base {

/// The decimal that `value` must have been meant as: a whole number of parts, `parts` (a power of ten) to the unit,
/// that is nearer than single precision can tell apart; else `value` as it is.
inline double tidied(double value, double parts = 1e4) {
    const double count = std::nearbyint(value * parts);
    if (!(std::abs(count) < 1e14)) return value;
    // Divided, not multiplied by a part: that gives the very number that is read from its digits.
    const double decimal = count / parts + 0.0;
    return std::abs(value - decimal) <= 1e-7 + 6e-8 * std::abs(value) ? decimal : value;
}

inline Vec3 tidied(const Vec3& v) {
    return {tidied(v.x), tidied(v.y), tidied(v.z)};
}

/// What a verb made of the pose `before`: what it left alone stays to the last bit. A place that goes with a new size
/// stays as reckoned, too, for the two of them keep a side where it was.
inline Transform tidied(Transform pose, const Transform& before) {
    const bool sized = pose.scale != before.scale;
    for (int k = 0; k < 3; ++k) {
        if (!sized && pose.position[k] != before.position[k]) pose.position[k] = tidied(pose.position[k]);
        if (pose.scale[k] != before.scale[k]) {
            const double whole = tidied(pose.scale[k], 1e6);
            if (std::abs(whole - pose.scale[k]) <= 1e-12 * std::abs(whole)) pose.scale[k] = whole;
        }
    }
    return pose;
}

}  // namespace base
