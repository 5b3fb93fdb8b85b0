#include "rehearse/shots.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "model/facets/camera.h"
#include "model/facets/points.h"
#include "query/route.h"
#include "rehearse/names.h"

namespace rehearse {
namespace {

using model::Shot;

constexpr double kHighest = 12;       // metres that walls lift a camera
constexpr double kLiftMetres = 0.25;  // at a time
constexpr double kNearest = 0.4;      // metres that it comes to whom it sees
constexpr double kFarAhead = 10;      // metres to what a camera looks at that looks at nobody

/// Nearest place on a line through points.
Vec3 nearestOn(const std::vector<Vec3>& path, const Vec3& to) {
    Vec3 best = path.front();
    double least = glm::length(best - to);
    for (std::size_t i = 1; i < path.size(); ++i) {
        const Vec3 way = path[i] - path[i - 1];
        const double length2 = glm::dot(way, way);
        const double t = length2 > 0 ? std::clamp(glm::dot(to - path[i - 1], way) / length2, 0.0, 1.0) : 0;
        const Vec3 at = path[i - 1] + way * t;
        if (const double away = glm::length(at - to); away < least) least = away, best = at;
    }
    return best;
}

/// What walls leave of it: nearer to whom it sees, or higher.
Vec3 besideWalls(const ShotAt& shot, const Vec3& eye, const Vec3& to, const Blocked& blocked) {
    const double away = glm::length(eye - to);
    if (shot.shot.walls == Shot::Walls::Through || away < kNearest) return eye;
    if (shot.shot.walls == Shot::Walls::PullIn) {
        const auto met = blocked(to, eye);
        if (!met) return eye;
        return to + (eye - to) * (std::max(*met - shot.shot.keepMetres, std::min(kNearest, away)) / away);
    }
    for (double up = 0; up <= kHighest; up += kLiftMetres) {
        const Vec3 higher = eye + Vec3(0, up, 0);
        if (!blocked(to, higher)) return up > 0 ? higher + Vec3(0, shot.shot.keepMetres, 0) : eye;
    }
    return eye;
}

View mixed(const View& a, const View& b, double t) {
    // The way one looks turns evenly; what is looked at stays as far off as it is.
    const Vec3 wayA = a.to - a.eye, wayB = b.to - b.eye;
    const double farA = glm::length(wayA), farB = glm::length(wayB);
    View is;
    is.eye = glm::mix(a.eye, b.eye, t);
    is.verticalDegrees = glm::mix(a.verticalDegrees, b.verticalDegrees, t);
    if (farA < 1e-9 || farB < 1e-9) {
        is.to = glm::mix(a.to, b.to, t);
        return is;
    }
    Vec3 way = glm::mix(wayA / farA, wayB / farB, t);
    if (glm::length(way) < 1e-6) way = wayB / farB;
    is.to = is.eye + glm::normalize(way) * glm::mix(farA, farB, t);
    return is;
}

}  // namespace

bool isInPicture(const View& view, const Vec3& at, double aspect, double margin) {
    const Vec3 ahead = view.to - view.eye, to = at - view.eye;
    const double far = glm::length(ahead);
    if (far < 1e-9) return false;
    const Vec3 forward = ahead / far;
    Vec3 right = glm::cross(forward, Vec3(0, 1, 0));
    if (glm::length(right) < 1e-9) right = Vec3(1, 0, 0);
    right = glm::normalize(right);
    const Vec3 up = glm::cross(right, forward);
    const double depth = glm::dot(to, forward);
    if (depth <= 0.05) return false;
    const double high = std::tan(base::radians(view.verticalDegrees) / 2) * depth * (1 - margin);
    return std::abs(glm::dot(to, up)) <= high && std::abs(glm::dot(to, right)) <= high * aspect;
}

ShotAt shotAt(const model::Scene& scene, Slot s) {
    ShotAt at;
    at.camera = scene.id(s);
    at.name = scene.nameText(s);
    at.shot = *scene.facet<Shot>(s);
    at.everywhere = at.shot.zones.empty();
    if (const auto* camera = scene.facet<model::Camera>(s)) at.verticalDegrees = camera->verticalDegrees;
    const base::Transform pose = base::toTransform(scene.world(s));
    at.pose = {pose.position, pose.rotation};
    if (const Slot seen = scene.find(at.shot.object); at.shot.seen == Shot::Seen::Object && seen != model::kNoSlot)
        at.seenFoot = placeOf(scene, seen).baseCentre();
    if (const Slot path = scene.find(at.shot.path); path != model::kNoSlot)
        if (const auto* points = scene.facet<model::PointSet>(path))
            for (const model::PlacePoint& point : points->points)
                at.path.push_back(points->stays ? point.at : scene.world(path).point(point.at));
    if (const Slot path = scene.find(at.shot.path); at.path.empty() && path != model::kNoSlot)
        at.path = query::wayOf(scene, path);
    return at;
}

std::vector<ShotAt> shotsOf(const Level& level) {
    std::vector<ShotAt> all;
    const model::Scene& scene = *level.scene;
    std::unordered_map<base::ObjectId, std::int32_t> zoneOf;
    for (std::size_t z = 0; z < level.zones.size(); ++z) zoneOf[level.zones[z].id] = static_cast<std::int32_t>(z);
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        if (!scene.detail(s) || scene.facet<Shot>(s) == nullptr || level.thingOf[s] == Level::kAbsent) continue;
        ShotAt at = shotAt(scene, s);
        at.thing = level.thingOf[s];
        if (const Slot seen = scene.find(at.shot.object); at.shot.seen == Shot::Seen::Object && seen != model::kNoSlot)
            at.seen = level.thingOf[seen];
        for (const model::ShotZone& zone : at.shot.zones)
            if (const auto known = zoneOf.find(zone.zone); known != zoneOf.end()) at.zones.push_back(known->second);
        all.push_back(std::move(at));
    }
    return all;
}

