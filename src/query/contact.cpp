#include "query/contact.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace query {
namespace {

using base::Vec2;
using base::Vec3;
using model::Slot;

constexpr double kInset = 1e-4;  // metres: sides that only touch do not hold
constexpr double kNever = std::numeric_limits<double>::infinity();

/// One triangle seen from above.
struct Flat {
    std::array<Vec2, 3> at;
    std::array<double, 3> y;
    Vec2 low, high;
    double lowest, highest;
};

Flat flatOf(const Triangle& t) {
    Flat f;
    f.low = Vec2(kNever), f.high = Vec2(-kNever);
    f.lowest = kNever, f.highest = -kNever;
    for (std::size_t i = 0; i < 3; ++i) {
        f.at[i] = {t[i].x, t[i].z};
        f.y[i] = t[i].y;
        f.low = glm::min(f.low, f.at[i]);
        f.high = glm::max(f.high, f.at[i]);
        f.lowest = std::min(f.lowest, t[i].y);
        f.highest = std::max(f.highest, t[i].y);
    }
    return f;
}

double cross(const Vec2& a, const Vec2& b) {
    return a.x * b.y - a.y * b.x;
}

/// Height of a triangle above a point of the ground plane, if it covers it.
std::optional<double> heightAt(const Flat& t, const Vec2& p) {
    const double area = cross(t.at[1] - t.at[0], t.at[2] - t.at[0]);
    if (std::abs(area) < 1e-14) return std::nullopt;
    const double u = cross(t.at[2] - t.at[1], p - t.at[1]) / area, v = cross(t.at[0] - t.at[2], p - t.at[2]) / area;
    const double w = 1 - u - v;
    if (u < 0 || v < 0 || w < 0) return std::nullopt;
    return u * t.y[0] + v * t.y[1] + w * t.y[2];
}

/// Keeps the smallest fall found between two triangles.
struct Fall {
    double reach;  // how far above a part of the body a surface may lie and still carry it
    double top;    // of the body
    double best;

    void offer(double body, double support) {
        if (support <= std::min(body + reach, top)) best = std::min(best, body - support);
    }
    void corners(const Flat& body, const Flat& support) {
        for (std::size_t i = 0; i < 3; ++i) {
            if (const auto y = heightAt(support, body.at[i])) offer(body.y[i], *y);
            if (const auto y = heightAt(body, support.at[i])) offer(*y, support.y[i]);
        }
    }
    void edges(const Flat& body, const Flat& support) {
        for (std::size_t i = 0; i < 3; ++i)
            for (std::size_t k = 0; k < 3; ++k) {
                const std::size_t i1 = (i + 1) % 3, k1 = (k + 1) % 3;
                const Vec2 d = body.at[i1] - body.at[i], e = support.at[k1] - support.at[k];
                const double slope = cross(d, e);
                if (std::abs(slope) < 1e-14) continue;
                const Vec2 between = support.at[k] - body.at[i];
                const double t = cross(between, e) / slope, s = cross(between, d) / slope;
                if (t < 0 || t > 1 || s < 0 || s > 1) continue;
                offer(body.y[i] + (body.y[i1] - body.y[i]) * t, support.y[k] + (support.y[k1] - support.y[k]) * s);
            }
    }
};

/// Supports by where they lie below a footprint; in each column in their own order. Few share one.
class Columns {
  public:
    Columns(const std::vector<Flat>& flats, const base::Aabb& footprint, std::size_t parts)
        : low_(footprint.low.x, footprint.low.z) {
        constexpr std::size_t kWorth = 4096;  // pairs
        if (flats.size() * parts > kWorth)
            side_ = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(flats.size()) / 2)), 1, 24);
        const Vec3 size = footprint.size();
        scale_ = static_cast<double>(side_) / glm::max(Vec2(size.x, size.z), Vec2(1e-9));
        columns_.resize(static_cast<std::size_t>(side_) * static_cast<std::size_t>(side_));
        for (std::uint32_t i = 0; i < flats.size(); ++i)
            visit(flats[i], [&](std::size_t column) { columns_[column].push_back(i); });
    }
    template <class Each>
    void each(const Flat& part, const Each& each) const {
        visit(part, [&](std::size_t column) { each(columns_[column]); });
    }

  private:
    int at(double along, int axis) const {
        return static_cast<int>(std::clamp((along - low_[axis]) * scale_[axis], 0.0, side_ - 1.0));
    }
    template <class Each>
    void visit(const Flat& flat, const Each& each) const {
        for (int z = at(flat.low.y, 1); z <= at(flat.high.y, 1); ++z)
            for (int x = at(flat.low.x, 0); x <= at(flat.high.x, 0); ++x) each(static_cast<std::size_t>(z * side_ + x));
    }
    int side_ = 1;
    Vec2 low_, scale_{0.0};
    std::vector<std::vector<std::uint32_t>> columns_;
};

