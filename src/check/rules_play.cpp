// What a playtest would find: what cannot be reached, seen or carried, lights and cameras that do nothing, bodies that
// would move as the level begins.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <tuple>

#include "base/text.h"
#include "check/names.h"
#include "check/parameters.h"
#include "check/stands.h"
#include "check/units.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/cues.h"
#include "model/facets/light.h"
#include "model/facets/zone.h"
#include "ops/facets.h"
#include "ops/objects.h"
#include "ops/seat.h"
#include "query/mesh_index.h"
#include "query/walk.h"
#include "rehearse/ground.h"
#include "rehearse/world.h"

namespace check {

using model::Body;
using model::Mark;

namespace {

const Body* bodyOf(const model::Scene& scene, Slot slot) {
    return scene.facet<model::Body>(slot) ? &*scene.facet<model::Body>(slot) : nullptr;
}

/// The walker as it stands, how far it reaches towards a thing, and what is between.
std::vector<Mark> reachMarks(const Vec3& feet, const Vec3& eye, const Vec3& thing, double reach, const Vec3& stopped,
                             std::string words) {
    constexpr int kPieces = 14;
    constexpr double kHalfAngle = 0.7;  // radians
    std::vector<Mark> marks = {{Mark::Shape::Line, feet, eye, 0, {}, {}, {}}};
    const Vec3 ahead = glm::length(thing - eye) > 1e-9 ? glm::normalize(thing - eye) : Vec3(0, 1, 0);
    const Vec3 level = glm::cross(ahead, Vec3(0, 1, 0));
    const Vec3 aside = glm::length(level) > 1e-6 ? glm::normalize(level) : Vec3(1, 0, 0);
    auto at = [&](int i) {
        const double angle = kHalfAngle * (2.0 * i / kPieces - 1);
        return eye + (ahead * std::cos(angle) + aside * std::sin(angle)) * reach;
    };
    for (int i = 0; i < kPieces; ++i) marks.push_back({Mark::Shape::Line, at(i), at(i + 1), 0, {}, {}, {}});
    marks.push_back({Mark::Shape::Arrow, eye, stopped, 0, {}, {}, {}});
    marks.push_back({Mark::Shape::Dot, thing, {}, 0, {}, {}, {}});
    marks.push_back({Mark::Shape::Label, glm::mix(eye, thing, 0.5), {}, 0, {}, std::move(words), {}});
    return marks;
}

/// Can one come to stand at `feet` from somewhere at least `far` away from `thing`? Walked backwards, step by step:
/// from the top of a pillar, or within walls, there is no way on.
bool canComeTo(const Subject& s, const Vec3& feet, const Vec3& thing, double far, const query::SlotFilter& others) {
    const model::Walker& walker = s.facts.project.walker;
    constexpr double kPace = 0.3, kNear = 0.12;  // metres
    constexpr double kJump = 2.5;                // that high one lets oneself down
    const auto away = [&](const Vec3& p) { return std::hypot(p.x - thing.x, p.z - thing.z); };
    struct Place {
        int x, z;
        Vec3 at;
    };
    std::vector<Place> open = {{0, 0, feet}};
    std::set<std::tuple<int, int, long>> seen = {{0, 0, 0}};
    while (!open.empty()) {
        const auto farthest = std::max_element(open.begin(), open.end(),
                                               [&](const Place& a, const Place& b) { return away(a.at) < away(b.at); });
        const Place here = *farthest;
        *farthest = open.back();
        open.pop_back();
        if (away(here.at) >= far) return true;
        for (const auto& [dx, dz] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}})
            for (const double above : {walker.stepHeight, kJump}) {
                const Vec3 beside(feet.x + (here.x + dx) * kPace, here.at.y + above, feet.z + (here.z + dz) * kPace);
                const auto from = query::floorBelow(s.scene, s.index.solid(), beside, walker,
                                                    above + walker.stepHeight + kPace, others);
                if (!from) continue;
                const auto key = std::tuple(here.x + dx, here.z + dz, std::lround((from->y - feet.y) / 0.3));
                if (seen.contains(key)) continue;
                const Vec3 back = query::walk(s.scene, s.index.solid(), *from, here.at - *from, walker, others);
                if (glm::length(back - here.at) > kNear) continue;
                seen.insert(key);
                open.push_back({here.x + dx, here.z + dz, *from});
            }
    }
    return false;
}

