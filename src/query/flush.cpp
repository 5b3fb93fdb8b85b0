#include "query/flush.h"
#include "query/names.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <unordered_map>

namespace query {

namespace {

constexpr std::array kSides = {BoxSide::Low, BoxSide::Centre, BoxSide::High};
constexpr std::size_t kMostLooked = 20'000;  // where thousands share one coordinate, some of them are enough
constexpr double kSame = 1e-6;               // metres: one coordinate

using base::Aabb;
using base::Affine;
using base::Mat3;

/// Corners without those of the same place.
using Corners = std::vector<shape::Float3>;
Corners cornersOf(const shape::Mesh& mesh) {
    Corners corners = mesh.positions;
    std::sort(corners.begin(), corners.end());
    corners.erase(std::unique(corners.begin(), corners.end()), corners.end());
    return corners;
}

/// Is each axis along one axis of the other side? Then the box of a box is exact.
bool isSquare(const Mat3& linear) {
    for (int c = 0; c < 3; ++c) {
        const base::Vec3 way = glm::abs(linear[c]);
        if (std::max({way.x, way.y, way.z}) < (way.x + way.y + way.z) * (1 - 1e-12)) return false;
    }
    return true;
}

Aabb boxOfCorners(const Corners& corners, const Affine& map) {
    Aabb box;
    for (const shape::Float3& p : corners) box.add(map.point({p[0], p[1], p[2]}));
    return box;
}

Affine along(const Mat3& frame, const Affine& world) {
    const Mat3 back = glm::transpose(frame);
    return {back * world.linear, back * world.translation};
}

std::uint64_t stampOf(const Affine& world) {
    std::uint64_t stamp = 0;
    auto mix = [&](const base::Vec3& v) {
        for (int i = 0; i < 3; ++i) stamp = base::mixBits(stamp ^ std::bit_cast<std::uint64_t>(v[i]));
    };
    for (int c = 0; c < 3; ++c) mix(world.linear[c]);
    mix(world.translation);
    return stamp;
}

}  // namespace

double sideAt(const base::Aabb& box, int axis, BoxSide side) {
    return side == BoxSide::Low ? box.low[axis] : side == BoxSide::High ? box.high[axis] : box.centre()[axis];
}

base::Aabb boxAlong(const model::Scene& scene, const MeshLookup& meshes, Slot top, const Mat3& frame) {
    Aabb box;
    for (Slot s : scene.subtree(top))
        if (const MeshIndex* mesh = meshes(scene.item(s)))
            box.add(boxOfCorners(mesh->mesh().positions, along(frame, scene.world(s))));
    return box;
}

FlushIndex::FlushIndex(const model::Scene& scene, const MeshLookup& meshes, const Mat3& frame)
    : frame_(frame), boxes_(scene.slotEnd()), stamps_(scene.slotEnd()) {
    std::unordered_map<base::Name, Corners> corners;
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        const MeshIndex* mesh = scene.alive(s) ? meshes(scene.item(s)) : nullptr;
        if (mesh == nullptr) continue;
        stamps_[s] = stampOf(scene.world(s));
        const Affine map = along(frame, scene.world(s));
        if (isSquare(map.linear)) {
            boxes_[s] = base::mapped(mesh->mesh().bounds, map);
            continue;
        }
        auto [place, isNew] = corners.try_emplace(scene.item(s));
        if (isNew) place->second = cornersOf(mesh->mesh());
        boxes_[s] = boxOfCorners(place->second, map);
    }
    for (int axis = 0; axis < 3; ++axis) {
        std::vector<Entry>& entries = axes_[static_cast<std::size_t>(axis)];
        entries.reserve(scene.objectCount() * 3);
        for (Slot s = 0; s < scene.slotEnd(); ++s) {
            if (boxes_[s].empty()) continue;
            for (BoxSide side : kSides) entries.push_back({sideAt(boxes_[s], axis, side), s, side});
        }
        std::sort(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) { return a.value < b.value; });
    }
}

std::vector<Flush> FlushIndex::near(const model::Scene& scene, const base::Aabb& box, int axis, double tolerance,
                                    std::size_t most, const SlotFilter& filter) const {
    const std::vector<Entry>& entries = axes_[static_cast<std::size_t>(axis)];
    std::vector<Flush> result;
    for (BoxSide own : kSides) {
        const double value = sideAt(box, axis, own);
        auto less = [](const Entry& e, double v) { return e.value < v; };
        auto up = std::lower_bound(entries.begin(), entries.end(), value, less);
        auto down = up;
        std::vector<Flush> found;
        double best = tolerance;
        // Outwards from the box's own coordinate, the closer side first.
        for (std::size_t looked = 0; looked < kMostLooked; ++looked) {
            const double above = up != entries.end() ? up->value - value : INFINITY;
            const double below = down != entries.begin() ? value - std::prev(down)->value : INFINITY;
            if (std::min(above, below) > best + kSame) break;
            const Entry& entry = above <= below ? *up++ : *--down;
            if ((own == BoxSide::Centre) != (entry.side == BoxSide::Centre)) continue;
            if (!scene.alive(entry.slot) || (filter && !filter(entry.slot))) continue;
            if (stampOf(scene.world(entry.slot)) != stamps_[entry.slot]) continue;
            best = std::min(best, std::abs(entry.value - value));
            found.push_back({axis, own, entry.side, entry.slot, entry.value, entry.value - value,
                             glm::length(boxes_[entry.slot].centre() - box.centre())});
        }
        std::sort(found.begin(), found.end(), [](const Flush& a, const Flush& b) {
            const bool same = std::abs(std::abs(a.residue) - std::abs(b.residue)) < kSame;
            return same ? a.distance < b.distance : std::abs(a.residue) < std::abs(b.residue);
        });
        std::erase_if(found, [&](const Flush& f) { return std::abs(f.value - found.front().value) > kSame; });
        if (found.size() > most) found.resize(most);
        result.insert(result.end(), found.begin(), found.end());
    }
    std::stable_sort(result.begin(), result.end(),
                     [](const Flush& a, const Flush& b) { return std::abs(a.residue) < std::abs(b.residue) - kSame; });
    return result;
}

}  // namespace query
