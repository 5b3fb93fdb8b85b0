#pragma once
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// One thing that moves when another is used.
struct UseTarget {
    base::ObjectId object;
    Unknown unknown;
    friend bool operator==(const UseTarget&, const UseTarget&) = default;
};

/// What a player can use, and what it moves then: guided bodies, each by itself about its own up or along its own axes.
struct Use {
    static constexpr std::size_t kMost = 64;
    std::string words;               ///< what the player reads: "Turn the windlass"
    double turnDegrees = 0;          ///< about the target's own up
    base::Vec3 slide{0.0};           ///< metres, along the target's own axes
    double afterSeconds = 0;         ///< from the use until it begins
    double seconds = 2;              ///< that it takes
    bool back = true;                ///< used again, it goes back
    std::vector<UseTarget> targets;  ///< none: the object itself
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Use&, const Use&) = default;
};

}  // namespace model