/// Of what says from where it is used: is there no such place that one can stand at and come to?
void outOfUse(const Subject& s, Slot unit, Slot slot, const std::vector<model::ItemPlace>& uses, Report& r) {
    const model::Walker& walker = s.facts.project.walker;
    const Vec3 up(0, walker.eyeHeight, 0);
    const base::Aabb box = s.scene.bounds(slot);
    const Vec3 thing = box.empty() ? s.scene.world(slot).translation : box.centre();
    auto others = [&](Slot other) { return !s.scene.isWithin(other, unit); };
    std::vector<Mark> marks;
    for (const model::ItemPlace& use : uses) {
        const Vec3 at = s.scene.world(slot).point(use.at);
        const Vec3 above = at + Vec3(0, walker.stepHeight + 0.05, 0);
        const auto feet =
            query::floorBelow(s.scene, s.index.solid(), above, walker, 2 * walker.stepHeight + 0.1, others);
        constexpr double kFar = 3;  // metres
        if (feet && closedAround(s.scene, s.index.solid(), *feet + up / 2.0, unit) == kNoSlot &&
            canComeTo(s, *feet, thing, kFar, others))
            return;
        marks.push_back({Mark::Shape::Circle, at, Vec3(0, 1, 0), walker.radius, {}, use.name, {}});
    }
    const std::string where = uses.size() == 1 && !uses.front().name.empty() ? fmt::format("“{}”", uses.front().name)
                                                                             : std::string("where it is used from");
    r.add(s.scene.id(slot), fmt::format("Nobody can stand at {} of {}.", where, named(s, slot))).marks =
        std::move(marks);
}

void outOfReach(const Subject& s, Slot unit, Slot slot, Report& r) {
    if (const model::Item* item = s.facts.library.item(s.scene.item(slot)); item != nullptr && !item->uses.empty())
        return outOfUse(s, unit, slot, item->uses, r);
    const model::Walker& walker = s.facts.project.walker;
    const double reach = r.number("reach"), high = r.number("high");
    const base::Aabb box = s.scene.bounds(slot);
    const Vec3 point = box.empty() ? s.scene.world(slot).translation : box.centre();
    auto others = [&](Slot other) { return !s.scene.isWithin(other, unit); };
    constexpr int kWays = 16;
    constexpr double kBeyond = 1.5;  // metres; the checker asks again for what changes up to two beyond the reach
    // A place to stand at, that share of the reach away, and at most that far above or below; nothing: there is none.
    auto standAt = [&](double share, int way, double most) -> std::optional<Vec3> {
        const double angle = 2 * base::kPi * way / kWays;
        const Vec3 beside = point + Vec3(std::cos(angle), 0, std::sin(angle)) * (reach * share);
        const auto feet =
            query::floorBelow(s.scene, s.index.solid(), beside + Vec3(0, high, 0), walker, high + most, others);
        return feet && std::abs(point.y - feet->y) <= most ? feet : std::nullopt;
    };
    const Vec3 up(0, walker.eyeHeight, 0);
    std::vector<Mark> marks;
    bool cutOff = false;  // it could be reached from there, but nobody comes there
    for (const double share : {0.5, 0.75, 1.0})
        for (int k = 0; k < kWays; ++k) {
            const auto feet = standAt(share, k, high);
            if (!feet || closedAround(s.scene, s.index.solid(), *feet + up / 2.0, unit) != kNoSlot) continue;
            // From the eye to the thing nothing may be in the way.
            const Vec3 eye = *feet + up;
            const double away = glm::length(point - eye);
            const auto hit =
                away > 1e-9 ? s.index.solid().pick(s.scene, {eye, (point - eye) / away}, others) : std::nullopt;
            if (!hit || hit->distance >= away - 0.05) {
                if (canComeTo(s, *feet, point, reach + kBeyond, others)) return;  // it can be reached
                cutOff = true;
                continue;
            }
            if (marks.empty())
                marks = reachMarks(*feet, eye, point, reach, hit->point,
                                   fmt::format("{} is in the way", named(s, hit->slot)));
        }
    if (cutOff) marks.clear();
    Finding& f =
        r.add(s.scene.id(slot),
              cutOff ? fmt::format("{} can be reached, but nobody comes to where one would stand.", named(s, slot))
              : !marks.empty() ? fmt::format("{} can be stood near, but something is in the way.", named(s, slot))
                               : fmt::format("Nobody can stand within {} of {}.", metres(reach), named(s, slot)));
    // The nearest that one comes to it: a little farther out, or far below.
    constexpr double kDeep = 30, kFarther = 0.9;  // metres
    for (const double most : {high, kDeep})
        for (double share = most > high ? 0.6 : 1.1; marks.empty() && reach * share <= reach + kFarther; share += 0.1)
            for (int k = 0; marks.empty() && k < kWays; ++k)
                if (const auto feet = standAt(share, k, most)) {
                    const double rise = std::abs(point.y - feet->y);
                    marks = reachMarks(*feet, *feet + up, point, reach, point,
                                       rise > high
                                           ? fmt::format("{} above, reach {}", metres(rise), metres(high))
                                           : fmt::format("{} away, reach {}", metres(reach * share), metres(reach)));
                }
    if (marks.empty()) marks = {{Mark::Shape::Circle, point, Vec3(0, 1, 0), reach, {}, {}, {}}};
    f.marks = std::move(marks);
}

