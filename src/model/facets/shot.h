#pragma once
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// One of the zones that a camera watches.
struct ShotZone {
    base::ObjectId zone;
    Unknown unknown;
    friend bool operator==(const ShotZone&, const ShotZone&) = default;
};

/// How a camera shows the level while it is played: what it does, for whom, and when.
struct Shot {
    static constexpr std::size_t kMostZones = 64;
    enum class Does : std::uint8_t { Stays, Turns, Follows, Rides };
    enum class Seen : std::uint8_t { Player, Object };
    enum class Along : std::uint8_t { World, Own };
    enum class Walls : std::uint8_t { Through, PullIn, Lift };
    Does does = Does::Turns;
    Seen seen = Seen::Player;        ///< whom it looks at or follows
    base::ObjectId object;           ///< that object
    double height = 1.2;             ///< metres above the foot of whom, that it looks at
    base::Vec3 offset{0, 2.5, 5.0};  ///< of what follows: from there, metres
    Along along = Along::World;      ///< in the directions of the world, or of whom it follows
    base::ObjectId path;             ///< of what rides: the object whose points it rides along
    double lag = 0.3;                ///< seconds in which it makes good two thirds of what it is behind
    std::vector<ShotZone> zones;     ///< it shows while the player is in one of them; none: where no other does
    double weight = 1;               ///< where several show, the heaviest
    double glideSeconds = 0.8;       ///< from the one before to this one; 0: it cuts
    Walls walls =
        Walls::Through;       ///< what stands between it and whom it sees: nothing is done, it comes nearer, or rises
    double keepMetres = 0.3;  ///< from walls
    Unknown unknown;
    bool looks() const { return does != Does::Stays; }
    static const FacetType& type();
    friend bool operator==(const Shot&, const Shot&) = default;
};

}  // namespace model
