#include "query/contact.h"

#include <algorithm>
#include <cmath>

#include "query/columns.h"
#include "query/names.h"

namespace query {
namespace {

using base::Vec2;
using base::Vec3;

constexpr double kInset = 1e-4;  // metres: sides that only touch do not hold
constexpr double kThin = 1e-3;   // metres: a sheet is as thick as that, so that what it lies on counts

double topOf(const FallingBody& body) {
    return std::max(body.bounds.high.y, body.bounds.low.y + kThin);
}

/// The triangle's corners in the world, its front outwards also where it is mirrored.
Triangle inWorld(const shape::Mesh& mesh, std::size_t index, const base::Affine& world, bool mirrored) {
    Triangle t;
    for (std::size_t k = 0; k < 3; ++k) t[mirrored && k > 0 ? 3 - k : k] = world.point(shape::cornerOf(mesh, index, k));
    return t;
}

}  // namespace

void appendTriangles(const model::Scene& scene, const SceneIndex& index, Slot slot, const base::Aabb& box,
                     std::vector<Triangle>& out) {
    const MeshIndex* mesh = index.meshOf(scene, slot);
    const auto toLocal = base::inverse(scene.world(slot));
    if (mesh == nullptr || !toLocal) return;
    const base::Affine& world = scene.world(slot);
    const bool mirrored = glm::determinant(world.linear) < 0;
    mesh->overlapping(base::mapped(box, *toLocal),
                      [&](std::uint32_t triangle) { out.push_back(inWorld(mesh->mesh(), triangle, world, mirrored)); });
}

std::vector<Flat> flatsOf(const FallingBody& body, double inset) {
    const Vec3 centre = body.bounds.centre(), size = body.bounds.size();
    const Vec2 middle(centre.x, centre.z);
    const Vec2 share(1 - 2 * inset / std::max(size.x, 4 * inset), 1 - 2 * inset / std::max(size.z, 4 * inset));
    std::vector<Flat> flats;
    flats.reserve(body.triangles.size());
    for (const Triangle& t : body.triangles) {
        Triangle drawnIn = t;
        for (Vec3& p : drawnIn) {
            p.x = middle.x + (p.x - middle.x) * share.x;
            p.z = middle.y + (p.z - middle.y) * share.y;
        }
        flats.push_back(flatOf(drawnIn));
    }
    return flats;
}

FallingBody fallingBody(const model::Scene& scene, const SceneIndex& index, Slot top, const base::Affine& adjust) {
    FallingBody body;
    for (Slot s : scene.subtree(top)) {
        const MeshIndex* mesh = index.meshOf(scene, s);
        if (mesh == nullptr) continue;
        const base::Affine world = adjust * scene.world(s);
        const shape::Mesh& m = mesh->mesh();
        const bool mirrored = glm::determinant(world.linear) < 0;
        for (std::size_t i = 0; i < m.triangleCount(); ++i) {
            body.triangles.push_back(inWorld(m, i, world, mirrored));
            for (const Vec3& p : body.triangles.back()) body.bounds.add(p);
        }
    }
    if (body.triangles.empty() && &index != &index.seen()) return fallingBody(scene, index.seen(), top, adjust);
    return body;
}

FallingBody underside(const FallingBody& body, std::size_t cells) {
    FallingBody result;
    result.bounds = body.bounds;
    const Vec3 size = glm::max(body.bounds.size(), Vec3(1e-9));
    const auto count = static_cast<double>(cells);
    auto column = [&](double along, int axis) {
        return std::clamp((along - body.bounds.low[axis]) / size[axis] * count, 0.0, count - 1);
    };
    constexpr std::size_t kNone = ~std::size_t{0};
    struct Lowest {
        double y = kNever;
        std::size_t triangle = kNone;
    };
    std::vector<Lowest> lowest(cells * cells);
    auto offer = [&](double x, double z, double y, std::size_t triangle) {
        Lowest& cell = lowest[static_cast<std::size_t>(z) * cells + static_cast<std::size_t>(x)];
        if (y < cell.y) cell = {y, triangle};
    };
    for (std::size_t i = 0; i < body.triangles.size(); ++i) {
        const Flat flat = flatOf(body.triangles[i]);
        for (const Vec3& p : body.triangles[i]) offer(column(p.x, 0), column(p.z, 2), p.y, i);
        // The middles of the cells that it covers.
        for (double x = std::floor(column(flat.low.x, 0)); x <= column(flat.high.x, 0); ++x)
            for (double z = std::floor(column(flat.low.y, 2)); z <= column(flat.high.y, 2); ++z) {
                const Vec2 middle(body.bounds.low.x + (x + 0.5) / count * size.x,
                                  body.bounds.low.z + (z + 0.5) / count * size.z);
                if (const auto y = heightAt(flat, middle)) offer(x, z, *y, i);
            }
    }
    std::vector<std::size_t> kept;
    for (const Lowest& cell : lowest)
        if (cell.triangle != kNone) kept.push_back(cell.triangle);
    std::sort(kept.begin(), kept.end());
    kept.erase(std::unique(kept.begin(), kept.end()), kept.end());
    for (std::size_t i : kept) result.triangles.push_back(body.triangles[i]);
    return result;
}

namespace {

/// How far above its lower parts a surface still carries a body: one that lies in nothing needs no more than what its
/// corners, when they were drawn in, did not meet.
double reachOf(const FallingBody& body, double beside) {
    const double half = std::max(body.bounds.size().y / 2, kThin / 2);
    return beside > 0 ? std::min(2 * beside + 1e-6, half) : half;
}

}  // namespace

std::optional<double> fallOnto(const FallingBody& body, std::span<const Triangle> supports, double best,
                               double beside) {
    if (body.triangles.empty() || supports.empty()) return std::nullopt;
    std::vector<Flat> falling = flatsOf(body, kInset), standing;
    const double top = topOf(body);
    for (const Triangle& t : supports)
        if (const Flat flat = flatOf(t); flat.lowest <= top) standing.push_back(flat);
    if (standing.empty()) return std::nullopt;
    std::sort(falling.begin(), falling.end(), [](const Flat& a, const Flat& b) { return a.lowest < b.lowest; });
    std::sort(standing.begin(), standing.end(), [](const Flat& a, const Flat& b) { return a.highest > b.highest; });
    const double reach = reachOf(body, beside);
    // Its lowest face looks down: its triangles say which side is out.
    const auto lowestFace =
        std::find_if(falling.begin(), falling.end(), [](const Flat& flat) { return flat.faces != 0; });
    const bool upright = lowestFace != falling.end() && lowestFace->faces < 0;
    base::Aabb within = body.bounds;
    for (const int axis : {0, 2}) within.low[axis] += beside, within.high[axis] -= beside;
    const auto standsBeside = [&](const Flat& support) {
        return support.faces == 0 && (support.high.x < within.low.x || support.low.x > within.high.x ||
                                      support.high.y < within.low.z || support.low.y > within.high.z);
    };
    double fall = best;
    double over = reach;  // a wall's side carries from below only
    const auto meet = [&](const Vec2&, double part, double support) {
        if (support <= std::min(part + over, top)) fall = std::min(fall, part - support);
    };
    const Columns columns(standing, body.bounds, falling.size());
    for (const Flat& part : falling) {
        if (part.lowest - standing.front().highest >= fall) break;
        columns.each(part, [&](std::span<const std::uint32_t> column) {
            for (const std::uint32_t i : column) {
                const Flat& support = standing[i];
                if (part.lowest - support.highest >= fall) return;  // the others are lower still
                if (support.lowest > std::min(part.highest + reach, top)) continue;
                if (part.faces > 0 && support.faces < 0 && upright) continue;  // its upper side and an underside
                if (support.low.x > part.high.x || support.high.x < part.low.x || support.low.y > part.high.y ||
                    support.high.y < part.low.y)
                    continue;
                if (standsBeside(support)) continue;
                over = support.faces == 0 ? 0 : reach;
                eachMeeting(part, support, meet);
            }
        });
    }
    return fall < best ? std::optional(fall) : std::nullopt;
}

// Rays from the body's corners say roughly how deep to look; the triangles found there say exactly.
std::optional<double> fallOntoScene(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                                    const SlotFilter& filter, double farthest, double enough, double beside) {
    if (body.triangles.empty()) return std::nullopt;
    const double reach = reachOf(body, beside);
    // Nothing else can stop it than what lies in the column below.
    struct Below {
        Slot slot;
        double top;
    };
    std::vector<Below> below;
    base::Aabb column = body.bounds;
    column.low.y -= farthest;
    index.overlapping(scene, column, [&](Slot s) {
        if (!filter || filter(s)) below.push_back({s, index.boundsOf(scene, s).high.y});
    });
    if (below.empty()) return std::nullopt;
    constexpr double kSlack = 0.01;  // rays are single precision
    const Vec3 middle = body.bounds.centre();
    double rough = farthest;
    auto look = [&](Vec3 p) {
        for (const int axis : {0, 2}) p[axis] += std::clamp(middle[axis] - p[axis], -kInset, kInset);
        const double from = std::min(p.y + reach, topOf(body));
        if (const auto hit = index.pick(scene, {{p.x, from, p.z}, {0, -1, 0}}, filter))
            rough = std::min(rough, p.y - from + hit->distance);
        return rough < enough - kSlack;
    };
    constexpr std::size_t kRays = 24;
    const std::size_t corners = body.triangles.size() * 3, step = std::max<std::size_t>(1, corners / kRays);
    auto corner = [&](std::size_t i) { return body.triangles[i / 3][i % 3]; };
    std::size_t lowest = 0;
    for (std::size_t i = 1; i < corners; ++i)
        if (corner(i).y < corner(lowest).y) lowest = i;
    if (look(corner(lowest))) return rough;
    for (std::size_t i = 0; i < corners; i += step)
        if (look(corner(i))) return rough;
    // A ray may miss what is narrow, or meet a side that only touches: then look deeper and deeper.
    for (double depth = rough < farthest ? rough + kSlack : 2.0;;
         depth = std::min(std::max(depth, 0.25) * 8, farthest)) {
        base::Aabb box = body.bounds;
        box.low.y -= std::max(depth, 0.0);
        std::vector<Triangle> supports;
        bool isAll = true;  // deeper down there is no more
        for (const Below& one : below) {
            if (one.top >= box.low.y && index.boundsOf(scene, one.slot).overlaps(box))
                appendTriangles(scene, index, one.slot, box, supports);
            isAll = isAll && index.boundsOf(scene, one.slot).low.y >= box.low.y;
        }
        if (const auto fall = fallOnto(body, supports, isAll ? farthest : depth, beside)) return fall;
        if (isAll || depth >= farthest) return std::nullopt;
    }
}

}  // namespace query
