#include "ops/lay.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "ops/names.h"

namespace ops {
namespace {

constexpr double kWhole = 0.01;   // of a cell: so far a footprint may be from whole cells
constexpr double kHeight = 0.01;  // metres: so far what lies in a cell may be from the lattice's height
constexpr std::size_t kMostCells = 40'000;
constexpr int kMostAcross = 16;  // cells: what is wider is ground on which one lays, and no piece

base::Quat quarterTurn(int quarters) {
    // Exact for the four there are.
    constexpr double kHalf = 0.70710678118654752440;
    const base::Quat all[] = {{1, 0, 0, 0}, {kHalf, 0, kHalf, 0}, {0, 0, 1, 0}, {kHalf, 0, -kHalf, 0}};
    return all[(quarters % 4 + 4) % 4];
}

Footprint turned(const Footprint& f, int quarters) {
    return quarters % 2 == 0 ? f : Footprint{f.z, f.x};
}

std::vector<Cell> cellsOf(const Cell& low, const Footprint& f) {
    std::vector<Cell> all;
    for (int x = 0; x < f.x; ++x)
        for (int z = 0; z < f.z; ++z) all.push_back({low.x + x, low.z + z});
    return all;
}

/// Its pose with its lowest cell at `low`: the middle of its footprint over the middle of its cells.
Placement placementOf(edit::Session& session, const Lattice& lattice, const model::Item& item, const LaidPiece& piece,
                      const Cell& low, const Footprint& f) {
    Placement p;
    p.item = session.intern(piece.item);
    p.parent = lattice.parent;
    p.rotation = quarterTurn(piece.quarters);
    p.mirrored = piece.mirrored;
    const double cell = lattice.cellMetres;
    const Vec3 middle((static_cast<double>(low.x) + f.x / 2.0) * cell, lattice.heightMetres,
                      (static_cast<double>(low.z) + f.z / 2.0) * cell);
    Vec3 off = item.landingPoint() - item.bounds.centre();
    if (piece.mirrored) off.x = -off.x;
    off.y = 0;
    p.position = middle + p.rotation * off;
    return p;
}

const model::Item* itemNamed(edit::Session& session, const std::string& name) {
    return session.library().item(session.intern(name));
}

/// The item an object was placed as: its own, or that of its prefab.
const model::Item* itemOf(const model::Library& library, const model::Scene& scene, Slot slot) {
    if (!scene.isInstance(slot)) return library.item(scene.item(slot));
    for (const model::Item& item : library.items())
        if (item.prefab == scene.detail(slot)->prefab->of) return &item;
    return nullptr;
}

/// What an object is on the lattice; nothing: it was not laid there.
std::optional<Laid> laidAs(const model::Scene& scene, const model::Library& library, const Lattice& lattice,
                           Slot slot) {
    const model::Item* item = itemOf(library, scene, slot);
    if (item == nullptr) return std::nullopt;
    const auto footprint = footprintOf(*item, lattice.cellMetres);
    if (!footprint || std::max(footprint->x, footprint->z) > kMostAcross) return std::nullopt;
    const base::Transform pose = base::toTransform(scene.world(slot));
    Laid laid{scene.id(slot), {item->name, 0, glm::determinant(scene.world(slot).linear) < 0}, {}};
    base::Affine own;
    own.linear = scene.world(slot).linear;
    const Vec3 z = glm::normalize(own.linear[2]), up = glm::normalize(own.linear[1]);
    const double angle = std::atan2(z.x, z.z) / (base::kPi / 2);
    if (up.y < 0.99999 || std::abs(angle - std::round(angle)) > 1e-3) return std::nullopt;
    laid.piece.quarters = (static_cast<int>(std::lround(angle)) % 4 + 4) % 4;
    for (int k = 0; k < 3; ++k)
        if (std::abs(std::abs(pose.scale[k]) - 1) > 1e-3) return std::nullopt;
    if (std::abs(scene.world(slot).point(item->landingPoint()).y - lattice.heightMetres) > kHeight) return std::nullopt;
    const base::Aabb box = base::mapped(item->bounds, scene.world(slot));
    const double x = box.low.x / lattice.cellMetres, zLow = box.low.z / lattice.cellMetres;
    if (std::abs(x - std::round(x)) > 2 * kWhole || std::abs(zLow - std::round(zLow)) > 2 * kWhole) return std::nullopt;
    laid.cells = cellsOf({std::llround(x), std::llround(zLow)}, turned(*footprint, laid.piece.quarters));
    return laid;
}

/// Which cells of the lattice hold what, as far as they were asked for; what is planned goes before.
class Ground {
  public:
    Ground(const model::Scene& scene, const query::SceneIndex& index, const model::Library& library,
           const Lattice& lattice)
        : scene_(scene), index_(index), library_(library), lattice_(lattice) {}