/// All in a unit that has to be reached.
void allOutOfReach(const Subject& s, Slot unit, Report& r) {
    for (Slot slot : s.scene.subtree(unit))
        if (r.fits("where", s.scene, slot)) outOfReach(s, unit, slot, r);
}

/// Zones that wait for who walks: is there a place in one to stand at, that one comes to from farther off?
/// The navigation mesh of the level, made when it is first asked: can one come from a start to one of some places?
class FromStarts {
  public:
    explicit FromStarts(const Subject& s) {
        base::Progress progress;
        level_ =
            rehearse::levelOf(std::make_shared<const model::Scene>(s.scene),
                              rehearse::sourcesOf(s.facts.project, s.facts.library, s.facts.shapes, s.scene.name()));
        if (auto ground = rehearse::Ground::make(level_, progress); ground) ground_ = std::move(*ground);
    }
    /// Without a start, or when the level cannot be divided, nothing is known against it.
    bool come(const std::vector<Vec3>& to) {
        if (ground_ == nullptr || level_.starts.empty()) return true;
        const auto walks = [&](const Vec3& place) {
            return std::ranges::any_of(level_.starts,
                                       [&](const auto& start) { return ground_->way(start.feet, place).has_value(); });
        };
        if (std::ranges::any_of(to, walks)) return true;
        if (maps_.empty()) {  // jumps take long to try
            const rehearse::World world(level_);
            for (const rehearse::Start& start : level_.starts) maps_.push_back(ground_->reach(start.feet, world));
        }
        return std::ranges::any_of(maps_, [&](const auto& map) {
            return std::ranges::any_of(to, [&](const Vec3& place) {
                const auto reach = rehearse::Ground::reachOf(map, place);
                return reach && *reach != rehearse::Reach::Never;
            });
        });
    }

  private:
    rehearse::Level level_;
    std::unique_ptr<rehearse::Ground> ground_;
    std::vector<std::vector<rehearse::Patch>> maps_;  // by start
};