void appendTriangles(const model::Scene& scene, const SceneIndex& index, Slot slot, const base::Aabb& box,
                     std::vector<Triangle>& out) {
    const MeshIndex* mesh = index.meshOf(scene.item(slot));
    const auto toLocal = base::inverse(scene.world(slot));
    if (mesh == nullptr || !toLocal) return;
    const base::Affine& world = scene.world(slot);
    mesh->overlapping(base::mapped(box, *toLocal), [&](std::uint32_t triangle) {
        Triangle t;
        for (std::size_t k = 0; k < 3; ++k) t[k] = world.point(shape::cornerOf(mesh->mesh(), triangle, k));
        out.push_back(t);
    });
}

}  // namespace

FallingBody fallingBody(const model::Scene& scene, const SceneIndex& index, Slot top, const base::Affine& adjust) {
    FallingBody body;
    for (Slot s : scene.subtree(top)) {
        const MeshIndex* mesh = index.meshOf(scene.item(s));
        if (mesh == nullptr) continue;
        const base::Affine world = adjust * scene.world(s);
        const shape::Mesh& m = mesh->mesh();
        for (std::size_t i = 0; i < m.triangleCount(); ++i) {
            Triangle t;
            for (std::size_t k = 0; k < 3; ++k) {
                t[k] = world.point(shape::cornerOf(m, i, k));
                body.bounds.add(t[k]);
            }
            body.triangles.push_back(t);
        }
    }
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

std::optional<double> fallOnto(const FallingBody& body, std::span<const Triangle> supports, double best) {
    if (body.triangles.empty() || supports.empty()) return std::nullopt;
    const Vec3 centre = body.bounds.centre(), size = body.bounds.size();
    const Vec2 middle(centre.x, centre.z);
    const Vec2 share(1 - 2 * kInset / std::max(size.x, 4 * kInset), 1 - 2 * kInset / std::max(size.z, 4 * kInset));
    std::vector<Flat> falling, standing;
    for (const Triangle& t : body.triangles) {
        Triangle inset = t;
        for (Vec3& p : inset) {
            p.x = middle.x + (p.x - middle.x) * share.x;
            p.z = middle.y + (p.z - middle.y) * share.y;
        }
        falling.push_back(flatOf(inset));
    }
    for (const Triangle& t : supports)
        if (const Flat flat = flatOf(t); flat.lowest <= body.bounds.high.y) standing.push_back(flat);
    if (standing.empty()) return std::nullopt;
    std::sort(falling.begin(), falling.end(), [](const Flat& a, const Flat& b) { return a.lowest < b.lowest; });
    std::sort(standing.begin(), standing.end(), [](const Flat& a, const Flat& b) { return a.highest > b.highest; });
    Fall fall{size.y / 2, body.bounds.high.y, best};
    const Columns columns(standing, body.bounds, falling.size());
    for (const Flat& part : falling) {
        if (part.lowest - standing.front().highest >= fall.best) break;
        columns.each(part, [&](const std::vector<std::uint32_t>& column) {
            for (const std::uint32_t i : column) {
                const Flat& support = standing[i];
                if (part.lowest - support.highest >= fall.best) return;  // the others are lower still
                if (support.lowest > std::min(part.highest + fall.reach, fall.top)) continue;
                if (support.low.x > part.high.x || support.high.x < part.low.x || support.low.y > part.high.y ||
                    support.high.y < part.low.y)
                    continue;
                fall.corners(part, support);
                fall.edges(part, support);
            }
        });
    }
    return fall.best < best ? std::optional(fall.best) : std::nullopt;
}

// Rays from the body's corners say roughly how deep to look; the triangles found there say exactly.
std::optional<double> fallOntoScene(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                                    const SlotFilter& filter, double farthest, double enough) {
    if (body.triangles.empty()) return std::nullopt;
    const double reach = body.bounds.size().y / 2;
    // Nothing else can stop it than what lies in the column below.
    struct Below {
        Slot slot;
        double top;
    };
    std::vector<Below> below;
    base::Aabb column = body.bounds;
    column.low.y -= farthest;
    index.overlapping(scene, column, [&](Slot s) {
        if (!filter || filter(s)) below.push_back({s, scene.bounds(s).high.y});
    });
    if (below.empty()) return std::nullopt;
    constexpr double kSlack = 0.01;  // rays are single precision
    const Vec3 middle = body.bounds.centre();
    double rough = farthest;
    auto look = [&](Vec3 p) {
        for (const int axis : {0, 2}) p[axis] += std::clamp(middle[axis] - p[axis], -kInset, kInset);
        const double from = std::min(p.y + reach, body.bounds.high.y);
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
            if (one.top >= box.low.y && scene.bounds(one.slot).overlaps(box))
                appendTriangles(scene, index, one.slot, box, supports);
            isAll = isAll && scene.bounds(one.slot).low.y >= box.low.y;
        }
        if (const auto fall = fallOnto(body, supports, isAll ? farthest : depth)) return fall;
        if (isAll || depth >= farthest) return std::nullopt;
    }
}

}  // namespace query
