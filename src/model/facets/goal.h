#pragma once
#include <string>

#include "model/facet.h"

namespace model {

/// What the player is asked to reach. Cues set it, and say when it is met or missed.
struct Goal {
    std::string words;       ///< what the player reads: "Raise the barge"
    std::int64_t order = 0;  ///< among those that are set, the lowest first
    bool held = false;       ///< held back until a cue sets it; else set at the start
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Goal&, const Goal&) = default;
};

}  // namespace model
