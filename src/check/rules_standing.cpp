// How things stand: floating, sunk, in one another, twice in one place.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>

#include "check/names.h"
#include "check/parameters.h"
#include "check/units.h"
#include "ops/objects.h"
#include "ops/seat.h"

namespace check {

using model::Mark;

namespace {

bool passesOver(const Report& r, const Subject& s, Slot unit) {
    return r.fits("except", s.scene, unit);
}

/// What is fixed may hang on something's side or underside: a ring on a wall, a lamp below a roof.
bool hangsOnSomething(const Subject& s, Slot unit) {
    if (isLoose(s.scene, unit)) return false;
    constexpr double kFlush = 0.005, kInside = 0.02;  // metres
    constexpr std::size_t kMost = 300;
    auto others = [&](Slot other) { return !s.scene.isWithin(other, unit) && !s.scene.hiddenInTree(other); };
    const query::FallingBody body = query::fallingBody(s.scene, s.index, unit);
    const std::size_t step = std::max<std::size_t>(1, body.triangles.size() / kMost);
    for (std::size_t i = 0; i < body.triangles.size(); i += step) {
        const query::Triangle& t = body.triangles[i];
        const Vec3 across = glm::cross(t[1] - t[0], t[2] - t[0]);
        const double length = glm::length(across);
        if (length < 1e-9 || across.y < -0.7 * length) continue;
        const Vec3 out = across / length, from = (t[0] + t[1] + t[2]) / 3.0 - out * kInside;
        const auto hit = s.index.pick(s.scene, {from, out}, others);
        if (hit && hit->distance <= kInside + kFlush) return true;
    }
    return false;
}

/// What moves by itself and stands on something that nothing bumps into; kNoSlot: it does not.
Slot onNothingSolid(const Subject& s, Slot unit) {
    const model::Kind* kind = s.facts.library.kind(s.scene.kind(unit));
    if (!isLoose(s.scene, unit) && (kind == nullptr || !kind->isMoved)) return kNoSlot;
    constexpr double kNear = 0.1;  // metres
    const Vec3 foot = s.scene.subtreeBounds(unit).baseCentre() + Vec3(0, 0.02, 0);
    const auto below = [&](const query::SceneIndex& index) {
        return index.pick(s.scene, {foot, {0, -1, 0}},
                          [&](Slot other) { return !s.scene.isWithin(other, unit) && !s.scene.hiddenInTree(other); });
    };
    const auto seen = below(s.index), solid = below(s.index.solid());
    if (!seen || seen->distance > kNear + 0.02 || (solid && solid->distance <= kNear + 0.02)) return kNoSlot;
    return seen->slot;
}

void floating(const Subject& s, Slot unit, Report& r) {
    if (passesOver(r, s, unit)) return;
    const auto gap = s.gapOf(unit, r.number("most"));
    if (!gap || *gap <= r.number("most") || hangsOnSomething(s, unit) || onNothingSolid(s, unit) != kNoSlot) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    Finding& f =
        r.add(s.scene.id(unit), fmt::format("{} floats {} above what is below it.", named(s, unit), metres(*gap)));
    const Vec3 foot = box.baseCentre();
    f.marks = {{Mark::Shape::Arrow, foot, foot - Vec3(0, *gap, 0), 0, {}, {}, {}},
               {Mark::Shape::Label, foot - Vec3(0, *gap / 2, 0), {}, 0, {}, metres(*gap), {}}};
}

void unsupported(const Subject& s, Slot unit, Report& r) {
    if (passesOver(r, s, unit) || isGround(s.scene, unit)) return;
    if (const Slot on = onNothingSolid(s, unit); on != kNoSlot) {
        Finding& f =
            r.add(s.scene.id(unit), fmt::format("{} stands on {}, which is not solid: in play it falls through.",
                                                named(s, unit), named(s, on)));
        f.other = s.scene.id(on);
        return;
    }
    if (s.gapOf(unit, query::kFarthestFall)) return;
    // What lies below the ground is another rule's.
    const auto over = s.index.pick(s.scene, {s.scene.subtreeBounds(unit).baseCentre(), {0, 1, 0}},
                                   [&](Slot other) { return isGround(s.scene, unitOf(s.scene, other)); });
    if (over || hangsOnSomething(s, unit)) return;
    r.add(s.scene.id(unit), fmt::format("Nothing is below {}: in play it would fall for ever.", named(s, unit)));
}

/// How far surfaces of others reach up round all of a unit's footprint, from its lowest point: a wall beside it stands
/// on one side only. What stands on it does not count.
double sunkBy(const Subject& s, Slot unit) {
    constexpr int kAcross = 3;
    constexpr double kBelowTop = 0.002;  // metres
    const base::Aabb box = s.scene.subtreeBounds(unit);
    auto others = [&](Slot other) { return !s.scene.isWithin(other, unit) && !s.scene.hiddenInTree(other); };
    double least = box.size().y;
    for (int i = 0; i < kAcross; ++i)
        for (int k = 0; k < kAcross; ++k) {
            const Vec3 share((i + 0.5) / kAcross, 1, (k + 0.5) / kAcross);
            const Vec3 top = glm::mix(box.low, box.high, share) - Vec3(0, kBelowTop, 0);
            const auto hit = s.index.solid().pick(s.scene, {top, {0, -1, 0}}, others);
            least = std::min(least, hit ? hit->point.y - box.low.y : 0.0);
            if (least <= 0) return 0;
        }
    return least;
}

void sunk(const Subject& s, Slot unit, Report& r) {
    const base::Aabb box = s.scene.subtreeBounds(unit);
    if (box.size().y < 1e-6 || isGround(s.scene, unit) || passesOver(r, s, unit)) return;
    const double deep = sunkBy(s, unit), share = deep / box.size().y;
    if (share <= r.number("most") / 100) return;
    Finding& f = r.add(s.scene.id(unit), fmt::format("{} is sunk {} ({} % of its height) into what carries it.",
                                                     named(s, unit), metres(deep), std::lround(share * 100)));
    Vec3 high = box.high;
    high.y = box.low.y + deep;
    f.marks = {{Mark::Shape::Box, box.low, high, 0, {}, {}, {}}};
}

/// “Kind+Kind” pairs, several after commas: those may lie in one another.
bool isAllowedPair(const std::string& pairs, std::string_view a, std::string_view b) {
    for (const std::string_view pair : listed(pairs, ','))
        if (const auto both = listed(pair, '+'); both.size() == 2)
            if ((both[0] == a && both[1] == b) || (both[0] == b && both[1] == a)) return true;
    return false;
}
/// The kind of a unit: its own, else that of the first thing in it that has one.
std::string_view kindOf(const model::Scene& scene, Slot unit) {
    for (Slot s : scene.subtree(unit))
        if (!scene.kindText(s).empty()) return scene.kindText(s);
    return {};
}

/// The same thing in the same place and pose?
bool areTwins(const model::Scene& scene, Slot a, Slot b, double within) {
    const base::Affine &p = scene.world(a), &q = scene.world(b);
    if (scene.item(a) != scene.item(b) || scene.isInstance(a) != scene.isInstance(b)) return false;
    if (scene.isInstance(a) && scene.detail(a)->prefab->of != scene.detail(b)->prefab->of) return false;
    for (int k = 0; k < 3; ++k)
        if (glm::length(p.linear[k] - q.linear[k]) > 1e-4) return false;
    return glm::length(p.translation - q.translation) <= within;
}

/// The smaller of two is asked about the pair: the ground is not asked about all that stands on it.
bool isSmaller(const Subject& s, Slot unit, const base::Aabb& box, Slot other, const base::Aabb& also) {
    const Vec3 one = box.size(), two = also.size();
    const double area = one.x * one.z, otherArea = two.x * two.z;
    return area != otherArea ? area < otherArea : s.scene.id(unit) < s.scene.id(other);
}

/// Loose bodies, what stands twice in one place, and what is sunk into the ground are other rules'.
void overlapping(const Subject& s, Slot unit, Report& r) {
    if (passesOver(r, s, unit) || isLoose(s.scene, unit)) return;
    const double most = r.number("most");
    const base::Aabb box = solidBounds(s.scene, s.index, unit);
    const bool ground = isGround(s.scene, unit);
    std::vector<Slot> others;
    s.index.solid().overlapping(s.scene, box, [&](Slot part) {
        const Slot other = unitOf(s.scene, part);
        if (other == unit || (!others.empty() && others.back() == other)) return;
        if (isGround(s.scene, other) == ground && isSmaller(s, unit, box, other, solidBounds(s.scene, s.index, other)))
            others.push_back(other);
    });
    std::sort(others.begin(), others.end());
    others.erase(std::unique(others.begin(), others.end()), others.end());
    const std::string allowed = r.text("allowed");
    for (Slot other : others) {
        const base::Aabb also = solidBounds(s.scene, s.index, other);
        const Vec3 depth = glm::min(box.high, also.high) - glm::max(box.low, also.low);
        if (std::min({depth.x, depth.y, depth.z}) <= most) continue;
        if (passesOver(r, s, other) || isLoose(s.scene, other) || areTwins(s.scene, unit, other, 0.001)) continue;
        if (isAllowedPair(allowed, kindOf(s.scene, unit), kindOf(s.scene, other))) continue;
        const auto overlap = overlapOf(s.scene, s.index.solid(), unit, other);
        if (!overlap || overlap->metres <= most) continue;
        const bool isFirst =
            s.scene.id(unit) < s.scene.id(other);  // a pair is told the same way round, whoever is asked
        const Slot one = isFirst ? unit : other, two = isFirst ? other : unit;
        Finding& f = r.add(s.scene.id(one), fmt::format("{} and {} lie {} in one another.", named(s, one),
                                                        named(s, two), metres(overlap->metres)));
        f.other = s.scene.id(two);
        f.marks = {{Mark::Shape::Box, overlap->box.low, overlap->box.high, 0, {}, {}, {}},
                   {Mark::Shape::Dot, overlap->at, {}, 0, {}, {}, {}}};
    }
}

void twice(const Subject& s, Slot unit, Report& r) {
    if (!s.scene.item(unit) && !s.scene.isInstance(unit)) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    const double within = r.number("within");
    std::vector<Slot> same;
    s.index.overlapping(s.scene, box, [&](Slot other) {
        if (!s.scene.isInstance(unit) && s.scene.item(other) != s.scene.item(unit)) return;
        const Slot one = unitOf(s.scene, other);
        if (one == unit) return;
        if (!areTwins(s.scene, unit, one, within)) return;
        if (std::find(same.begin(), same.end(), one) == same.end()) same.push_back(one);
    });
    if (same.empty()) return;
    const auto byId = [&](Slot a, Slot b) { return s.scene.id(a) < s.scene.id(b); };
    const Slot first = *std::min_element(same.begin(), same.end(), byId);
    if (byId(first, unit)) return;  // all of them are told once, by the first
    Finding& f =
        r.add(s.scene.id(unit),
              same.size() == 1
                  ? fmt::format("{} and {} stand in exactly one place.", named(s, unit), named(s, first))
                  : fmt::format("{} and {} others like it stand in exactly one place.", named(s, unit), same.size()));
    f.other = s.scene.id(first);
    f.marks = {{Mark::Shape::Box, box.low, box.high, 0, {}, {}, {}}};
}
/// All but the one that is told of.
Status removeOthers(edit::Draft& draft, const Finding& f, const query::SceneIndex& index) {
    const model::Scene& scene = draft.scene();
    const Slot unit = scene.find(f.object);
    const Parameters set = parametersIn(draft.session(), f.rule, ruleOf(builtInRules(), f.rule)->parameters);
    std::set<base::ObjectId> others = {f.other};
    index.overlapping(scene, scene.subtreeBounds(unit), [&](Slot part) {
        const Slot other = unitOf(scene, part);
        if (other != unit && areTwins(scene, unit, other, set.number("within"))) others.insert(scene.id(other));
    });
    return ops::remove(draft, ops::Ids(others.begin(), others.end()));
}

void outOfBounds(const Subject& s, Slot unit, Report& r) {
    if (passesOver(r, s, unit)) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    const std::optional<base::Aabb>& own = s.scene.settings().level;  // what the scene says goes before the project
    const Vec3 low = own ? own->low : r.vector("low"), high = own ? own->high : r.vector("high");
    double out = 0;
    for (int k = 0; k < 3; ++k) out = std::max({out, low[k] - box.low[k], box.high[k] - high[k]});
    if (out <= 1e-6) return;
    Finding& f = r.add(s.scene.id(unit), fmt::format("{} reaches {} beyond the level.", named(s, unit), metres(out)));
    f.marks = {{Mark::Shape::Box, low, high, 0, {}, {}, {}}};
}

void belowGround(const Subject& s, Slot unit, Report& r) {
    if (r.text("ground").empty() || passesOver(r, s, unit) || r.fits("ground", s.scene, unit)) return;
    const base::Aabb box = s.scene.subtreeBounds(unit);
    const Vec3 top(box.centre().x, box.high.y, box.centre().z);
    const auto over =
        s.index.pick(s.scene, {top, {0, 1, 0}}, [&](Slot other) { return r.fits("ground", s.scene, other); });
    if (!over || over->distance <= r.number("most")) return;
    Finding& f =
        r.add(s.scene.id(unit), fmt::format("{} lies {} below the ground.", named(s, unit), metres(over->distance)));
    f.marks = {{Mark::Shape::Arrow, top, over->point, 0, {}, {}, {}}};
}

/// From above: seating alone leaves what is more than half sunk where it is.
Status seatOnTop(edit::Draft& draft, const Finding& f, const query::SceneIndex& index) {
    return seatFrom(draft, f, index, draft.scene().subtreeBounds(draft.scene().find(f.object)).size().y);
}
/// Above the ground that is over it, and then down onto that.
Status bringUp(edit::Draft& draft, const Finding& f, const query::SceneIndex& index) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(f.object);
    const Rule& rule = *ruleOf(builtInRules(), f.rule);
    const Parameters set = parametersIn(draft.session(), rule.id, rule.parameters);
    const base::Aabb box = scene.subtreeBounds(slot);
    const Vec3 top(box.centre().x, box.high.y, box.centre().z);
    const auto over = index.pick(scene, {top, {0, 1, 0}}, [&](Slot other) { return set.fits("ground", scene, other); });
    if (!over) return {};
    return seatFrom(draft, f, index, over->point.y - box.low.y + box.size().y);
}

}  // namespace

