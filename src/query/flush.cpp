#include "query/flush.h"

#include <algorithm>
#include <cmath>

namespace query {

using model::Slot;

namespace {

constexpr std::array kSides = {BoxSide::Low, BoxSide::Centre, BoxSide::High};
constexpr std::size_t kMostLooked = 20'000;  // where thousands share one coordinate, some of them are enough
constexpr double kSame = 1e-6;               // metres: one coordinate

}  // namespace

double sideAt(const base::Aabb& box, int axis, BoxSide side) {
    return side == BoxSide::Low ? box.low[axis] : side == BoxSide::High ? box.high[axis] : box.centre()[axis];
}

FlushIndex::FlushIndex(const model::Scene& scene) {
    for (int axis = 0; axis < 3; ++axis) {
        std::vector<Entry>& entries = axes_[static_cast<std::size_t>(axis)];
        entries.reserve(scene.objectCount() * 3);
        for (Slot s = 0; s < scene.slotEnd(); ++s) {
            if (!scene.alive(s) || scene.bounds(s).empty()) continue;
            for (BoxSide side : kSides) entries.push_back({sideAt(scene.bounds(s), axis, side), s, side});
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
            const base::Aabb& other = scene.bounds(entry.slot);
            if (other.empty() || sideAt(other, axis, entry.side) != entry.value) continue;
            best = std::min(best, std::abs(entry.value - value));
            found.push_back({axis, own, entry.side, entry.slot, entry.value, entry.value - value,
                             glm::length(other.centre() - box.centre())});
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
