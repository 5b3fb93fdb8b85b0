#pragma once
// An item that is about to be placed, where it would stand.
#include <string>

#include "base/id.h"
#include "base/math.h"

namespace app {

struct Ghost {
    std::string item;
    base::Vec3 position;  ///< where its base point lands, world
    base::Quat turn{1, 0, 0, 0};
    double size = 1;  ///< times its own
    bool mirrored = false;
    base::ObjectId course{};  ///< a route, of which it becomes a stop: it is on it, and stays as high
};

/// How what is placed next stands; kept from one to the next.
struct PlacedAs {
    double turnDegrees = 0;  ///< about up
    double size = 1;         ///< times its own
    double raisedMetres = 0;
};

}  // namespace app
