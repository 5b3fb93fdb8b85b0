#pragma once
// The lie of the land: 400 m x 240 m, a canal along X that climbs eastwards through lock chambers.
#include "modelling.h"

namespace demo {

/// Height of the ground at a place, metres. Under water it is the bed.
double groundHeight(double x, double z);
/// Height of the towpath level at a place along the canal.
double bankLevel(double x);
/// Height of the water at a place along the canal.
double waterLevel(double x);

DemoItem valleyGround();

constexpr double kBasinWest = -66, kBasinEast = -10, kBasinHalf = 13;  ///< the lower basin
constexpr double kLockWest = 2, kLockEast = 32, kCanalHalf = 4.6;      ///< the first chamber

}  // namespace demo
