// What cameras with a shot would do wrong: never show, lose whom they see, look at a wall, glide too long or too short.
#include <fmt/format.h>

#include <algorithm>

#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/stands.h"
#include "check/units.h"
#include "model/facets/cues.h"
#include "model/facets/shot.h"
#include "model/facets/zone.h"
#include "rehearse/cue_set.h"
#include "rehearse/shots.h"

namespace check {

namespace {

using model::Shot;

std::vector<Slot> shotsIn(const model::Scene& scene) {
    std::vector<Slot> all;
    for (const Slot s : scene.subtree(kNoSlot))
        if (scene.detail(s) && scene.facet<Shot>(s) != nullptr) all.push_back(s);
    return all;
}

std::vector<Slot> zonesOf(const model::Scene& scene, const Shot& shot) {
    std::vector<Slot> zones;
    for (const model::ShotZone& one : shot.zones)
        if (const Slot zone = scene.find(one.zone);
            zone != kNoSlot && scene.detail(zone) && scene.facet<model::Zone>(zone) != nullptr)
            zones.push_back(zone);
    return zones;
}

/// Does a cue ever ask for it?
bool isAskedFor(const model::Scene& scene, Slot camera) {
    for (const Slot s : scene.subtree(kNoSlot)) {
        const auto* cues = scene.detail(s) ? scene.facet<model::Cues>(s) : nullptr;
        for (const model::Cue& cue : cues != nullptr ? cues->all : std::vector<model::Cue>{})
            for (const model::CueThen& then : cue.then)
                if (then.does == model::CueThen::Does::Camera && then.on) {
                    const auto targets = rehearse::targetsOf(scene, s, then);
                    if (std::ranges::find(targets, camera) != targets.end()) return true;
                }
    }
    return false;
}

void neverShown(const Subject& s, Slot, Report& r) {
    const std::vector<Slot> all = shotsIn(s.scene);
    Slot first = kNoSlot;  // of those that show everywhere: the one that does
    for (const Slot slot : all) {
        const Shot& shot = *s.scene.facet<Shot>(slot);
        if (shot.zones.empty() && (first == kNoSlot || shot.weight > s.scene.facet<Shot>(first)->weight)) first = slot;
    }
    for (const Slot slot : all) {
        const Shot& shot = *s.scene.facet<Shot>(slot);
        const bool shows = shot.zones.empty() ? slot == first : !zonesOf(s.scene, shot).empty();
        if (shows || isAskedFor(s.scene, slot)) continue;
        r.add(s.scene.id(slot),
              shot.zones.empty()
                  ? fmt::format("{} never shows: {} shows everywhere else.", named(s, slot), named(s, first))
                  : fmt::format("{} never shows: none of its zones is there.", named(s, slot)));
    }
}

/// How it goes with the player in its zones: places that were tried, and at how many of them he is lost.
struct Tried {
    std::size_t places = 0, outside = 0, behind = 0;
    Vec3 lostAt{0.0}, hiddenAt{0.0};
    std::string hiddenBy;
};
Tried tried(const Subject& s, Slot camera) {
    constexpr int kAcross = 4;
    constexpr double kAspect = 16.0 / 9.0;
    const rehearse::ShotAt shot = rehearse::shotAt(s.scene, camera);
    Tried all;
    const Vec3 middle(0, s.facts.project.walker.height / 2, 0), head(0, s.facts.project.walker.eyeHeight, 0);
    const auto others = [&](Slot other) { return other != camera; };
    const auto met = [&](const Vec3& from, const Vec3& to) -> std::optional<query::SceneHit> {
        const double far = glm::length(to - from);
        if (far < 1e-6) return std::nullopt;
        auto hit = s.index.solid().pick(s.scene, {from, (to - from) / far}, others);
        return hit && hit->distance < far - 0.05 ? hit : std::nullopt;
    };
    for (const Slot zone : zonesOf(s.scene, shot.shot))
        for (const Vec3& foot : standsIn(s, zone, kAcross)) {
            const rehearse::View view =
                rehearse::viewOf(shot, shot.pose, {shot.shot.seen == Shot::Seen::Player ? foot : shot.seenFoot, 0},
                                 [&](const Vec3& from, const Vec3& to) -> std::optional<double> {
                                     const auto hit = met(from, to);
                                     return hit ? std::optional(hit->distance) : std::nullopt;
                                 });
            ++all.places;
            if (!rehearse::isInPicture(view, foot + middle, kAspect)) {
                ++all.outside;
                all.lostAt = foot;
            } else if (const auto hit = met(view.eye, foot + middle); hit && met(view.eye, foot + head)) {
                ++all.behind;
                all.hiddenAt = foot;
                all.hiddenBy = named(s, hit->slot);
            }
        }
    return all;
}

void playerLost(const Subject& s, Slot, Report& r) {
    for (const Slot slot : shotsIn(s.scene)) {
        if (s.scene.facet<Shot>(slot)->seen == Shot::Seen::Object) continue;  // it is not there for the player
        const Tried is = tried(s, slot);
        if (is.outside == 0 || double(is.outside) < r.number("share") * double(is.places)) continue;
        Finding& f = r.add(s.scene.id(slot), fmt::format("{} does not show the player at {} of {} places in its zones.",
                                                         named(s, slot), is.outside, is.places));
        f.marks = {{model::Mark::Shape::Circle, is.lostAt, Vec3(0, 1, 0), s.facts.project.walker.radius, {}, {}, {}}};
    }
}

void wallBetween(const Subject& s, Slot, Report& r) {
    for (const Slot slot : shotsIn(s.scene)) {
        if (s.scene.facet<Shot>(slot)->seen == Shot::Seen::Object) continue;
        const Tried is = tried(s, slot);
        if (is.behind == 0 || double(is.behind) < r.number("share") * double(is.places)) continue;
        Finding& f = r.add(s.scene.id(slot), fmt::format("{} stands between {} and the player at {} of {} places.",
                                                         is.hiddenBy, named(s, slot), is.behind, is.places));
        f.marks = {{model::Mark::Shape::Arrow, s.scene.world(slot).translation, is.hiddenAt, 0, {}, {}, {}}};
    }
}

void throughWalls(const Subject& s, Slot, Report& r) {
    for (const Slot slot : shotsIn(s.scene)) {
        const rehearse::ShotAt shot = rehearse::shotAt(s.scene, slot);
        if (shot.shot.does != Shot::Does::Rides) continue;
        for (std::size_t i = 1; i < shot.path.size(); ++i) {
            const Vec3 way = shot.path[i] - shot.path[i - 1];
            const double far = glm::length(way);
            if (far < 1e-6) continue;
            const auto hit =
                s.index.solid().pick(s.scene, {shot.path[i - 1], way / far}, [&](Slot other) { return other != slot; });
            if (!hit || hit->distance > far) continue;
            Finding& f =
                r.add(s.scene.id(slot), fmt::format("{} rides through {}.", named(s, slot), named(s, hit->slot)));
            f.other = s.scene.id(hit->slot);
            f.marks = {{model::Mark::Shape::Line, shot.path[i - 1], shot.path[i], 0, {}, {}, {}},
                       {model::Mark::Shape::Dot, hit->point, {}, 0, {}, {}, {}}};
            break;
        }
    }
}

void glideTime(const Subject& s, Slot slot, Report& r) {
    const Shot* shot = s.scene.detail(slot) ? s.scene.facet<Shot>(slot) : nullptr;
    if (shot == nullptr || shot->glideSeconds <= 0) return;
    if (shot->glideSeconds > r.number("most"))
        r.add(s.scene.id(slot), fmt::format("The view glides to {} for {:g} s.", named(s, slot), shot->glideSeconds));
    if (shot->glideSeconds < r.number("least"))
        r.add(s.scene.id(slot),
              fmt::format("The view jerks to {}: it glides for {:g} s only.", named(s, slot), shot->glideSeconds));
}

}  // namespace

std::vector<Rule> cameraRules() {
    const auto rule = [](const char* id, const char* label, const char* why, Severity severity,
                         std::vector<model::Property> parameters, Rule::Looks looks, Find find) {
        return Rule{id, "In play", label, why, severity, std::move(parameters), looks, std::move(find), {}, {}};
    };
    using Looks = Rule::Looks;
    return {rule("camera-unshown", "Camera that never shows",
                 "Its zones are gone, or another shows everywhere that it would: nobody sees by it.", Severity::Caution,
                 {}, Looks::Scene, neverShown),
            rule("camera-lost", "Player out of the picture",
                 "Who plays cannot be seen in the zones that the camera watches: turn it, or let it turn.",
                 Severity::Caution, {amount("share", "Of places", "", 0.5, 0.01, 1)}, Looks::Scene, playerLost),
            rule("camera-wall", "Wall before the camera",
                 "Something hides who plays: move the camera, or let walls pull it in or lift it.", Severity::Caution,
                 {amount("share", "Of places", "", 0.5, 0.01, 1)}, Looks::Scene, wallBetween),
            rule("camera-through", "Camera rides through walls", "One sees the inside of things on its way.",
                 Severity::Caution, {}, Looks::Scene, throughWalls),
            rule("camera-glide", "View glides too long, or jerks",
                 "Nobody waits that long for a view, and what is shorter looks like a fault; 0 cuts.", Severity::Hint,
                 {amount("most", "At most", "s", 3, 0.1, 60), amount("least", "At least", "s", 0.15, 0.01, 5)},
                 Looks::Own, glideTime)};
}

}  // namespace check
