// Solids: pieces that are too many for what they make, slivers, and too much in one place.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "ops/solid_edit.h"

namespace check {

namespace {

const model::Solid* solidOf(const Subject& s, Slot slot) {
    return s.scene.facet<model::Solid>(slot);
}

void manyPieces(const Subject& s, Slot slot, Report& r) {
    const model::Solid* solid = solidOf(s, slot);
    if (solid == nullptr) return;
    const std::size_t pieces = query::piecesOf(*solid).size();
    const double across = glm::length(solid->size), most = r.number("most") * std::max(1.0, across / 10);
    if (static_cast<double>(pieces) <= most) return;
    r.add(s.scene.id(slot), fmt::format("{} is made of {} pieces, for {} across: more than {:.0f}.", named(s, slot),
                                        pieces, metres(across), most));
}
Status mergeThem(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    return ops::mergePieces(draft, f.object);
}

/// How thick a piece is where it is thinnest.
double thinnest(const shape::Convex& piece) {
    double least = 1e300;
    for (const shape::ConvexFace& face : piece.faces) {
        const shape::Plane plane = shape::planeOf(piece, face);
        double deepest = 0;
        for (const base::Vec3& corner : piece.corners) deepest = std::min(deepest, plane.height(corner));
        least = std::min(least, -deepest);
    }
    return least;
}

void slivers(const Subject& s, Slot slot, Report& r) {
    const model::Solid* solid = solidOf(s, slot);
    if (solid == nullptr) return;
    const bool cut = solid->shape == model::Solid::Shape::Plain || !solid->openings.empty();
    if (!cut) return;  // as thin as it was drawn
    const double least = r.number("least");
    for (const shape::Convex& piece : query::piecesOf(*solid))
        if (const double thin = thinnest(piece); thin < least) {
            r.add(s.scene.id(slot), fmt::format("A piece of {} is {} thin.", named(s, slot), metres(thin)));
            return;
        }
}

void crowded(const Subject& s, Slot, Report& r) {
    const double size = r.number("size"), most = r.number("most");
    struct Area {
        double pieces = 0;
        Slot largest = kNoSlot;
        std::size_t largestPieces = 0;
    };
    std::map<std::pair<long, long>, Area> areas;
    for (Slot slot = 0; slot < s.scene.slotEnd(); ++slot) {
        const model::Solid* solid = s.scene.alive(slot) ? solidOf(s, slot) : nullptr;
        if (solid == nullptr) continue;
        const std::size_t pieces = query::piecesOf(*solid).size();
        const base::Vec3 at = s.scene.world(slot).translation;
        Area& area = areas[{std::lround(std::floor(at.x / size)), std::lround(std::floor(at.z / size))}];
        area.pieces += static_cast<double>(pieces);
        if (pieces >= area.largestPieces) area.largest = slot, area.largestPieces = pieces;
    }
    for (const auto& [place, area] : areas)
        if (area.pieces > most)
            r.add(s.scene.id(area.largest),
                  fmt::format("Around {} solids are made of {:.0f} pieces: more than {:.0f} in {}.",
                              named(s, area.largest), area.pieces, most, metres(size)));
}

}  // namespace

std::vector<Rule> solidRules() {
    const std::string group = "Solids";
    using Looks = Rule::Looks;
    std::vector<Rule> rules;
    rules.push_back({"solid-pieces",
                     group,
                     "Too many pieces for its size",
                     "Each cut adds some; what is convex together can be one again.",
                     Severity::Hint,
                     {amount("most", "Pieces up to", "", 100, 1, 4096, "For each 10 m across")},
                     Looks::Own,
                     manyPieces,
                     "Merge its pieces",
                     mergeThem});
    rules.push_back({"solid-sliver",
                     group,
                     "Sliver of a solid",
                     "A cut went so near to an edge that next to nothing is left beside it.",
                     Severity::Caution,
                     {amount("least", "Thick at least", "m", 0.005, 0.0001, 1)},
                     Looks::Own,
                     slivers,
                     {},
                     {}});
    rules.push_back(
        {"solid-area",
         group,
         "Too many pieces in one place",
         "Rehearsals and the game bump into each of them.",
         Severity::Caution,
         {amount("most", "Pieces up to", "", 4096, 1, 1e6), amount("size", "Size of an area", "m", 50, 1, 1e5)},
         Looks::Scene,
         crowded,
         {},
         {}});
    return rules;
}

}  // namespace check
