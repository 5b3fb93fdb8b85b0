#pragma once
// How much room there is along a route, between what others bump into. Metres; one thread for each index.
#include <limits>
#include <optional>

#include "query/route.h"
#include "query/scene_index.h"

namespace query {

struct Passage {
    static constexpr double kOpen = std::numeric_limits<double>::infinity();  ///< nothing is near
    double narrowest = kOpen, narrowestAt = 0;  ///< from side to side, level and across; where
    double lowest = kOpen, lowestAt = 0;        ///< up to what hangs over it
    /// Where it lacks most of the width, or of the height, that the route wants.
    std::optional<double> tightAt, lowAt;
    double tight = 0, low = 0;        ///< what there is there: across, twice what there is to the nearer side
    std::optional<double> blockedAt;  ///< the first place where it goes through something
    model::Slot blockedBy = model::kNoSlot;
};
/// Looked at from so many places on, at most. What is part of the route, stops at it, or does not pass the filter is
/// not in the way.
Passage passageOf(const model::Scene& scene, const SceneIndex& index, model::Slot route, const shape::Curve& curve,
                  std::size_t most = 2000, const SlotFilter& filter = {});

}  // namespace query
