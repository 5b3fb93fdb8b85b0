#include "shape/hull.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "base/id.h"

namespace shape {

namespace {

using base::Vec3;

Vec3 at(const Float3& p) {
    return {p[0], p[1], p[2]};
}

/// Points on the unit sphere, spread evenly (the golden spiral).
std::vector<Vec3> directions(std::size_t count) {
    std::vector<Vec3> all;
    const double golden = base::kPi * (3.0 - std::sqrt(5.0));
    for (std::size_t i = 0; i < count; ++i) {
        const double y = 1.0 - 2.0 * (static_cast<double>(i) + 0.5) / static_cast<double>(count);
        const double r = std::sqrt(1.0 - y * y), turn = golden * static_cast<double>(i);
        all.emplace_back(r * std::cos(turn), y, r * std::sin(turn));
    }
    return all;
}

std::vector<Vec3> furthest(std::span<const Float3> points, std::size_t most) {
    std::set<std::array<float, 3>> each(points.begin(), points.end());
    std::vector<Vec3> all;
    for (const Float3& p : each) all.push_back(at(p));
    if (all.size() <= most) return all;
    std::set<std::size_t> kept;
    for (const Vec3& way : directions(most)) {
        std::size_t best = 0;
        for (std::size_t i = 1; i < all.size(); ++i)
            if (glm::dot(all[i], way) > glm::dot(all[best], way)) best = i;
        kept.insert(best);
    }
    std::vector<Vec3> out;
    for (std::size_t i : kept) out.push_back(all[i]);
    return out;
}

struct Side {
    std::array<std::size_t, 3> corners;
    Vec3 normal;
};

Side sideOf(const std::vector<Vec3>& points, std::size_t a, std::size_t b, std::size_t c) {
    return {{a, b, c}, glm::cross(points[b] - points[a], points[c] - points[a])};
}

/// Four corners that span a volume; empty: the points lie in one plane.
std::vector<std::size_t> firstFour(const std::vector<Vec3>& points, double small) {
    if (points.size() < 4) return {};
    auto best = [&](const auto& measure) {
        std::size_t which = 0;
        for (std::size_t i = 1; i < points.size(); ++i)
            if (measure(points[i]) > measure(points[which])) which = i;
        return which;
    };
    const std::size_t a = best([](const Vec3& p) { return -p.x; });
    const std::size_t b = best([&](const Vec3& p) { return glm::length(p - points[a]); });
    const Vec3 along = points[b] - points[a];
    if (glm::length(along) < small) return {};
    const std::size_t c = best([&](const Vec3& p) { return glm::length(glm::cross(along, p - points[a])); });
    const Vec3 normal = glm::cross(along, points[c] - points[a]);
    if (glm::length(normal) < small * glm::length(along)) return {};
    const std::size_t d = best([&](const Vec3& p) { return std::abs(glm::dot(normal, p - points[a])); });
    if (std::abs(glm::dot(normal, points[d] - points[a])) < small * glm::length(normal)) return {};
    return {a, b, c, d};
}

/// Points moved by next to nothing, so that no four lie in one plane: such ones have no side to be on, and a hull built
/// over them can tear.
std::vector<Vec3> inGeneralPosition(std::vector<Vec3> points, double by) {
    base::Random random(7);
    for (Vec3& p : points) p += Vec3(random.between(-by, by), random.between(-by, by), random.between(-by, by));
    return points;
}

/// Each point outside the hull so far takes the sides that it sees away and spans new ones from their rim
/// (Preparata and Shamos, Computational Geometry, 3.4.2).
std::vector<Side> hullSides(const std::vector<Vec3>& points, const std::vector<std::size_t>& four) {
    const Vec3 middle = (points[four[0]] + points[four[1]] + points[four[2]] + points[four[3]]) / 4.0;
    std::vector<Side> sides;
    auto add = [&](std::size_t a, std::size_t b, std::size_t c) {
        Side side = sideOf(points, a, b, c);
        if (glm::dot(side.normal, points[a] - middle) < 0) side = sideOf(points, a, c, b);
        sides.push_back(side);
    };
    for (std::size_t left = 0; left < 4; ++left) add(four[left], four[(left + 1) % 4], four[(left + 2) % 4]);
    for (std::size_t p = 0; p < points.size(); ++p) {
        std::set<std::pair<std::size_t, std::size_t>> rim;
        std::vector<Side> kept;
        const bool isFirst = std::find(four.begin(), four.end(), p) != four.end();
        for (const Side& side : sides) {
            const double height = isFirst ? 0 : glm::dot(side.normal, points[p] - points[side.corners[0]]);
            if (height <= 0) {
                kept.push_back(side);
                continue;
            }
            for (std::size_t k = 0; k < 3; ++k) {
                const std::pair edge{side.corners[k], side.corners[(k + 1) % 3]};
                if (rim.erase({edge.second, edge.first}) == 0) rim.insert(edge);
            }
        }
        if (rim.empty()) continue;
        sides = std::move(kept);
        for (const auto& [from, to] : rim) sides.push_back(sideOf(points, from, to, p));
    }
    return sides;
}

void addTriangle(Mesh& mesh, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 normal = glm::normalize(glm::cross(b - a, c - a));
    for (const Vec3& p : {a, b, c}) {
        mesh.indices.push_back(static_cast<std::uint32_t>(mesh.positions.size()));
        mesh.positions.push_back({static_cast<float>(p.x), static_cast<float>(p.y), static_cast<float>(p.z)});
        mesh.normals.push_back(
            {static_cast<float>(normal.x), static_cast<float>(normal.y), static_cast<float>(normal.z)});
    }
}

Mesh finished(Mesh mesh) {
    mesh.materials.emplace_back();
    mesh.submeshes.push_back({0, static_cast<std::uint32_t>(mesh.indices.size()), 0});
    mesh.bounds = boundsOf(mesh);
    return mesh;
}

/// A ball of `radius`, its two halves `half` metres away from the centre along `axis`.
Mesh roundMesh(const Vec3& centre, double radius, glm::length_t axis, double half) {
    constexpr int kAround = 48, kRings = 24;
    Mesh mesh;
    // The equator stands twice: once with each half.
    auto point = [&](int ring, int around) {
        const bool upper = ring > kRings / 2;
        const double up = base::kPi * (static_cast<double>(upper ? ring - 1 : ring) / kRings - 0.5);
        const double turn = 2 * base::kPi * around / kAround, away = upper ? half : -half;
        Vec3 local{0.0};
        local[axis] = radius * std::sin(up) + away;
        local[(axis + 1) % 3] = radius * std::cos(up) * std::cos(turn);
        local[(axis + 2) % 3] = radius * std::cos(up) * std::sin(turn);
        return centre + local;
    };
    for (int ring = 0; ring <= kRings; ++ring)
        for (int around = 0; around < kAround; ++around) {
            const Vec3 a = point(ring, around), b = point(ring, around + 1), c = point(ring + 1, around + 1),
                       d = point(ring + 1, around);
            if (ring > 0) addTriangle(mesh, a, b, c);
            if (ring < kRings) addTriangle(mesh, a, c, d);
        }
    return finished(std::move(mesh));
}

}  // namespace

Mesh convexHull(std::span<const Float3> points, std::size_t most) {
    base::Aabb box;
    for (const Float3& p : points) box.add(at(p));
    if (box.empty()) return finished({});
    const double small = std::max(1e-6, glm::length(box.size()) * 1e-6);
    const std::vector<Vec3> kept = furthest(points, most);
    const std::vector<std::size_t> four = firstFour(kept, small);
    if (four.empty()) {
        const Vec3 grown = glm::max(Vec3(0.0), (Vec3(0.001) - box.size()) / 2.0);
        return boxMesh({box.low - grown, box.high + grown});
    }
    Mesh mesh;
    for (const Side& side : hullSides(inGeneralPosition(kept, small / 8), four))
        if (const Vec3& a = kept[side.corners[0]], &b = kept[side.corners[1]], &c = kept[side.corners[2]];
            glm::length(glm::cross(b - a, c - a)) > small * std::max(glm::length(b - a), glm::length(c - a)))
            addTriangle(mesh, a, b, c);  // three in one line have no side
    return finished(std::move(mesh));
}

std::vector<std::array<std::size_t, 3>> hullTriangles(const std::vector<Vec3>& points) {
    base::Aabb box;
    for (const Vec3& p : points) box.add(p);
    const double small = glm::length(box.size()) * 1e-7;
    const std::vector<std::size_t> four = firstFour(points, small);
    std::vector<std::array<std::size_t, 3>> all;
    if (four.empty()) return all;
    for (const Side& side : hullSides(inGeneralPosition(points, small / 100), four)) all.push_back(side.corners);
    return all;
}

Mesh capsuleMesh(const Vec3& centre, const Vec3& size) {
    const glm::length_t axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
    const double width = std::max(size[(axis + 1) % 3], size[(axis + 2) % 3]);
    return roundMesh(centre, width / 2, axis, std::max(0.0, (size[axis] - width) / 2));
}

Mesh ballMesh(const Vec3& centre, const Vec3& size) {
    return roundMesh(centre, std::max({size.x, size.y, size.z}) / 2, 1, 0);
}

Mesh simpleMesh(const Mesh& mesh, Simple shape) {
    switch (shape) {
        case Simple::Hull: return convexHull(mesh.positions);
        case Simple::Sphere: return ballMesh(mesh.bounds.centre(), mesh.bounds.size());
        case Simple::Capsule: return capsuleMesh(mesh.bounds.centre(), mesh.bounds.size());
        case Simple::Box: break;
    }
    return boxMesh(mesh.bounds);
}

double volumeOf(const Mesh& mesh) {
    double six = 0;
    for (std::size_t t = 0; t < mesh.triangleCount(); ++t)
        six += glm::dot(cornerOf(mesh, t, 0), glm::cross(cornerOf(mesh, t, 1), cornerOf(mesh, t, 2)));
    return six / 6;
}

}  // namespace shape
