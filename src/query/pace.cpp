#include "query/pace.h"

#include <algorithm>
#include <cmath>

namespace query {

constexpr double kAtPoint = 1e-9;  // metres

Pace::Pace(const model::Route& route, const shape::Curve& curve) : gains_(route.gains) {
    const std::size_t n = route.points.size();
    if (curve.empty()) return;
    std::vector<double> most;  // squares of what is allowed where a leg begins, and at the very end
    double before = 0;
    for (std::size_t i = 0; i < n; ++i) {
        const model::RoutePoint& point = route.points[i];
        const double from = placeOf(curve, i), to = i + 1 < n ? placeOf(curve, i + 1) : curve.length();
        const double speed = std::max(point.speed > 0 ? point.speed : route.speed, 1e-6);
        const bool stands = point.waits > 0 || (i == 0 && !route.closed);
        legs_.push_back({from, std::max(to - from, 0.0), speed});
        most.push_back(stands ? 0 : i == 0 ? speed * speed : std::min(speed, before) * std::min(speed, before));
        before = speed;
    }
    most.push_back(route.closed ? std::min(most[0], before * before) : 0);
    if (route.closed) most[0] = most.back();
    if (gains_ > 0) slowDown(most, route.closed ? 2 : 1);
    for (std::size_t i = 0; i < legs_.size(); ++i) {
        legs_[i].first = gains_ > 0 ? most[i] : legs_[i].speed * legs_[i].speed;
        legs_[i].last = gains_ > 0 ? most[i + 1] : legs_[i].first;
    }
}

double Pace::placeOf(const shape::Curve& curve, std::size_t point) {
    return point == 0 ? 0 : curve.metresOf(point);
}

/// No faster than can be gained since what lies before, nor lost until what lies ahead; round and round.
void Pace::slowDown(std::vector<double>& most, int rounds) const {
    for (int round = 0; round < rounds; ++round) {
        for (std::size_t i = 0; i < legs_.size(); ++i)
            most[i + 1] = std::min(most[i + 1], most[i] + 2 * gains_ * legs_[i].length);
        for (std::size_t i = legs_.size(); i-- > 0;)
            most[i] = std::min(most[i], most[i + 1] + 2 * gains_ * legs_[i].length);
        if (rounds > 1) most.front() = most.back() = std::min(most.front(), most.back());
    }
}

double Pace::at(double metres) const {
    if (legs_.empty()) return 0;
    const auto after = std::ranges::upper_bound(legs_, metres + kAtPoint, {}, &Leg::from);
    const Leg& leg = after == legs_.begin() ? legs_.front() : *std::prev(after);
    const double in = std::clamp(metres - leg.from, 0.0, leg.length);
    const double most = std::min(leg.first + 2 * gains_ * in, leg.last + 2 * gains_ * (leg.length - in));
    return gains_ > 0 ? std::min(leg.speed, std::sqrt(std::max(most, 0.0))) : leg.speed;
}

double Pace::seconds() const {
    double sum = 0;
    for (const Leg& leg : legs_) {
        if (leg.length <= 0) continue;
        if (gains_ <= 0) {
            sum += leg.length / leg.speed;
            continue;
        }
        // Up to the speed of the leg, or to where gaining and losing meet; on at it; and down.
        const double first = std::sqrt(leg.first), last = std::sqrt(leg.last);
        const double meet = std::sqrt((leg.first + leg.last) / 2 + gains_ * leg.length);
        const double top = std::min(leg.speed, meet);
        const double changing = (2 * top * top - leg.first - leg.last) / (2 * gains_);
        sum += (2 * top - first - last) / gains_ + std::max(leg.length - changing, 0.0) / top;
    }
    return sum;
}

double Pace::secondsToStand() const {
    if (gains_ <= 0 || legs_.empty()) return 0;
    const auto half = [&](double squared) { return std::sqrt(squared) / (2 * gains_); };
    return half(legs_.front().first) + half(legs_.back().last);
}

}  // namespace query