std::vector<Rule> standingRules() {
    const std::string group = "Standing";
    using Looks = Rule::Looks;
    std::vector<Rule> rules;
    rules.push_back({"floating",
                     group,
                     "Floating above its support",
                     "What hangs in the air is seen at once in play, and loose things drop as the level begins.",
                     Severity::Caution,
                     {amount("most", "Gap up to", "m", 0.03, 0, 10), except()},
                     Looks::Unit,
                     floating,
                     "Seat it",
                     seatIt});
    rules.push_back({"unsupported",
                     group,
                     "Nothing below it",
                     "Loose things fall out of the level; fixed ones cannot be walked to.",
                     Severity::Error,
                     {except()},
                     Looks::Unit,
                     unsupported,
                     {},
                     {}});
    rules.push_back({"sunk",
                     group,
                     "Sunk into its support",
                     "Half of it is not seen, and what should be reached is below the surface.",
                     Severity::Caution,
                     {amount("most", "Share up to", "%", 30, 0, 100), except()},
                     Looks::Unit,
                     sunk,
                     "Seat it",
                     seatOnTop});
    rules.push_back(
        {"overlapping",
         group,
         "Solids in one another",
         "Surfaces flicker where they cross, and loose bodies are thrown apart.",
         Severity::Caution,
         {amount("most", "Depth up to", "m", 0.05, 0, 10),
          words("allowed", "Allowed pairs", "Kinds that may: Plant+Structure, several after commas"), except()},
         Looks::Unit,
         overlapping,
         {},
         {}});
    rules.push_back({"twice",
                     group,
                     "Twice in one place",
                     "One of them is not seen, costs as much, and stays behind when the other is moved.",
                     Severity::Error,
                     {amount("within", "Within", "m", 0.001, 0, 1)},
                     Looks::Unit,
                     twice,
                     "Remove the others",
                     removeOthers});
    rules.push_back(
        {"outside",
         group,
         "Outside the level",
         "What lies beyond the level is never seen, and may fall for ever.",
         Severity::Error,
         {place("low", "From", Vec3(-2000, -200, -2000)), place("high", "To", Vec3(2000, 500, 2000)), except()},
         Looks::Own,
         outOfBounds,
         {},
         {}});
    rules.push_back({"below-ground",
                     group,
                     "Below the ground",
                     "Nobody can see or reach what is buried.",
                     Severity::Error,
                     {words("ground", "Ground", "What the ground is: item:valley-ground; empty: the rule rests"),
                      amount("most", "Depth up to", "m", 0.02, 0, 100), except()},
                     Looks::Unit,
                     belowGround,
                     "Bring it up",
                     bringUp});
    return rules;
}

}  // namespace check
