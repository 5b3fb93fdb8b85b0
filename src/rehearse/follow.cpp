#include "rehearse/follow.h"

#include <algorithm>

#include "query/route.h"
#include "rehearse/names.h"

namespace rehearse {

Following::Following(std::shared_ptr<const RouteWay> way, const Pose& from) : way_(std::move(way)), from_(from) {
    const base::Transform begins = query::poseOn(way_->curve, 0);
    turned_ = glm::conjugate(begins.rotation) * from.turn;
    metres_ = -glm::length(begins.position - from.at);
}

Pose Following::now() const {
    if (metres_ < 0) {
        const Vec3 to = way_->curve.at(0), off = from_.at - to;
        return {to + off * (-metres_ / std::max(glm::length(off), 1e-9)), from_.turn};
    }
    const base::Transform on = query::poseOn(way_->curve, metres_);
    return {on.position, glm::normalize(on.rotation * turned_)};
}

Pose Following::step() {
    if (over_) return now();
    if (waits_ > 0) {
        waits_ -= kStep;
        return now();
    }
    const auto& points = way_->route.points;
    metres_ += query::speedAt(way_->route, way_->curve, std::max(metres_, 0.0)) * kStep;
    if (next_ < points.size() && metres_ >= way_->curve.metresOf(next_)) {
        waits_ = points[next_].waits;
        if (waits_ > 0) metres_ = way_->curve.metresOf(next_);
        ++next_;
    }
    const double length = way_->curve.length();
    if (metres_ < length) return now();
    if (way_->curve.isClosed() && lap_ < way_->route.laps) {
        ++lap_;
        next_ = 0;
        metres_ -= length;
    } else if (waits_ <= 0) {
        metres_ = length;
        over_ = true;
    }
    return now();
}

}  // namespace rehearse
