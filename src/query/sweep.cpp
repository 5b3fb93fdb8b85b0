#include "query/sweep.h"

#include <algorithm>
#include <cmath>
#include <unordered_set>

#include "query/names.h"

namespace query {
namespace {

using base::Vec3;

constexpr double kOut = 1e-9;       // of a length: neighbours that far out do not count
constexpr double kSkin = 1e-6;      // metres that stay between what touches
constexpr double kStretch = 2;      // metres at a time, so that little is looked at
constexpr std::size_t kSlides = 6;  // in one stretch

base::Aabb sweptBy(base::Aabb box, const Vec3& by) {
    base::Aabb moved{box.low + by, box.high + by};
    box.add(moved);
    return {box.low - Vec3(Sweep::kTouch), box.high + Vec3(Sweep::kTouch)};
}

}  // namespace

namespace sweeping {

/// Corners, edges and sides of one mesh that are near another, in the world, as they stood when the sweep began.
struct Near {
    struct Corner {
        std::uint32_t id;
        Vec3 at;
    };
    struct Side {
        Vec3 a, b, c, n;  // its front outwards also where the mesh is mirrored
        base::Aabb box;
    };
    struct Edge {
        const shape::Topology::Edge* edge;
        Vec3 from, along;
        base::Aabb box;
    };
    const MeshIndex* mesh;
    base::Affine world;
    bool mirrored = false;
    std::vector<Corner> corners;
    std::vector<Side> sides;
    std::vector<Edge> edges;
    base::Aabb box;

    Vec3 at(std::uint32_t position) const {
        const shape::Float3& p = mesh->mesh().positions[position];
        return world.point({p[0], p[1], p[2]});
    }
    Vec3 sideCorner(std::uint32_t triangle, std::size_t k) const {
        return at(mesh->topology().corner(triangle, mirrored && k > 0 ? 3 - k : k));
    }
    /// Is a corner the farthest of its mesh along `out`, as far as its neighbours tell?
    bool sticksOut(const Corner& corner, const Vec3& out) const {
        bool flat = true;
        for (const std::uint32_t n : mesh->topology().next(corner.id))
            if (!isBehind(at(n) - corner.at, out, flat)) return false;
        return !flat || facesAlong(mesh->topology().triangleAt(corner.id), out);
    }
    bool sticksOut(const Edge& edge, const Vec3& out) const {
        bool flat = true;
        for (const std::uint32_t b : edge.edge->beyond)
            if (!isBehind(at(b) - edge.from, out, flat)) return false;
        return !flat || facesAlong(edge.edge->triangle, out);
    }

  private:
    static bool isBehind(const Vec3& along, const Vec3& out, bool& flat) {
        const double far = glm::dot(out, along), little = kOut + 1e-7 * glm::length(along);
        flat = flat && far > -little;
        return far <= little;
    }
    bool facesAlong(std::uint32_t side, const Vec3& out) const {
        const Vec3 a = sideCorner(side, 0);
        return glm::dot(glm::cross(sideCorner(side, 1) - a, sideCorner(side, 2) - a), out) > 0;
    }
};

}  // namespace sweeping

namespace {

using sweeping::Near;

/// Those of a mesh whose triangles reach into a box.
Near nearOf(const MeshIndex& mesh, const base::Affine& world, const base::Affine& toOwn, const base::Aabb& box) {
    Near near{&mesh, world, glm::determinant(world.linear) < 0, {}, {}, {}, {}};
    const shape::Topology& topology = mesh.topology();
    std::vector<std::uint32_t> corners, edges;
    mesh.overlapping(base::mapped(box, toOwn), [&](std::uint32_t triangle) {
        Near::Side side{
            near.sideCorner(triangle, 0), near.sideCorner(triangle, 1), near.sideCorner(triangle, 2), {}, {}};
        for (const Vec3& p : {side.a, side.b, side.c}) side.box.add(p);
        if (!side.box.overlaps(box)) return;
        for (std::size_t k = 0; k < 3; ++k) {
            corners.push_back(topology.corner(triangle, k));
            edges.push_back(topology.edge(triangle, k));
        }
        near.box.add(side.box);
        const Vec3 across = glm::cross(side.b - side.a, side.c - side.a);
        const double area = glm::length(across);
        if (area < 1e-14) return;
        side.n = across / area;
        near.sides.push_back(side);
    });
    for (auto* all : {&corners, &edges}) {
        std::sort(all->begin(), all->end());
        all->erase(std::unique(all->begin(), all->end()), all->end());
    }
    for (const std::uint32_t corner : corners)
        if (const Vec3 at = near.at(corner); base::Aabb{at, at}.overlaps(box)) near.corners.push_back({corner, at});
    for (const std::uint32_t e : edges) {
        const shape::Topology::Edge& edge = topology.edges()[e];
        if (!edge.sharp) continue;
        Near::Edge one{&edge, near.at(edge.from), near.at(edge.to), {}};
        one.box.add(one.from);
        one.box.add(one.along);
        one.along -= one.from;
        if (one.box.overlaps(box)) near.edges.push_back(one);
    }
    return near;
}

base::Aabb movedBy(base::Aabb box, const Vec3& by) {
    return {box.low + by, box.high + by};
}

/// The first touch of two meshes while one, moved by `from`, goes on by `by`: closed forms for a corner and a side, and
/// for two edges.
class Touch {
  public:
    Touch(const Near& moving, const Near& still, const Vec3& from, const Vec3& by)
        : moving_(moving), still_(still), from_(from), by_(by), length_(glm::length(by)) {}

