#include "rehearse/follow.h"

#include <algorithm>
#include <utility>

#include "query/route.h"
#include "rehearse/names.h"

namespace rehearse {

namespace {

constexpr double kHere = 1e-6;  // metres

}  // namespace

Network networkOf(const model::Scene& scene, Slot route) {
    const std::vector<Slot> slots = query::networkOf(scene, route);
    Network ways;
    for (const Slot s : slots) {
        RouteWay& way = ways.emplace_back();
        way.route = *scene.facet<model::Route>(s);
        way.curve = query::curveOf(scene, s);
        way.pace = query::Pace(way.route, way.curve);
        for (const query::Branch& branch : query::branchesOf(scene, s)) {
            const auto to = static_cast<std::size_t>(std::ranges::find(slots, branch.to) - slots.begin());
            way.branches.emplace_back(branch, to);
        }
    }
    // What has no length cannot be gone onto.
    for (RouteWay& way : ways)
        std::erase_if(way.branches, [&](const auto& branch) { return ways[branch.second].curve.empty(); });
    return ways;
}

Following::Following(std::shared_ptr<const Network> ways, const Pose& from, std::uint64_t seed)
    : ways_(std::move(ways)), chance_(seed) {
    enter(0, 0, from);
}

void Following::enter(std::size_t way, double metres, const Pose& from) {
    way_ = way;
    from_ = from;
    metres_ = metres;
    lap_ = 1;
    const base::Transform there = query::poseOn(on().curve, metres);
    turned_ = glm::conjugate(there.rotation) * from.turn;
    toGo_ = glm::length(there.position - from.at);
    // At the very beginning its first point counts; where it is joined, those that come after.
    next_ = 0;
    while (metres > kHere && next_ < on().route.points.size() &&
           query::Pace::placeOf(on().curve, next_) <= metres + kHere)
        ++next_;
}

Pose Following::now() const {
    const base::Transform there = query::poseOn(on().curve, metres_);
    if (toGo_ <= 0) return {there.position, glm::normalize(there.rotation * turned_)};
    const Vec3 off = from_.at - there.position;
    return {there.position + off * (toGo_ / std::max(glm::length(off), 1e-9)), from_.turn};
}

bool Following::isLastLap() const {
    return !on().curve.isClosed() || lap_ >= on().route.laps;
}

/// By chance, as often as the shares say: going on counts 1 where it goes on.
bool Following::turnsOff(std::size_t point, const std::function<bool(base::ObjectId goal)>& isMet) {
    const bool goesOn = on().curve.isClosed() || point + 1 < on().route.points.size();
    double all = goesOn ? 1 : 0;
    const auto isOpen = [&](const query::Branch& b) { return b.point == point && (!b.goal || isMet(b.goal)); };
    for (const auto& [branch, to] : on().branches)
        if (isOpen(branch)) all += branch.share;
    if (all <= (goesOn ? 1 : 0)) return false;
    base::Random random(chance_);
    chance_ = random.next();
    double left = random.between(0, all);
    for (const auto& [branch, to] : on().branches) {
        if (!isOpen(branch)) continue;
        if (left -= branch.share; left > 0) continue;
        enter(to, branch.metres, now());
        return true;
    }
    return false;
}

/// True: it has come by its next point, and goes on otherwise from there.
bool Following::passPoint(const std::function<bool(base::ObjectId goal)>& isMet) {
    const auto& points = on().route.points;
    if (next_ >= points.size()) return false;
    const double place = query::Pace::placeOf(on().curve, next_);
    if (metres_ < place - kHere) return false;
    const std::size_t point = next_++;
    waits_ = points[point].waits;
    if (waits_ > 0) speed_ = 0;
    const double is = std::exchange(metres_, place);
    if (turnsOff(point, isMet) || waits_ > 0) return true;
    metres_ = is;
    return false;
}

Pose Following::step(const std::function<bool(base::ObjectId goal)>& isMet) {
    if (over_) return now();
    if (waits_ > 0) {
        waits_ -= kStep;
        return now();
    }
    const double gains = on().route.gains, most = toGo_ > 0 ? on().route.speed : on().pace.at(metres_);
    speed_ = gains > 0 ? std::min(std::max(most, gains * kStep), speed_ + gains * kStep) : most;
    if (toGo_ > 0) {
        toGo_ = std::max(toGo_ - speed_ * kStep, 0.0);
        return now();
    }
    metres_ += speed_ * kStep;
    const std::size_t way = way_, points = on().route.points.size();
    for (std::size_t i = 0; i < points; ++i) {
        const std::size_t next = next_;
        if (passPoint(isMet)) return now();
        if (next_ == next || way_ != way) break;
    }
    const double length = on().curve.length();
    if (metres_ < length - kHere) return now();
    if (!isLastLap()) {
        ++lap_;
        next_ = 0;
        metres_ -= length;
        metres_ = std::max(metres_, 0.0);
    } else {
        metres_ = length;
        over_ = waits_ <= 0;
    }
    return now();
}

}  // namespace rehearse