    const std::optional<Laid>& at(const Cell& cell) {
        const auto [place, isNew] = known_.try_emplace(cell);
        if (isNew) place->second = look(cell);
        return place->second;
    }

  private:
    std::optional<Laid> look(const Cell& cell) const {
        const double size = lattice_.cellMetres, inset = size * 0.1;
        base::Aabb box;
        box.add(Vec3(static_cast<double>(cell.x) * size + inset, lattice_.heightMetres - size,
                     static_cast<double>(cell.z) * size + inset));
        box.add(Vec3(static_cast<double>(cell.x + 1) * size - inset, lattice_.heightMetres + size,
                     static_cast<double>(cell.z + 1) * size - inset));
        std::optional<Laid> found;
        const Slot parent = lattice_.parent ? scene_.find(lattice_.parent) : kNoSlot;
        index_.overlapping(scene_, box, [&](Slot s) {
            while (s != kNoSlot && scene_.parent(s) != parent) s = scene_.parent(s);
            if (s == kNoSlot || scene_.hiddenInTree(s) || (found && found->id.value <= scene_.id(s).value)) return;
            auto laid = laidAs(scene_, library_, lattice_, s);
            if (laid && std::find(laid->cells.begin(), laid->cells.end(), cell) != laid->cells.end()) found = laid;
        });
        return found;
    }

