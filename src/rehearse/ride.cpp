#include "rehearse/ride.h"

#include <algorithm>
#include <cmath>

#include "model/facets/points.h"
#include "query/route.h"

namespace rehearse {
namespace {

using base::Vec3;

constexpr double kBend = 0.75;  // metres before and behind, over which it turns from one leg into the next

}  // namespace

Ride::Ride(const model::Scene& scene, model::Slot carrier, model::Slot path) {
    const auto* points = path != model::kNoSlot && scene.detail(path) ? scene.facet<model::PointSet>(path) : nullptr;
    const std::vector<Vec3> route = points == nullptr ? query::wayOf(scene, path) : std::vector<Vec3>{};
    if (carrier == model::kNoSlot || (points == nullptr && route.empty())) return;
    const auto add = [&](const Vec3& at) {
        if (!way_.empty() && glm::length(at - way_.back()) < 1e-3) return;
        metres_ += way_.empty() ? 0 : glm::length(at - way_.back());
        way_.push_back(at);
        until_.push_back(metres_);
    };
    add(scene.world(carrier).translation);
    for (const Vec3& at : route) add(at);
    for (const model::PlacePoint& point : points != nullptr ? points->points : std::vector<model::PlacePoint>{})
        add(points->stays ? point.at : scene.world(path).point(point.at));
}

Vec3 Ride::at(double metres) const {
    const double m = std::clamp(metres, 0.0, metres_);
    const auto next = std::ranges::lower_bound(until_, m);
    const auto i = static_cast<std::size_t>(next - until_.begin());
    if (i == 0) return way_.front();
    const double leg = until_[i] - until_[i - 1];
    return glm::mix(way_[i - 1], way_[i], (m - until_[i - 1]) / leg);
}

double Ride::headingAt(double metres) const {
    const Vec3 ahead = at(metres + kBend) - at(metres - kBend);
    return std::hypot(ahead.x, ahead.z) < 1e-9 ? 0 : std::atan2(ahead.x, ahead.z);
}

base::Affine Ride::motionAt(double given) const {
    if (!hasWay()) return {};
    const double metres = std::clamp(given, 0.0, metres_);
    const Vec3 from = way_.front();
    base::Affine motion;
    motion.linear = glm::mat3_cast(glm::angleAxis(headingAt(metres) - headingAt(0), Vec3(0, 1, 0)));
    motion.translation = at(metres) - motion.linear * from;
    return motion;
}

}  // namespace rehearse
