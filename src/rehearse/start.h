#pragma once
// Where a run begins: what is wrong with that, and where one could stand instead.
#include "rehearse/world.h"

namespace rehearse {

/// How a start may be wrong.
struct StartFault {
    enum class What : std::uint8_t { Missing, InTheAir, InsideSomething, Several } what = What::Missing;
    base::ObjectId object;             ///< the start; zero when it is missing
    base::ObjectId other;              ///< what it is inside of
    std::optional<base::Vec3> mended;  ///< feet, where one could stand instead
    std::string text;                  ///< for people
};

/// Of the start that a run would have; none: it is well.
std::vector<StartFault> startFaults(const Level& level, const World& world);
/// Where one stands at or below a place, with room; nothing: nowhere near.
std::optional<base::Vec3> standNear(const Level& level, const World& world, const base::Vec3& feet);

}  // namespace rehearse