    bool found = false;
    double share = 1;
    Vec3 normal{0.0};

    void look() {
        const base::Aabb swept = sweptBy(movedBy(moving_.box, from_), by_),
                         back = sweptBy(movedBy(still_.box, -from_), -by_);
        for (const Near::Side& side : still_.sides) {
            if (glm::dot(side.n, by_) >= -1e-9 * length_ || !side.box.overlaps(swept)) continue;
            for (const Near::Corner& corner : moving_.corners)
                cornerOnSide(moving_, corner, corner.at + from_, side, Vec3(0.0), by_, 1);
        }
        for (const Near::Side& side : moving_.sides) {
            if (glm::dot(side.n, by_) <= 1e-9 * length_ || !side.box.overlaps(back)) continue;
            for (const Near::Corner& corner : still_.corners)
                cornerOnSide(still_, corner, corner.at, side, from_, -by_, -1);
        }
        for (const Near::Edge& a : moving_.edges) {
            if (!a.box.overlaps(back)) continue;
            const base::Aabb way = sweptBy(movedBy(a.box, from_), by_);
            for (const Near::Edge& b : still_.edges)
                if (b.box.overlaps(way)) edges(a, b);
        }
    }

  private:
    /// `p`: where the corner is; the side is moved by `moved`. `out`: what the side's normal is times, to point away
    /// from what stands still.
    void cornerOnSide(const Near& of, const Near::Corner& corner, const Vec3& p, const Near::Side& side,
                      const Vec3& moved, const Vec3& by, double out) {
        const double speed = -glm::dot(side.n, by), gap = glm::dot(side.n, p - moved - side.a);
        if (gap < -Sweep::kTouch || gap >= share * speed) return;
        const double t = std::max(0.0, gap / speed);
        const Vec3 there = p - moved + by * t;
        const double rim = 1e-9;  // metres: also on it
        for (const auto& [from, to] : {std::pair{&side.a, &side.b}, {&side.b, &side.c}, {&side.c, &side.a}})
            if (glm::dot(glm::cross(*to - *from, there - *from), side.n) < -rim * glm::length(*to - *from)) return;
        if (!of.sticksOut(corner, -side.n)) return;
        found = true, share = t, normal = side.n * out;
    }
    void edges(const Near::Edge& moving, const Near::Edge& still) {
        const Vec3 p = moving.from + from_, &q = still.from, &u = moving.along, &v = still.along;
        Vec3 n = glm::cross(u, v);
        const double uu = glm::dot(u, u), uv = glm::dot(u, v), vv = glm::dot(v, v), det = glm::dot(n, n);
        if (det < 1e-18 * uu * vv + 1e-36) return;
        n /= std::sqrt(det);
        if (glm::dot(n, by_) > 0) n = -n;
        const double speed = -glm::dot(n, by_), gap = glm::dot(n, p - q);
        if (speed <= 1e-9 * length_ || gap < -Sweep::kTouch || gap >= share * speed) return;
        const double t = std::max(0.0, gap / speed);
        // Where the two lines are nearest to one another then.
        const Vec3 w = p + by_ * t - q;
        const double uw = glm::dot(u, w), vw = glm::dot(v, w);
        const double s = (uv * vw - vv * uw) / det, r = (uu * vw - uv * uw) / det;
        if (s < 0 || s > 1 || r < 0 || r > 1) return;
        if (!still_.sticksOut(still, n) || !moving_.sticksOut(moving, -n)) return;
        found = true, share = t, normal = n;
    }