void zoneReach(const Subject& s, Slot, Report& r) {
    const double far = r.number("far");
    const model::SceneEntry* entry = s.facts.project.scene(s.scene.name());
    if (entry != nullptr && entry->craft) return;
    std::set<Slot> zones;
    for (Slot slot = 0; slot < s.scene.slotEnd(); ++slot) {
        const auto* cues = s.scene.alive(slot) && s.scene.detail(slot) ? s.scene.facet<model::Cues>(slot) : nullptr;
        for (const model::Cue& cue : cues != nullptr ? cues->all : std::vector<model::Cue>{})
            for (const model::CueWhen& when : cue.when) {
                using What = model::CueWhen::What;
                const bool waits = when.what == What::Enters || when.what == What::Leaves || when.what == What::Inside;
                const Slot zone = when.object ? s.scene.find(when.object) : slot;
                if (waits && when.who == model::CueWhen::Who::Player && zone != kNoSlot &&
                    s.scene.facet<model::Zone>(zone) != nullptr && !s.scene.facet<model::Zone>(zone)->water)
                    zones.insert(zone);
            }
    }
    const auto others = [](Slot) { return true; };
    std::optional<FromStarts> level;
    for (const Slot zone : zones) {
        const base::Aabb box = zoneBox(s.scene, zone);
        const double away = std::hypot(box.size().x, box.size().z) / 2 + far;
        const std::vector<Vec3> stands = standsIn(s, zone, 5);
        bool reached =
            std::ranges::any_of(stands, [&](const Vec3& feet) { return canComeTo(s, feet, feet, away, others); });
        if (reached && s.facts.thorough) {
            if (!level) level.emplace(s);
            reached = level->come(stands);
        }
        if (reached) continue;
        Finding& f = r.add(s.scene.id(zone),
                           fmt::format("Nobody comes into the zone {}, and a cue waits for that.", named(s, zone)));
        f.marks = {{Mark::Shape::Dot, box.centre(), {}, 0, {}, {}, {}}};
    }
}

std::optional<double> lightReach(const model::Scene& scene, const Facts&, Slot slot) {
    const model::DetailPtr& detail = scene.detail(slot);
    return detail && detail->get<model::Light>()
               ? std::optional(std::max(0.1, detail->get<model::Light>()->reachMetres))
               : std::nullopt;
}
std::optional<double> cameraReach(const model::Scene& scene, const Facts&, Slot slot) {
    return scene.facet<model::Camera>(slot) ? std::optional(0.1) : std::nullopt;
}

void deadLight(const Subject& s, Slot slot, Report& r) {
    const model::DetailPtr& detail = s.scene.detail(slot);
    if (!detail || !detail->get<model::Light>()) return;
    const model::Light& light = *detail->get<model::Light>();
    const Vec3 at = s.scene.world(slot).translation;
    const double strength = light.intensity * std::max({light.colour.x, light.colour.y, light.colour.z});
    if (strength < r.number("least")) {
        r.add(s.scene.id(slot), fmt::format("The light {} is too weak to be seen.", named(s, slot)));
        return;
    }
    base::Aabb box;
    box.add(at - Vec3(light.reachMetres));
    box.add(at + Vec3(light.reachMetres));
    if (const Slot around = closedAround(s.scene, s.index, at, unitOf(s.scene, slot)); around != kNoSlot) {
        Finding& f = r.add(s.scene.id(slot), fmt::format("The light {} is buried in {}: none of it comes out.",
                                                         named(s, slot), named(s, around)));
        f.other = s.scene.id(around);
        f.marks = {{Mark::Shape::Dot, at, {}, 0, {}, {}, {}}};
        return;
    }
    bool lights = false;
    s.index.overlapping(s.scene, box, [&](Slot) { lights = true; });
    if (lights) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("Nothing is within the {} that the light {} reaches.",
                                                     metres(light.reachMetres), named(s, slot)));
    f.marks = {{Mark::Shape::Circle, at, Vec3(0, 1, 0), light.reachMetres, {}, {}, {}}};
}

void blindCamera(const Subject& s, Slot slot, Report& r) {
    const model::DetailPtr& detail = s.scene.detail(slot);
    if (!detail || !detail->get<model::Camera>()) return;
    const Vec3 at = s.scene.world(slot).translation;
    const Slot around = closedAround(s.scene, s.index, at, kNoSlot);
    if (around == kNoSlot) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("The camera {} is inside {}.", named(s, slot), named(s, around)));
    f.other = s.scene.id(around);
    f.marks = {{Mark::Shape::Dot, at, {}, 0, {}, {}, {}}};
}

