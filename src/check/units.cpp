#include "check/units.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <unordered_set>

#include "check/names.h"
#include "query/mesh_index.h"

namespace check {

Slot unitOf(const model::Scene& scene, Slot slot) {
    Slot unit = slot;
    for (Slot s = scene.parent(slot); s != kNoSlot; s = scene.parent(s))
        if (scene.isInstance(s) || (scene.flagsOf(s) & model::flags::kWhole) != 0 || !scene.bounds(s).empty()) unit = s;
    return unit;
}

bool isUnit(const model::Scene& scene, Slot slot) {
    const bool may =
        scene.isInstance(slot) || (scene.flagsOf(slot) & model::flags::kWhole) != 0 || !scene.bounds(slot).empty();
    return may && unitOf(scene, slot) == slot && !scene.subtreeBounds(slot).empty();
}

namespace {

/// How often a ray crosses the mesh: inside when that is odd.
bool crossesOdd(const query::MeshIndex& mesh, Vec3 from, const Vec3& along) {
    // Beyond what was hit by more than rays are exact to, or the same side is met twice.
    const double past = 1e-5 * std::max(1.0, glm::length(mesh.mesh().bounds.size()));
    int crossings = 0;
    for (; crossings < 64; ++crossings) {
        const auto hit = mesh.intersect({from, along}, 1e9);
        if (!hit) break;
        from += along * (hit->distance + past);
    }
    return crossings % 2 == 1;
}

/// From a point inside a mesh (in its axes), the shortest way out along an axis of the world.
double wayOut(const query::MeshIndex& mesh, const base::Affine& toOwn, const Vec3& own) {
    double least = 1e30;
    for (int axis = 0; axis < 3; ++axis)
        for (const double way : {-1.0, 1.0}) {
            Vec3 along(0.0);
            along[axis] = way;
            if (const auto hit = mesh.intersect({own, toOwn.direction(along)}, 1e9))
                least = std::min(least, hit->distance);
        }
    return least > 1e29 ? 0 : least;
}

struct Body {
    const query::MeshIndex* mesh;
    base::Affine world, toOwn;
    base::Aabb bounds;
};
std::vector<Body> bodiesOf(const model::Scene& scene, const query::SceneIndex& index, Slot unit) {
    std::vector<Body> bodies;
    for (Slot s : scene.subtree(unit)) {
        const query::MeshIndex* mesh = index.meshOf(scene, s);
        const auto back = base::inverse(scene.world(s));
        if (mesh != nullptr && back) bodies.push_back({mesh, scene.world(s), *back, index.boundsOf(scene, s)});
    }
    return bodies;
}

/// A mesh's own box in the world.
struct Slanted {
    Vec3 centre, half[3];
    explicit Slanted(const Body& body) {
        const base::Aabb& own = body.mesh->mesh().bounds;
        centre = body.world.point(own.centre());
        for (int k = 0; k < 3; ++k) half[k] = body.world.linear[k] * (own.size()[k] / 2);
    }
    double reach(const Vec3& along) const {
        return std::abs(glm::dot(half[0], along)) + std::abs(glm::dot(half[1], along)) +
               std::abs(glm::dot(half[2], along));
    }
};
/// Is there a plane between them? (Separating axes of two parallelepipeds.)
bool areApart(const Slanted& a, const Slanted& b) {
    auto parts = [&](const Vec3& along) {
        return std::abs(glm::dot(b.centre - a.centre, along)) > a.reach(along) + b.reach(along);
    };
    for (int i = 0; i < 3; ++i) {
        if (parts(glm::cross(a.half[i], a.half[(i + 1) % 3])) || parts(glm::cross(b.half[i], b.half[(i + 1) % 3])))
            return true;
        for (int k = 0; k < 3; ++k)
            if (parts(glm::cross(a.half[i], b.half[k]))) return true;
    }
    return false;
}

std::uint64_t keyOf(const shape::Float3& p) {
    std::uint64_t key = 1;
    for (const float along : p) {
        key = (key ^ std::bit_cast<std::uint32_t>(along == 0 ? 0.0F : along)) * 0x9e3779b97f4a7c15ULL;
        key ^= key >> 29;  // boxes differ in few bits
    }
    key *= 0xbf58476d1ce4e5b9ULL;
    return key ^ key >> 32;
}

/// What of one body may lie in another, in the other's axes: its corners there, and the middles of those parts of its
/// edges that the other's surface bounds.
std::vector<Vec3> pointsWithin(const Body& a, const Body& b) {
    constexpr std::size_t kMostTriangles = 4000;
    const shape::Mesh& mesh = a.mesh->mesh();
    const base::Aabb& box = b.mesh->mesh().bounds;
    const base::Affine toB = b.toOwn * a.world;
    std::vector<Vec3> points;
    std::unordered_set<std::uint64_t> seen;  // corners, and edges in either direction, which triangles share
    std::size_t triangles = 0;
    a.mesh->overlapping(base::mapped(box, a.toOwn * b.world), [&](std::uint32_t t) {
        if (++triangles > kMostTriangles) return;
        Vec3 corners[3];
        for (std::size_t k = 0; k < 3; ++k) corners[k] = toB.point(shape::cornerOf(mesh, t, k));
        for (std::size_t k = 0; k < 3; ++k) {
            const Vec3 &from = corners[k], &to = corners[(k + 1) % 3];
            base::Aabb edge;
            edge.add(from);
            edge.add(to);
            if (!edge.overlaps(box)) continue;
            const std::uint64_t one = keyOf(mesh.positions[mesh.indices[t * 3 + k]]);
            const std::uint64_t other = keyOf(mesh.positions[mesh.indices[t * 3 + (k + 1) % 3]]);
            if (seen.insert(one).second) points.push_back(from);
            if (!seen.insert(one + 3 * other).second || !(glm::length(to - from) > 1e-9)) continue;
            const Vec3 along = to - from;
            double before = 0;
            for (int hits = 0; hits < 16 && before < 1; ++hits) {
                const auto hit = b.mesh->intersect({from + along * (before + 1e-7), along}, 1 - before);
                if (!hit) break;
                const double now = before + 1e-7 + hit->distance;
                if (!(now > before && now <= 1)) break;
                points.push_back(from + along * ((before + now) / 2));
                before = now;
            }
        }
    });
    return points;
}

/// Those of the points (in a body's axes) that lie in it, and how deep.
void gather(const std::vector<Vec3>& points, const Body& in, Overlap& sum) {
    for (const Vec3& own : points) {
        if (!isInside(*in.mesh, own)) continue;
        const double deep = wayOut(*in.mesh, in.toOwn, own);
        const Vec3 world = in.world.point(own);
        sum.box.add(world);
        if (deep > sum.metres) sum.metres = deep, sum.at = world;
    }
}

}  // namespace

bool isInside(const query::MeshIndex& mesh, const Vec3& point) {
    const base::Aabb& box = mesh.mesh().bounds;
    for (int k = 0; k < 3; ++k)
        if (point[k] < box.low[k] || point[k] > box.high[k]) return false;
    // Two ways that hit no edge of what is built square; an open mesh seldom says yes to all.
    return crossesOdd(mesh, point, glm::normalize(Vec3(0.0131, 1, 0.0173))) &&
           crossesOdd(mesh, point, glm::normalize(Vec3(-0.0117, -1, 0.0211))) &&
           crossesOdd(mesh, point, glm::normalize(Vec3(1, 0.0193, -0.0137)));
}

Slot closedAround(const model::Scene& scene, const query::SceneIndex& index, const Vec3& point, Slot but) {
    base::Aabb box;
    box.add(point - Vec3(0.01));
    box.add(point + Vec3(0.01));
    Slot around = kNoSlot;
    index.overlapping(scene, box, [&](Slot other) {
        if (around != kNoSlot && scene.id(around) < scene.id(other)) return;  // always the same one of several
        if ((but != kNoSlot && scene.isWithin(other, but)) || scene.hiddenInTree(other)) return;
        const query::MeshIndex* mesh = index.meshOf(scene, other);
        const auto back = base::inverse(scene.world(other));
        if (mesh != nullptr && back && isInside(*mesh, back->point(point))) around = other;
    });
    return around;
}

base::Aabb solidBounds(const model::Scene& scene, const query::SceneIndex& index, Slot unit) {
    base::Aabb box;
    for (Slot s : scene.subtree(unit)) box.add(index.solid().boundsOf(scene, s));
    return box;
}

std::optional<Overlap> overlapOf(const model::Scene& scene, const query::SceneIndex& index, Slot a, Slot b) {
    Overlap sum;
    const auto first = bodiesOf(scene, index, a), second = bodiesOf(scene, index, b);
    for (const Body& one : first)
        for (const Body& other : second) {
            if (!one.bounds.overlaps(other.bounds) || areApart(Slanted(one), Slanted(other))) continue;
            gather(pointsWithin(one, other), other, sum);
            gather(pointsWithin(other, one), one, sum);
        }
    return sum.metres > 0 ? std::optional(sum) : std::nullopt;
}

}  // namespace check
