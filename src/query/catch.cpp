#include "query/catch.h"
#include "query/names.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace query {
namespace {

using base::Vec2;
using base::Vec3;

struct Face {
    std::array<Vec3, 3> at;
    Vec3 normal;
    Slot slot;
};

struct Edge {
    Vec3 a, b;
    Slot slot;
};

/// The surface under the pointer and those just beside it, nearest to the eye first: what stands before something far
/// is caught from outside its outline too.
std::vector<SceneHit> surfacesNear(const model::Scene& scene, const SceneIndex& index, const Aim& aim,
                                   const SlotFilter& filter) {
    std::vector<SceneHit> hits;
    auto look = [&](const Vec2& pixel) {
        const auto hit = index.pick(scene, aim.rayThrough(pixel), filter);
        if (!hit) return;
        const double near = aim.reachPixels * aim.metresPerPixel(hit->point) * 0.5;
        const bool known = std::any_of(hits.begin(), hits.end(), [&](const SceneHit& h) {
            return h.slot == hit->slot && glm::length(h.point - hit->point) < near;
        });
        if (!known) hits.push_back(*hit);
    };
    look(aim.pixel);
    for (int i = 0; i < 8; ++i) {
        const double angle = i * base::kPi / 4;
        look(aim.pixel + Vec2(std::cos(angle), std::sin(angle)) * (aim.reachPixels * (i % 2 == 0 ? 0.8 : 0.45)));
    }
    return hits;
}

std::vector<Face> facesNear(const model::Scene& scene, const SceneIndex& index, const base::Aabb& box,
                            const SlotFilter& filter) {
    std::vector<Face> faces;
    index.overlapping(scene, box, [&](Slot slot) {
        const MeshIndex* mesh = index.meshOf(scene, slot);
        const auto toLocal = base::inverse(scene.world(slot));
        if (mesh == nullptr || !toLocal || (filter && !filter(slot))) return;
        mesh->overlapping(base::mapped(box, *toLocal), [&](std::uint32_t triangle) {
            Face face{{}, {}, slot};
            for (std::size_t k = 0; k < 3; ++k)
                face.at[k] = scene.world(slot).point(shape::cornerOf(mesh->mesh(), triangle, k));
            const Vec3 n = glm::cross(face.at[1] - face.at[0], face.at[2] - face.at[0]);
            if (glm::length(n) < 1e-12) return;
            face.normal = glm::normalize(n);
            faces.push_back(face);
        });
    });
    return faces;
}

bool same(const Vec3& a, const Vec3& b) {
    return glm::length(a - b) < 1e-6;
}

/// Is an edge of `faces[own]` the seam of a flat face: another one of the same object goes on in its plane?
bool isSeam(const std::vector<Face>& faces, std::size_t own, const Edge& edge) {
    return std::any_of(faces.begin(), faces.end(), [&](const Face& other) {
        if (&other == &faces[own] || other.slot != edge.slot) return false;
        int shared = 0;
        for (const Vec3& p : other.at) shared += same(p, edge.a) || same(p, edge.b) ? 1 : 0;
        return shared == 2 && std::abs(glm::dot(other.normal, faces[own].normal)) > 0.9995;
    });
}

/// The point of an edge that looks nearest to a ray.
Vec3 nearestOnEdge(const Edge& edge, const base::Ray& ray) {
    const Vec3 d = edge.b - edge.a, w = edge.a - ray.origin;
    const double dd = glm::dot(d, d), dr = glm::dot(d, ray.direction), wr = glm::dot(w, ray.direction);
    const double slope = dd - dr * dr;
    const double t = std::abs(slope) < 1e-12 ? 0 : (dr * wr - glm::dot(w, d)) / slope;
    return edge.a + d * std::clamp(t, 0.0, 1.0);
}

bool inSight(const model::Scene& scene, const SceneIndex& index, const Aim& aim, const Vec3& point,
             const SlotFilter& filter) {
    const base::Ray sight = aim.rayTo(point);
    const double distance = glm::length(point - sight.origin);
    const auto hit = index.pick(scene, sight, filter);
    return !hit || hit->distance > distance - 0.01 - 2e-4 * distance;
}

}  // namespace

/// Ends are aimed at more loosely than corners, but not from the other side of a valley.
constexpr double kEndReach = 6;

std::array<Vec3, 2> endsOf(const model::Scene& scene, const SceneIndex& index, model::Slot slot) {
    const MeshIndex* mesh = index.meshOf(scene, slot);
    const base::Affine& world = scene.world(slot);
    if (mesh == nullptr) return {world.translation, world.translation};
    const base::Aabb& box = mesh->mesh().bounds;
    int longest = 0;
    for (int k = 1; k < 3; ++k)
        if (box.size()[k] * glm::length(world.linear[k]) > box.size()[longest] * glm::length(world.linear[longest]))
            longest = k;
    Vec3 low = box.centre(), high = low;
    low[longest] = box.low[longest];
    high[longest] = box.high[longest];
    return {world.point(low), world.point(high)};
}