void carriedOff(const Subject& s, Slot unit, Report& r) {
    if (isLoose(s.scene, unit) || r.fits("except", s.scene, unit)) return;
    const model::Kind* own = s.facts.library.kind(s.scene.kind(unit));
    if (own != nullptr && own->isMoved) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    const Vec3 foot = box.baseCentre();
    const auto hit = s.index.pick(s.scene, {foot + Vec3(0, 0.02, 0), {0, -1, 0}},
                                  [&](Slot other) { return !s.scene.isWithin(other, unit); });
    if (!hit || hit->distance > 0.1) return;
    const Slot below = unitOf(s.scene, hit->slot);
    // On top of it, not within it: there, which of two surfaces at one height is met first is chance.
    if (std::abs(s.scene.subtreeBounds(below).high.y - foot.y) > 0.1) return;
    const model::Kind* kind = s.facts.library.kind(s.scene.kind(below));
    const bool moves =
        isLoose(s.scene, below) || (bodyOf(s.scene, below) == nullptr && kind != nullptr && kind->isMoved);
    if (!moves) return;
    Finding& f = r.add(s.scene.id(below), fmt::format("{} stands on {}, which the player can carry off.",
                                                      named(s, unit), named(s, below)));
    f.other = s.scene.id(unit);
    f.marks = {{Mark::Shape::Dot, hit->point, {}, 0, {}, {}, {}}};
}
/// “item>item that stays”, several after commas: what looks like an item; empty: nothing does.
std::string lookAlike(const std::string& pairs, std::string_view item) {
    for (const std::string_view pair : listed(pairs, ','))
        if (const auto both = listed(pair, '>'); both.size() == 2 && both[0] == item) return std::string(both[1]);
    return {};
}
Status putTheFixedOneThere(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot) return {};
    const std::string item =
        lookAlike(parametersIn(draft.session(), f.rule, ruleOf(builtInRules(), f.rule)->parameters).text("fixedTwins"),
                  draft.scene().itemText(slot));
    if (!item.empty())
        if (auto done = ops::replaceItem(draft, {&f.object, 1}, draft.session().intern(item)); !done)
            return tl::unexpected(done.error());
    return ops::changeDetails(draft, {&f.object, 1}, [](Slot, model::Detail& d) -> Status {
        Body body = d.copy<model::Body>().value_or(Body{});
        body.role = Body::Role::Fixed;
        d.put(body);
        return {};
    });
}

void loosePermanent(const Subject& s, Slot slot, Report& r) {
    if (!isLoose(s.scene, slot) || !s.scene.protectedInTree(slot)) return;
    r.add(s.scene.id(slot), fmt::format("{} is protected, as what stays is; but its body is loose.", named(s, slot)));
}

void looseOverlap(const Subject& s, Slot unit, Report& r) {
    if (!isLoose(s.scene, unit)) return;
    const base::Aabb box = solidBounds(s.scene, s.index, unit);
    std::vector<Slot> others;
    s.index.solid().overlapping(s.scene, box, [&](Slot other) {
        const Slot one = unitOf(s.scene, other);
        if (one != unit && std::find(others.begin(), others.end(), one) == others.end()) others.push_back(one);
    });
    for (Slot other : others) {
        if (isLoose(s.scene, other) && s.scene.id(other) < s.scene.id(unit)) continue;  // each pair once
        const auto overlap = overlapOf(s.scene, s.index.solid(), unit, other);
        if (!overlap || overlap->metres <= r.number("most")) continue;
        Finding& f =
            r.add(s.scene.id(unit), fmt::format("The loose body {} begins {} inside {}: it will be thrown out.",
                                                named(s, unit), metres(overlap->metres), named(s, other)));
        f.other = s.scene.id(other);
        f.marks = {{Mark::Shape::Box, overlap->box.low, overlap->box.high, 0, {}, {}, {}}};
    }
}

/// Down onto what is below it; if it still lies in the other, then onto that.
Status seatClear(edit::Draft& draft, const Finding& f, const query::SceneIndex& index) {
    if (Status seated = seatIt(draft, f, index); !seated) return seated;
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(f.object), other = scene.find(f.other);
    if (other == kNoSlot || !overlapOf(scene, index.solid(), slot, other)) return {};
    const base::Aabb box = scene.subtreeBounds(slot);
    return seatFrom(draft, f, index, scene.subtreeBounds(other).high.y - box.low.y + box.size().y);
}