View viewOf(const ShotAt& shot, const Pose& pose, const Stand& seen, const Blocked& blocked) {
    View view;
    view.verticalDegrees = shot.verticalDegrees;
    view.eye = pose.at;
    view.to = pose.at + pose.turn * Vec3(0, 0, -kFarAhead);
    if (!shot.shot.looks()) return view;
    view.to = seen.foot + Vec3(0, shot.shot.height, 0);
    if (shot.shot.does == Shot::Does::Follows) {
        const bool own = shot.shot.along == Shot::Along::Own;
        const base::Quat turn = own ? base::fromDegrees({0, -seen.yawDegrees, 0}) : base::Quat(1, 0, 0, 0);
        view.eye = seen.foot + turn * shot.shot.offset;
    }
    if (shot.shot.does == Shot::Does::Rides && !shot.path.empty()) view.eye = nearestOn(shot.path, view.to);
    view.eye = besideWalls(shot, view.eye, view.to, blocked);
    return view;
}

Shots::Shots(const std::vector<ShotAt>& all, const ShotStage& stage) : all_(all), stage_(stage) {}

std::int32_t Shots::chosen() const {
    if (forced_ >= 0) return forced_;
    std::int32_t best = -1;
    const auto rank = [&](std::int32_t i) {
        const ShotAt& shot = all_[static_cast<std::size_t>(i)];
        return std::pair(!shot.everywhere, shot.shot.weight);
    };
    for (std::int32_t i = 0; i < static_cast<std::int32_t>(all_.size()); ++i) {
        const ShotAt& shot = all_[static_cast<std::size_t>(i)];
        if (shot.thing >= 0 && !stage_.isThere(shot.thing)) continue;
        const bool shows = shot.everywhere ||
                           std::ranges::any_of(shot.zones, [&](std::int32_t zone) { return stage_.isPlayerIn(zone); });
        if (shows && (best < 0 || rank(i) > rank(best))) best = i;
    }
    return best;
}

Stand Shots::seenBy(const ShotAt& shot) const {
    if (shot.shot.seen == Shot::Seen::Player) return stage_.player();
    if (shot.seen < 0) return {shot.seenFoot, 0};
    const base::Affine by = stage_.motion(shot.seen);
    const Vec3 ahead = by.direction({0, 0, -1});
    return {by.point(shot.seenFoot), base::degrees(std::atan2(ahead.x, -ahead.z))};
}

View Shots::wanted(std::int32_t i) const {
    const ShotAt& shot = all_[static_cast<std::size_t>(i)];
    Pose pose = shot.pose;
    if (shot.thing >= 0) {
        const base::Transform now = base::toTransform(stage_.motion(shot.thing) * toAffine(pose));
        pose = {now.position, now.rotation};
    }
    return viewOf(shot, pose, seenBy(shot),
                  [this](const Vec3& from, const Vec3& to) { return stage_.blocked(from, to); });
}

bool Shots::step() {
    const std::int32_t now = chosen();
    const bool other = now != showing_;
    if (now < 0) {
        showing_ = now;
        view_.reset();
        return other;
    }
    const ShotAt& shot = all_[static_cast<std::size_t>(now)];
    const View is = wanted(now);
    if (other) {
        lagging_ = is;
        glide_ = view_ ? static_cast<int>(std::lround(shot.shot.glideSeconds * kStepsPerSecond)) : 0;
        gliding_ = 0;
        if (view_) from_ = *view_;
        showing_ = now;
    } else {
        const double share = shot.shot.looks() && shot.shot.lag > 0 ? 1 - std::exp(-kStep / shot.shot.lag) : 1;
        lagging_.eye += (is.eye - lagging_.eye) * share;
        lagging_.to += (is.to - lagging_.to) * share;
        lagging_.verticalDegrees = is.verticalDegrees;
    }
    if (gliding_ < glide_) {
        const double t = static_cast<double>(++gliding_) / glide_;
        view_ = mixed(from_, lagging_, t * t * (3 - 2 * t));
    } else {
        view_ = lagging_;
    }
    return other;
}

}  // namespace rehearse