    const model::Scene& scene_;
    const query::SceneIndex& index_;
    const model::Library& library_;
    const Lattice& lattice_;
    std::map<Cell, std::optional<Laid>> known_;
};

/// Can it be laid on at all?
Status usable(const Lattice& lattice, std::size_t cells) {
    if (!(lattice.cellMetres >= 0.01 && lattice.cellMetres <= 1000))
        return fail(ErrorCode::BadInput, "A cell is from 1 cm to 1,000 m wide.");
    if (!(std::abs(lattice.heightMetres) <= 1e5)) return fail(ErrorCode::BadInput, "The height is up to 100 km.");
    if (cells > kMostCells)
        return fail(ErrorCode::BadInput, fmt::format("More than {} cells at once cannot be laid.", kMostCells));
    return {};
}

constexpr std::pair<model::Side, Cell> kBeside[] = {
    {model::kNorth, {0, -1}}, {model::kEast, {1, 0}}, {model::kSouth, {0, 1}}, {model::kWest, {-1, 0}}};

int count(std::uint8_t sides) {
    return (sides & 1) + (sides >> 1 & 1) + (sides >> 2 & 1) + (sides >> 3 & 1);
}

/// The piece whose sides fit best; false in `fits`: none does.
LaidPiece fitting(const model::PieceSet& set, std::uint8_t sides, bool& fits) {
    LaidPiece best;
    int least = 99;
    for (const model::PieceSet::Piece& piece : set.pieces)
        for (int q = 0; q < 4; ++q) {
            const int off = count(static_cast<std::uint8_t>(model::turned(piece.joins, q) ^ sides));
            if (off < least) least = off, best = {piece.item, q, false};
        }
    fits = least == 0;
    return best;
}

/// Cells of a set are chosen by their neighbours; `in`: those that will be of it though they are not yet, `out`: no
/// more.
base::Result<LayPlan> planFitting(Ground& ground, edit::Session& session, const Lattice& lattice,
                                  const model::PieceSet& set, const std::set<Cell>& in, const std::set<Cell>& out) {
    const auto isOfSet = [&](const Cell& cell) {
        if (in.contains(cell)) return true;
        if (out.contains(cell)) return false;
        const auto& laid = ground.at(cell);
        return laid && set.pieceOf(laid->piece.item) != nullptr;
    };
    std::set<Cell> asked = in;
    for (const auto* cells : {&in, &out})
        for (const Cell& cell : *cells)
            for (const auto& [side, by] : kBeside)
                if (const Cell beside{cell.x + by.x, cell.z + by.z}; isOfSet(beside)) asked.insert(beside);
    LayPlan plan;
    for (const Cell& cell : asked) {
        std::uint8_t sides = 0;
        for (const auto& [side, by] : kBeside)
            if (isOfSet({cell.x + by.x, cell.z + by.z})) sides = static_cast<std::uint8_t>(sides | side);
        bool fits = true;
        const LaidPiece piece = fitting(set, sides, fits);
        plan.unfit += fits ? 0 : 1;
        const auto& there = ground.at(cell);
        if (there && there->piece.item == piece.item) {
            const auto* known = set.pieceOf(piece.item);
            if (known != nullptr && !there->piece.mirrored &&
                model::turned(known->joins, there->piece.quarters) == model::turned(known->joins, piece.quarters))
                continue;  // as it is it fits
        }
        const model::Item* item = itemNamed(session, piece.item);
        if (item == nullptr)
            return fail(ErrorCode::NotFound, fmt::format("The piece “{}” of the set is not there.", piece.item));
        const auto footprint = footprintOf(*item, lattice.cellMetres);
        if (!footprint || *footprint != Footprint{})
            return fail(ErrorCode::BadInput,
                        fmt::format("The piece “{}” is not one cell of {} m wide.", piece.item, lattice.cellMetres));
        if (there) plan.replaced.insert(there->id);
        plan.pieces.emplace_back(piece, placementOf(session, lattice, *item, piece, cell, *footprint));
    }
    return plan;
}

}  // namespace

Cell cellAt(const Lattice& lattice, const Vec3& place) {
    const auto along = [&](double v) {
        const double cell = v / lattice.cellMetres;
        return std::isfinite(cell) ? static_cast<std::int64_t>(std::floor(std::clamp(cell, -1e9, 1e9))) : 0;
    };
    return {along(place.x), along(place.z)};
}

std::vector<Cell> rectangle(const Cell& from, const Cell& to) {
    std::vector<Cell> all;
    for (std::int64_t x = std::min(from.x, to.x); x <= std::max(from.x, to.x) && all.size() <= kMostCells; ++x)
        for (std::int64_t z = std::min(from.z, to.z); z <= std::max(from.z, to.z) && all.size() <= kMostCells; ++z)
            all.push_back({x, z});
    return all;
}

std::vector<Cell> lineOfCells(const Cell& from, const Cell& to) {
    const bool alongX = std::llabs(to.x - from.x) >= std::llabs(to.z - from.z);
    return rectangle(from, alongX ? Cell{to.x, from.z} : Cell{from.x, to.z});
}

std::optional<Footprint> footprintOf(const model::Item& item, double cellMetres) {
    if (item.bounds.empty() || !(cellMetres > 0)) return std::nullopt;
    const auto cells = [&](double size) -> int {
        const double n = size / cellMetres;
        return n > 0.5 && n < 1000 && std::abs(n - std::round(n)) <= kWhole ? static_cast<int>(std::lround(n)) : 0;
    };
    const Footprint f{cells(item.bounds.size().x), cells(item.bounds.size().z)};
    return f.x > 0 && f.z > 0 ? std::optional(f) : std::nullopt;
}

std::optional<double> cellOf(const model::Item& item) {
    if (item.bounds.empty()) return std::nullopt;
    const double x = item.bounds.size().x, z = item.bounds.size().z, less = std::min(x, z);
    if (!(less > 0.01)) return std::nullopt;
    constexpr int kMostParts = 8;
    for (int parts = 1; parts <= kMostParts; ++parts) {
        const double cell = std::round(less / parts * 1e5) / 1e5;
        if (footprintOf(item, cell)) return cell;
    }
    return std::nullopt;
}

std::optional<Laid> laidAt(const model::Scene& scene, const query::SceneIndex& index, const model::Library& library,
                           const Lattice& lattice, const Cell& cell) {
    return Ground(scene, index, library, lattice).at(cell);
}

base::Result<LayPlan> planPiece(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                                const Lattice& lattice, const LaidPiece& piece, std::span<const Cell> cells) {
    if (Status fine = usable(lattice, cells.size()); !fine) return tl::unexpected(fine.error());
    const model::Item* item = itemNamed(session, piece.item);
    if (item == nullptr) return fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", piece.item));
    const auto own = footprintOf(*item, lattice.cellMetres);
    if (!own)
        return fail(ErrorCode::BadInput,
                    fmt::format("“{}” is {:.2f} × {:.2f} m wide: no whole number of cells of {} m.", item->label,
                                item->bounds.size().x, item->bounds.size().z, lattice.cellMetres));
    LayPlan plan;
    if (cells.empty()) return plan;
    const Footprint f = turned(*own, piece.quarters);
    Ground ground(scene, index, session.library(), lattice);
    Cell low = cells.front(), high = cells.front();
    for (const Cell& cell : cells) {
        low = {std::min(low.x, cell.x), std::min(low.z, cell.z)};
        high = {std::max(high.x, cell.x), std::max(high.z, cell.z)};
    }
    // Of what is wider than they are, one row, or one.
    high = {std::max(high.x, low.x + f.x - 1), std::max(high.z, low.z + f.z - 1)};
    for (std::int64_t x = low.x; x + f.x - 1 <= high.x; x += f.x)
        for (std::int64_t z = low.z; z + f.z - 1 <= high.z; z += f.z) {
            const std::vector<Cell> taken = cellsOf({x, z}, f);
            bool isThere = false;
            for (const Cell& cell : taken)
                if (const auto& laid = ground.at(cell)) {
                    isThere = isThere || (laid->piece == piece && laid->cells == taken);
                    if (!isThere) plan.replaced.insert(laid->id);
                }
            if (!isThere) plan.pieces.emplace_back(piece, placementOf(session, lattice, *item, piece, {x, z}, f));
        }
    return plan;
}

base::Result<LayPlan> planSet(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                              const Lattice& lattice, const model::PieceSet& set, std::span<const Cell> cells) {
    if (Status fine = usable(lattice, cells.size()); !fine) return tl::unexpected(fine.error());
    Ground ground(scene, index, session.library(), lattice);
    return planFitting(ground, session, lattice, set, {cells.begin(), cells.end()}, {});
}

base::Result<LayPlan> planClear(const model::Scene& scene, const query::SceneIndex& index, edit::Session& session,
                                const Lattice& lattice, const model::PieceSet* set, std::span<const Cell> cells) {
    if (Status fine = usable(lattice, cells.size()); !fine) return tl::unexpected(fine.error());
    Ground ground(scene, index, session.library(), lattice);
    LayPlan plan;
    std::set<Cell> out;
    std::set<base::ObjectId> gone;
    for (const Cell& cell : cells)
        if (const auto& laid = ground.at(cell)) {
            gone.insert(laid->id);
            out.insert(laid->cells.begin(), laid->cells.end());
        }
    if (set != nullptr) {
        auto closed = planFitting(ground, session, lattice, *set, {}, out);
        if (!closed) return closed;
        plan = std::move(*closed);
    }
    plan.replaced.insert(gone.begin(), gone.end());
    return plan;
}

base::Result<Ids> lay(edit::Draft& draft, const LayPlan& plan) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const Ids gone(plan.replaced.begin(), plan.replaced.end());
    if (Status free = refuseMoving(draft.scene(), gone, "replaced"); !free) return tl::unexpected(free.error());
    const edit::Draft::Mark mark = draft.mark();
    if (!gone.empty())
        if (Status removed = draft.remove(gone); !removed) return tl::unexpected(removed.error());
    std::vector<model::ObjectRecord> objects;
    Ids made;
    FreeNames& names = draft.freeNames();
    for (const auto& [piece, placement] : plan.pieces) {
        auto object = placed(draft, placement, names);
        if (!object) {
            draft.rollbackTo(mark);
            return tl::unexpected(object.error());
        }
        made.push_back(object->id);
        objects.push_back(std::move(*object));
    }
    if (objects.empty()) return made;
    if (Status created = draft.create(objects); !created) {
        draft.rollbackTo(mark);
        return tl::unexpected(created.error());
    }
    return made;
}

}  // namespace ops
