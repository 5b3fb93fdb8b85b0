#include "query/route_passage.h"

#include <algorithm>
#include <cmath>
#include <unordered_set>

namespace query {

using base::Vec3;
using model::Slot;

Passage passageOf(const model::Scene& scene, const SceneIndex& index, Slot slot, const shape::Curve& curve,
                  std::size_t most, const SlotFilter& filter) {
    constexpr double kFar = 20;  // metres to each side: beyond that it is open
    constexpr double kApart = 0.5;
    Passage found;
    const model::Route& route = *scene.facet<model::Route>(slot);
    if (curve.empty()) return found;
    std::unordered_set<Slot> own;
    const auto add = [&](Slot top) {
        for (const Slot s : scene.subtree(top)) own.insert(s);
    };
    add(slot);
    for (const model::RouteStop& stop : route.stops)
        if (const Slot s = scene.find(stop.object); s != model::kNoSlot) add(s);
    const SlotFilter others = [&](Slot s) { return !own.contains(s) && (!filter || filter(s)); };
    const SceneIndex& solid = index.solid();
    const auto free = [&](const Vec3& from, const Vec3& way, double far) {
        const auto hit = solid.pick(scene, {from, way}, others);
        return hit && hit->distance < far ? hit->distance : Passage::kOpen;
    };
    const auto parts = static_cast<std::size_t>(
        std::clamp(std::ceil(curve.length() / kApart), 1.0, static_cast<double>(std::max<std::size_t>(most, 1))));
    const double step = curve.length() / static_cast<double>(parts);
    double lacksWidth = 0.01, lacksHeight = 0.01;  // metres that are none
    Vec3 before(0.0);
    for (std::size_t i = 0; i <= parts; ++i) {
        const double m = step * static_cast<double>(i);
        const base::Transform on = poseOn(curve, i == parts && curve.isClosed() ? 0 : m);
        const Vec3 right = on.rotation * Vec3(-1, 0, 0), up(0, 1, 0);
        const Vec3 middle = on.position + up * (route.height / 2);
        const double toRight = free(middle, right, kFar), toLeft = free(middle, -right, kFar);
        if (const double wide = toRight + toLeft; wide < found.narrowest) found.narrowest = wide, found.narrowestAt = m;
        const double room = 2 * std::min(toRight, toLeft);
        if (const double lacks = widthAt(route, curve, m) - room; lacks > lacksWidth)
            lacksWidth = lacks, found.tightAt = m, found.tight = room;
        // From its middle up: what it stands on is not over it.
        const double high = free(middle, up, kFar) + route.height / 2;
        if (high < found.lowest) found.lowest = high, found.lowestAt = m;
        if (const double lacks = route.height - high; lacks > lacksHeight)
            lacksHeight = lacks, found.lowAt = m, found.low = high;
        if (const double gone = glm::length(middle - before); i > 0 && gone > 1e-9 && !found.blockedAt) {
            const auto hit = solid.pick(scene, {before, (middle - before) / gone}, others);
            if (hit && hit->distance < gone)
                found.blockedAt = m - step + hit->distance / gone * step, found.blockedBy = hit->slot;
        }
        before = middle;
    }
    return found;
}

}  // namespace query