namespace {

/// The narrowest gap along an axis of the world that lies on the surface, within 50 m to each side.
std::optional<CatchPoint> gapAt(const model::Scene& scene, const SceneIndex& index, const SceneHit& under,
                                const SlotFilter& filter) {
    constexpr double kFar = 50, kAbove = 0.02;
    std::optional<CatchPoint> best;
    const Vec3 from = under.point + under.normal * kAbove;
    for (int axis = 0; axis < 3; ++axis) {
        Vec3 way(0.0);
        way[axis] = 1;
        if (std::abs(glm::dot(way, under.normal)) > 0.5) continue;  // out of the surface, or into it
        const auto ahead = index.pick(scene, {from, way}, filter), behind = index.pick(scene, {from, -way}, filter);
        if (!ahead || !behind || ahead->distance > kFar || behind->distance > kFar) continue;
        const double wide = ahead->distance + behind->distance;
        if (best && best->gapMetres <= wide) continue;
        best = CatchPoint{CatchKind::Gap, under.point + way * ((ahead->distance - behind->distance) / 2), under.normal,
                          ahead->slot, wide};
    }
    return best;
}

}  // namespace

std::optional<CatchPoint> catchAt(const model::Scene& scene, const SceneIndex& index, const Aim& aim, CatchKind kind,
                                  const SlotFilter& filter) {
    const std::vector<SceneHit> hits = surfacesNear(scene, index, aim, filter);
    if (hits.empty()) return std::nullopt;
    const SceneHit& under = hits.front();
    if (kind == CatchKind::Face) return CatchPoint{kind, under.point, under.normal, under.slot, 0};
    if (kind == CatchKind::Gap) return gapAt(scene, index, under, filter);
    struct Candidate {
        Vec3 point;
        Slot slot;
        Vec3 normal;
        std::size_t hit = 0, face = 0;  // where its edge comes from
        Edge edge{};
    };
    std::vector<std::vector<Face>> nearHit;  // one list for each hit
    std::vector<Candidate> candidates;
    double reach = aim.reachPixels;
    const bool whole = kind == CatchKind::Centre || kind == CatchKind::End;  // of the object, not of a face
    if (kind == CatchKind::End) {
        for (const Vec3& p : endsOf(scene, index, under.slot)) candidates.push_back({p, under.slot, under.normal});
        reach *= kEndReach;
    }
    if (kind == CatchKind::Centre) {
        const base::Aabb& box = scene.bounds(under.slot);
        Vec3 top = box.centre();
        top.y = box.high.y;
        for (const Vec3& p : {box.centre(), box.baseCentre(), top}) candidates.push_back({p, under.slot, under.normal});
        reach = 1e9;  // the object under the pointer: the nearest of its centres
    }
    const base::Ray ray = aim.rayThrough(aim.pixel);
    for (std::size_t h = 0; h < hits.size() && !whole; ++h) {
        const double radius = aim.reachPixels * aim.metresPerPixel(hits[h].point) * 1.2;
        const base::Aabb box{hits[h].point - radius, hits[h].point + radius};
        const std::vector<Face>& faces = nearHit.emplace_back(facesNear(scene, index, box, filter));
        for (std::size_t f = 0; f < faces.size(); ++f)
            for (std::size_t k = 0; k < 3; ++k) {
                const Edge edge{faces[f].at[k], faces[f].at[(k + 1) % 3], faces[f].slot};
                auto offer = [&](const Vec3& p) {
                    if (glm::length(p - hits[h].point) > 2 * radius) return;  // cheaper than where it appears
                    candidates.push_back({p, edge.slot, hits[h].normal, h, f, edge});
                };
                if (kind == CatchKind::Edge)
                    offer(nearestOnEdge(edge, ray));
                else
                    offer(edge.a);  // its other end begins the next edge
            }
    }
    std::vector<std::pair<double, std::size_t>> order;
    for (std::size_t i = 0; i < candidates.size(); ++i)
        if (const auto pixel = aim.project(candidates[i].point))
            if (const double d = glm::length(*pixel - aim.pixel); d < reach) order.emplace_back(d, i);
    std::sort(order.begin(), order.end());
    for (const auto& [distance, i] : order) {
        const Candidate& c = candidates[i];
        if (!whole && isSeam(nearHit[c.hit], c.face, c.edge)) continue;
        if (whole || inSight(scene, index, aim, c.point, filter)) return CatchPoint{kind, c.point, c.normal, c.slot, 0};
    }
    return std::nullopt;
}

}  // namespace query
