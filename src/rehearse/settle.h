#pragma once
// What comes of loose things when they are let go where they stand: do they stay, move, tip, fall?
#include <span>

#include "base/progress.h"
#include "base/result.h"
#include "rehearse/level.h"

namespace query {
class SceneIndex;
}

namespace rehearse {

/// What became of one.
struct Rest {
    base::ObjectId object;
    base::Affine motion;      ///< from where it stood to where it came to rest, in the world
    double metres = 0;        ///< how far it went
    double degrees = 0;       ///< how far it turned
    bool rests = false;       ///< it stands still by the end
    bool lost = false;        ///< it fell out of the level, or was flung
    base::ObjectId inside;    ///< what it was inside of when it began; zero: of nothing
    double insideMetres = 0;  ///< how deep
    bool moves(double over = 0.05) const { return metres > over; }
    bool tips() const { return degrees > 25; }
    bool isFine(double over = 0.05) const { return rests && !lost && !inside && !moves(over) && !tips(); }
};
/// "Crate 3 tips over", "Crate 3 moves by 0.12 m": what is wrong with it; empty: nothing.
std::string textOf(const Rest& rest, const model::Scene& scene, double over = 0.05);

/// Lets just these fall, for at most so long; everything else stands. What lies below another of them goes with it.
/// In the order of the tree; what has no shape is left out. Errors: Cancelled.
base::Result<std::vector<Rest>> settle(std::shared_ptr<const model::Scene> scene, LevelSources sources,
                                       std::span<const base::ObjectId> ids, double seconds, base::Progress& progress);
/// What is bumped into, as an index has it. The index must stay.
query::Shapes shapesIn(const query::SceneIndex& index);
/// The loose things of a scene, in the order of the tree.
std::vector<base::ObjectId> looseOf(const model::Scene& scene);

}  // namespace rehearse