    const Near& moving_;
    const Near& still_;
    Vec3 from_, by_;
    double length_;
};

/// Does an edge of one pass through a side of the other, both its ends deeper than what counts as touching?
bool pierces(const Near& of, const Near& through) {
    for (const Near::Edge& e : of.edges)
        for (const Near::Side& side : through.sides) {
            if (!side.box.overlaps(e.box)) continue;
            const double one = glm::dot(side.n, e.from - side.a), other = one + glm::dot(side.n, e.along);
            if (std::min(one, other) > -Sweep::kTouch || std::max(one, other) < Sweep::kTouch) continue;
            const Vec3 at = e.from + e.along * (one / (one - other));
            bool inside = true;
            for (const auto& [s, t] : {std::pair{&side.a, &side.b}, {&side.b, &side.c}, {&side.c, &side.a}})
                inside =
                    inside && glm::dot(glm::cross(*t - *s, at - *s), side.n) > Sweep::kTouch * glm::length(*t - *s);
            if (inside) return true;
        }
    return false;
}

/// What is left of a way after what it was stopped by: along it, along the seam of two, or nothing.
Vec3 slid(const Vec3& left, const std::vector<Vec3>& planes) {
    const auto freed = [&](const Vec3& way) {
        return std::all_of(planes.begin(), planes.end(), [&](const Vec3& n) { return glm::dot(way, n) > -1e-9; });
    };
    if (freed(left)) return left;
    for (auto n = planes.rbegin(); n != planes.rend(); ++n) {
        const Vec3 way = left - *n * glm::dot(left, *n);
        if (freed(way)) return way;
    }
    for (std::size_t i = 0; i < planes.size(); ++i)
        for (std::size_t k = i + 1; k < planes.size(); ++k) {
            const Vec3 seam = glm::cross(planes[i], planes[k]);
            const double length = glm::length(seam);
            if (length < 1e-6) continue;
            const Vec3 way = seam * (glm::dot(left, seam) / (length * length));
            if (freed(way)) return way;
        }
    return Vec3(0.0);
}

}  // namespace

/// A part that moves, and what stands near it.
struct Sweep::Pair {
    Slot moved, on;
    Near moving, still;
};

Sweep::Sweep(const model::Scene& scene, const SceneIndex& index, std::span<const Slot> tops, SlotFilter filter)
    : scene_(scene), index_(index.solid()) {
    std::unordered_set<Slot> mine;
    for (Slot top : tops)
        for (Slot s : scene.subtree(top)) {
            if (!mine.insert(s).second) continue;
            const MeshIndex* mesh = index_.meshOf(scene, s);
            const auto back = base::inverse(scene.world(s));
            if (mesh != nullptr && mesh->mesh().triangleCount() > 0 && back)
                parts_.push_back({s, mesh, scene.world(s), *back, base::mapped(mesh->mesh().bounds, scene.world(s))});
        }
    filter_ = [mine = std::move(mine), filter = std::move(filter)](Slot s) {
        return !mine.contains(s) && (!filter || filter(s));
    };
    gather(Vec3(0.0), 0);
    for (const Pair& pair : pairs_)
        if (pierces(pair.moving, pair.still) || pierces(pair.still, pair.moving)) within_.insert({pair.moved, pair.on});
    reach_ = -1;
}

Sweep::~Sweep() = default;
Sweep::Sweep(Sweep&&) noexcept = default;

/// What they could meet within `reach` of where they are when they are moved by `at`.
void Sweep::gather(const Vec3& at, double reach) const {
    pairs_.clear();
    gatheredAt_ = at;
    reach_ = reach;
    const Vec3 around(reach + kTouch);
    for (const Moved& part : parts_) {
        const base::Aabb box{part.bounds.low + at - around, part.bounds.high + at + around};
        index_.overlapping(scene_, box, [&](Slot other) {
            if (!filter_(other)) return;
            const MeshIndex* mesh = index_.meshOf(scene_, other);
            const auto back = base::inverse(scene_.world(other));
            if (mesh == nullptr || !back) return;
            Near still = nearOf(*mesh, scene_.world(other), *back, box);
            if (still.sides.empty()) return;
            const base::Aabb near{still.box.low - at - around, still.box.high - at + around};
            Near moving = nearOf(*part.mesh, part.world, part.toOwn, near);
            if (!moving.sides.empty()) pairs_.push_back({part.slot, other, std::move(moving), std::move(still)});
        });
    }
}

std::optional<Sweep::Stop> Sweep::firstStop(const Vec3& from, const Vec3& by) const {
    std::optional<Stop> first;
    const double length = glm::length(by);
    if (!(length > 0)) return first;
    constexpr double kLeast = 0.25;  // metres: so far a drag goes in a few moves
    if (reach_ < 0 || glm::length(from - gatheredAt_) + length > reach_) gather(from, std::max(length, kLeast));
    for (const Pair& pair : pairs_) {
        if (within_.contains({pair.moved, pair.on})) continue;
        if (!sweptBy(movedBy(pair.moving.box, from), by).overlaps(pair.still.box)) continue;
        Touch touch(pair.moving, pair.still, from, by);
        if (first) touch.share = first->share;
        touch.look();
        if (touch.found) first = Stop{touch.share, touch.normal, pair.moved, pair.on};
    }
    return first;
}

std::optional<Sweep::Stop> Sweep::along(const Vec3& direction, double farthest) const {
    for (double gone = 0, next = kStretch; gone < farthest; gone += next, next *= 2) {
        const double step = std::min(next, farthest - gone);
        if (auto stop = firstStop(direction * gone, direction * step)) {
            stop->share = (gone + stop->share * step) / farthest;
            return stop;
        }
    }
    return std::nullopt;
}

/// One stretch of the way, with what it slides along.
Vec3 Sweep::stretch(const Vec3& from, const Vec3& by, const std::optional<base::Mat3>& along) {
    Vec3 at = from, left = by;
    std::vector<Vec3> planes;
    for (std::size_t i = 0; i < kSlides && glm::length(left) > kSkin; ++i) {
        const auto stop = firstStop(at, left);
        if (!stop) return at + left;
        stops_.push_back(*stop);
        // What stops them, as far as it lies in the directions they may go in.
        Vec3 normal = stop->normal;
        if (along) {
            normal = Vec3(0.0);
            for (int k = 0; k < 3; ++k) normal += (*along)[k] * glm::dot((*along)[k], stop->normal);
            const double within = glm::length(normal);
            if (within < 1e-3) return at;
            normal /= within;
        }
        at += left * stop->share + normal * (kSkin / std::max(glm::dot(normal, stop->normal), 0.05));
        planes.push_back(normal);
        left = slid(left * (1 - stop->share), planes);
    }
    return at;
}

/// What they lay in and have come out of stops them from now on.
void Sweep::forgetWhatIsLeft(const Vec3& at) {
    std::erase_if(within_, [&](const auto& pair) {
        const auto part =
            std::find_if(parts_.begin(), parts_.end(), [&](const Moved& p) { return p.slot == pair.first; });
        const base::Aabb box{part->bounds.low + at, part->bounds.high + at};
        return !scene_.alive(pair.second) || !index_.boundsOf(scene_, pair.second).overlaps(box);
    });
}

Vec3 Sweep::go(const Vec3& from, const Vec3& to, const std::optional<base::Mat3>& along) {
    stops_.clear();
    const double length = glm::length(to - from);
    const auto count = static_cast<int>(std::clamp(std::ceil(length / kStretch), 1.0, 64.0));
    Vec3 at = from;
    for (int i = 0; i < count; ++i) {
        at = stretch(at, (to - at) / static_cast<double>(count - i), along);
        if (!within_.empty()) forgetWhatIsLeft(at);
    }
    // Where only the skin is between, the figures are round: 2.5 and not 2.499999.
    constexpr double kRound = 1e5;
    for (int axis = 0; !stops_.empty() && axis < 3; ++axis)
        if (const double round = std::round(at[axis] * kRound) / kRound; std::abs(round - at[axis]) < 3 * kSkin)
            at[axis] = round;
    return at;
}

}  // namespace query