/// It stands, but not under its middle.
void tipsOver(const Subject& s, Slot unit, Report& r) {
    if (!isLoose(s.scene, unit)) return;
    const auto gap = s.gapOf(unit);
    if (!gap || std::abs(*gap) > 0.05) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    const Vec3 middle(box.centre().x, box.low.y + 0.02, box.centre().z);
    auto others = [&](Slot other) { return !s.scene.isWithin(other, unit); };
    // Is it carried on both sides of its middle, along X and along Z?
    auto carried = [&](const Vec3& at) {
        const auto hit = s.index.solid().pick(s.scene, {at, {0, -1, 0}}, others);
        return hit && hit->distance < 0.1;
    };
    if (carried(middle)) return;
    const Vec3 half = box.size() * 0.49;
    bool between = false;
    for (const Vec3& side : {Vec3(half.x, 0, 0), Vec3(0, 0, half.z)})
        for (const double share : {0.25, 0.5, 0.75, 1.0})
            between = between || (carried(middle + side * share) && carried(middle - side * share));
    if (between) return;
    Finding& f =
        r.add(s.scene.id(unit),
              fmt::format("{} is not carried below its middle: it tips over as the level begins.", named(s, unit)));
    f.marks = {{Mark::Shape::Arrow, box.centre(), middle, 0, {}, {}, {}}};
}

}  // namespace

std::vector<Rule> playRules() {
    const std::string group = "In play";
    using Looks = Rule::Looks;
    std::vector<Rule> rules;
    rules.push_back({"out-of-reach",
                     group,
                     "Out of the walker’s reach",
                     "What the player has to use must be stood beside, with nothing in the way.",
                     Severity::Error,
                     {words("where", "Which", "As the Roster takes filters; empty: the rule rests"),
                      amount("reach", "Reach", "m", 1.2, 0.1, 20), amount("high", "Up and down", "m", 2, 0.1, 20)},
                     Looks::Unit,
                     allOutOfReach,
                     {},
                     {}});
    rules.push_back({"zone-reach",
                     group,
                     "Zone that nobody reaches",
                     "A cue waits for who walks to come into it, and there is no way there from outside.",
                     Severity::Error,
                     {amount("far", "Comes from", "m", 4, 1, 50)},
                     Looks::Scene,
                     zoneReach,
                     {},
                     {}});
    rules.push_back({"dead-light",
                     group,
                     "Light without effect",
                     "It costs time and nobody sees it.",
                     Severity::Caution,
                     {amount("least", "Candela from", "cd", 0.05, 0, 1000)},
                     Looks::Watch,
                     deadLight,
                     {},
                     {},
                     lightReach});
    rules.push_back({"blind-camera",
                     group,
                     "Camera inside a solid",
                     "It sees the inside of something.",
                     Severity::Error,
                     {},
                     Looks::Watch,
                     blindCamera,
                     {},
                     {},
                     cameraReach});
    rules.push_back(
        {"carried-off",
         group,
         "Stands on what can be carried off",
         "The player takes away what carries it, and it is left in the air.",
         Severity::Caution,
         {words("fixedTwins", "Fixed twins",
                "crate>crate-fixed: what is put there instead; several after commas; always with a fixed body"),
          except()},
         Looks::Unit,
         carriedOff,
         "Put the fixed one there",
         putTheFixedOneThere});
    rules.push_back({"loose-permanent",
                     group,
                     "Loose, though it is to stay",
                     "It rolls away in play.",
                     Severity::Caution,
                     {},
                     Looks::Own,
                     loosePermanent,
                     {},
                     {}});
    rules.push_back({"loose-overlap",
                     group,
                     "Loose body begins inside another",
                     "It is thrown out as the level begins.",
                     Severity::Error,
                     {amount("most", "Depth up to", "m", 0.02, 0, 10)},
                     Looks::Unit,
                     looseOverlap,
                     "Seat it",
                     seatClear});
    rules.push_back({"tips-over",
                     group,
                     "Loose body tips over",
                     "It falls as the level begins.",
                     Severity::Caution,
                     {},
                     Looks::Unit,
                     tipsOver,
                     {},
                     {}});
    return rules;
}

}  // namespace check
