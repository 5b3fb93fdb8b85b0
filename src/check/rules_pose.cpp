// Poses that cannot be, or should not: leaning, sized beyond, sheared, mirrored.
#include <fmt/format.h>

#include <cmath>

#include "base/text.h"
#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "ops/align.h"
#include "ops/objects.h"

namespace check {

using model::Mark;

namespace {

void leaning(const Subject& s, Slot slot, Report& r) {
    if (s.scene.bounds(slot).empty() || r.fits("except", s.scene, slot)) return;
    const Vec3 up = s.scene.world(slot).linear[1];
    if (!(glm::length(up) > 1e-9)) return;
    const double degrees = base::degrees(std::acos(std::clamp(up.y / glm::length(up), -1.0, 1.0)));
    if (degrees <= r.number("most")) return;
    Finding& f = r.add(s.scene.id(slot), fmt::format("{} leans by {}°.", named(s, slot), base::fixed(degrees, 1)));
    const Vec3 at = s.scene.world(slot).translation;
    f.marks = {{Mark::Shape::Line, at, at + Vec3(0, 2, 0), 0, {}, {}, {}},
               {Mark::Shape::Arrow, at, at + glm::normalize(up) * 2.0, 0, {}, {}, {}}};
}
Status standUp(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot) return {};
    base::Transform local = draft.scene().local(slot);
    const Vec3 turn = base::toDegrees(local.rotation);
    local.rotation = base::fromDegrees({0, turn.y, 0});
    if (Status may = ops::refuseMoving(draft.scene(), {&f.object, 1}, "turned"); !may) return may;
    return draft.setTransforms({&f.object, 1}, {&local, 1});
}

void sizedBeyond(const Subject& s, Slot slot, Report& r) {
    const auto sizes = ops::sizesOf(s.facts.library, s.scene, slot);
    if (!sizes) return;
    const Vec3 size = glm::abs(s.scene.local(slot).scale);
    for (int k = 0; k < 3; ++k)
        if (!sizes->allows(size[k])) {
            r.add(s.scene.id(slot),
                  fmt::format("{} is sized × {} along {}. {}.", named(s, slot), base::fixed(size[k], 3), "XYZ"[k],
                              ops::sizesText(s.facts.library, s.scene, slot)));
            return;
        }
}
Status sizeWithin(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    const auto sizes = slot == kNoSlot ? std::nullopt : ops::sizesOf(draft.session().library(), draft.scene(), slot);
    if (!sizes) return {};
    base::Transform local = draft.scene().local(slot);
    for (int k = 0; k < 3; ++k) local.scale[k] = sizes->nearest(local.scale[k]);
    if (Status may = ops::refuseMoving(draft.scene(), {&f.object, 1}, "sized"); !may) return may;
    return draft.setTransforms({&f.object, 1}, {&local, 1});
}

void sheared(const Subject& s, Slot slot, Report& r) {
    if (s.scene.bounds(slot).empty() || !base::hasShear(s.scene.world(slot))) return;
    r.add(s.scene.id(slot),
          fmt::format("{} is skewed: something it lies in is sized unevenly, and it is turned there.", named(s, slot)));
}

void mirrored(const Subject& s, Slot slot, Report& r) {
    if (s.scene.bounds(slot).empty() || glm::determinant(s.scene.world(slot).linear) >= 0) return;
    if (!r.fits("where", s.scene, slot)) return;
    r.add(s.scene.id(slot), fmt::format("{} is mirrored: what is written on it reads backwards.", named(s, slot)));
}
Status unmirror(edit::Draft& draft, const Finding& f, const query::SceneIndex&) {
    const Slot slot = draft.scene().find(f.object);
    if (slot == kNoSlot) return {};
    base::Transform local = draft.scene().local(slot);
    const double sign = local.scale.x * local.scale.y * local.scale.z < 0 ? 1 : -1;
    if (sign < 0) return base::fail(base::ErrorCode::Refused, "It is mirrored by what it lies in.");
    local.scale = glm::abs(local.scale);
    if (Status may = ops::refuseMoving(draft.scene(), {&f.object, 1}, "changed"); !may) return may;
    return draft.setTransforms({&f.object, 1}, {&local, 1});
}

}  // namespace

std::vector<Rule> poseRules() {
    const std::string group = "Poses";
    using Looks = Rule::Looks;
    std::vector<Rule> rules;
    rules.push_back({"leaning",
                     group,
                     "Leaning too far",
                     "What leans that far looks as if it were falling over.",
                     Severity::Hint,
                     {amount("most", "Up to", "°", 30, 0, 180), except()},
                     Looks::Own,
                     leaning,
                     "Stand it up",
                     standUp});
    rules.push_back({"sized-beyond",
                     group,
                     "Sized beyond its kind",
                     "The game expects things of this kind between these sizes.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     sizedBeyond,
                     "Size it within",
                     sizeWithin});
    rules.push_back({"skewed",
                     group,
                     "Skewed by what it lies in",
                     "No pose can hold a shear: the game shows it otherwise than the editor.",
                     Severity::Error,
                     {},
                     Looks::Own,
                     sheared,
                     {},
                     {}});
    rules.push_back({"mirrored",
                     group,
                     "Mirrored where it may not be",
                     "Writing reads backwards, bodies turn inside out.",
                     Severity::Error,
                     {words("where", "Where it may not", "As the Roster takes filters", "kind:Notice")},
                     Looks::Own,
                     mirrored,
                     "Turn it back",
                     unmirror});
    return rules;
}

}  // namespace check
