#pragma once
// Laying: pieces whose footprint is whole cells, put down cell by cell on a lattice at one height. What lies in a cell
// already gives way; what is more than 16 cells wide is ground and stays. Out of a set of pieces the one is chosen that
// fits its neighbours.
#include <optional>
#include <set>

#include "model/assortment.h"
#include "ops/objects.h"
#include "query/scene_index.h"

namespace ops {

/// A lattice of square cells over the world's ground plane; a corner of one is at the world's zero.
struct Lattice {
    double cellMetres = 1;
    double heightMetres = 0;
    base::ObjectId parent;  ///< what is laid lies in; zero: the top
};
struct Cell {
    std::int64_t x = 0, z = 0;
    friend auto operator<=>(const Cell&, const Cell&) = default;
};
/// The cell a place of the world is in.
Cell cellAt(const Lattice& lattice, const base::Vec3& place);
/// All from one to another: a rectangle, or a line along the longer side.
std::vector<Cell> rectangle(const Cell& from, const Cell& to);
std::vector<Cell> lineOfCells(const Cell& from, const Cell& to);

/// How many cells an item takes along its x and its z; nothing: no whole number of them, within a hundredth.
struct Footprint {
    int x = 1, z = 1;
    friend bool operator==(const Footprint&, const Footprint&) = default;
};
std::optional<Footprint> footprintOf(const model::Item& item, double cellMetres);
/// The largest cell that an item takes a whole number of; nothing: its sides have no such.
std::optional<double> cellOf(const model::Item& item);

struct LaidPiece {
    std::string item;
    int quarters = 0;  ///< turns to the left, seen from above
    bool mirrored = false;
    friend bool operator==(const LaidPiece&, const LaidPiece&) = default;
};
/// What lies in a cell, and which cells it takes; nothing: nothing that was laid.
struct Laid {
    base::ObjectId id;
    LaidPiece piece;
    std::vector<Cell> cells;
};
std::optional<Laid> laidAt(const model::Scene& scene, const query::SceneIndex& index, const model::Library& library,
                           const Lattice& lattice, const Cell& cell);

/// What laying would do, before anything is written.
struct LayPlan {
    std::vector<std::pair<LaidPiece, Placement>> pieces;
    std::set<base::ObjectId> replaced;
    std::size_t unfit = 0;  ///< cells for which the set has no piece that fits
};
/// One piece over cells, as often as it goes whole into their rectangle; what it would lie across is left out. Errors:
/// NotFound for the item; BadInput: its footprint is no whole cells, too many cells, or a
/// lattice that cannot be.
base::Result<LayPlan> planPiece(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                                const Lattice& lattice, const LaidPiece& piece, std::span<const Cell> cells);
/// Pieces of a set: each goes on where its neighbours are of the set, too; those round about are chosen anew.
base::Result<LayPlan> planSet(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                              const Lattice& lattice, const model::PieceSet& set, std::span<const Cell> cells);
/// What clearing cells would take away; of a set, its neighbours close.
base::Result<LayPlan> planClear(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                                const Lattice& lattice, const model::PieceSet* set, std::span<const Cell> cells);

/// Does it; gives what was placed. Errors: Refused if what gives way is protected; nothing is written then.
base::Result<Ids> lay(edit::Draft& draft, const LayPlan& plan);

}  // namespace ops
