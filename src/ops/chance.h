#pragma once
// Placing with chance: each a little different from the last, within ranges.
#include <string>
#include <vector>

#include "ops/objects.h"

namespace ops {

/// How what is placed differs from one to the next.
struct Chances {
    double turnDegrees = 180;          ///< up to this much either way about up
    double smallest = 1, largest = 1;  ///< times its own size
    double tint = 0;                   ///< 0..1: how much darker and otherwise coloured it may be
    bool variations = false;           ///< also the other items of the same name with another number
    std::string mix{};                 ///< instead: an item of this mix of the project, by its shares
};

/// Items that are variations of one another ("reed-clump-1", "reed-clump-2"), in order; with `item` among them.
std::vector<std::string> variationsOf(const model::Library& library, const std::string& item);

/// A colour to multiply with, linear RGB: at most `share` (0..1) away from white.
base::Vec3 tintByChance(base::Random& random, double share);

/// Turns and sizes what is to be placed, and chooses its variation, by chance.
void vary(edit::Session& session, Placement& placement, const Chances& chances, base::Random& random);

/// Places `placement`'s item, or a variation of it, turned, sized and tinted by chance. Errors: as place().
base::Result<base::ObjectId> placeByChance(edit::Draft& draft, Placement placement, const Chances& chances,
                                           base::Random& random);

}  // namespace ops
