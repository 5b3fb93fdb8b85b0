// Cues that cannot do what they are there for: targets that are gone or of the wrong kind, effects that change nothing,
// rounds without an end, goals that nothing meets.
#include <fmt/format.h>

#include <algorithm>
#include <functional>
#include <map>

#include "base/units.h"
#include "check/names.h"
#include "check/parameters.h"
#include "check/rule.h"
#include "check/units.h"
#include "model/facets/body.h"
#include "model/facets/cues.h"
#include "model/facets/goal.h"
#include "model/facets/route.h"
#include "model/facets/shot.h"
#include "model/facets/sound.h"
#include "model/facets/zone.h"
#include "ops/acts.h"
#include "ops/properties.h"
#include "rehearse/cue_set.h"

namespace check {

namespace {

using Looks = Rule::Looks;
using model::Cue;
using model::CueThen;
using model::CueWhen;
using Does = CueThen::Does;
using When = CueWhen::What;

struct Owned {
    Slot slot;
    const Cue* cue;
};
std::vector<Owned> cuesOf(const model::Scene& scene) {
    std::vector<Owned> all;
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && scene.detail(s))
            if (const auto* cues = scene.facet<model::Cues>(s))
                for (const Cue& cue : cues->all) all.push_back({s, &cue});
    return all;
}

std::string called(const Cue& cue) {
    return cue.name.empty() ? "A cue" : "The cue “" + cue.name + "”";
}

Finding& tell(const Subject& s, const Owned& o, Report& r, const std::string& what) {
    Finding& f = r.add(s.scene.id(o.slot), fmt::format("{} of {} {}.", called(*o.cue), named(s, o.slot), what));
    f.part = o.cue->name;
    return f;
}

const model::Property* propertyOf(const Subject& s, Slot slot, const std::string& name) {
    const model::Kind* kind = s.facts.library.kind(s.scene.kind(slot));
    return kind != nullptr ? kind->property(name) : nullptr;
}

bool hasCue(const model::Scene& scene, Slot slot, const std::string& name) {
    const auto* cues = scene.facet<model::Cues>(slot);
    return cues != nullptr &&
           std::ranges::any_of(cues->all, [&](const Cue& c) { return name.empty() || c.name == name; });
}

/// Why a property cannot have such a value; empty: it can.
std::string unfit(const Subject& s, Slot slot, const std::string& property, const std::string& value) {
    const model::Property* is = propertyOf(s, slot, property);
    if (is == nullptr) return fmt::format("{} has no property “{}”", named(s, slot), property);
    if (!value.starts_with("=")) {
        const auto parsed = model::parsedValue(*is, value);
        return parsed ? std::string() : fmt::format("“{}” is no value of {}", value, property);
    }
    const auto number = base::evaluateQuantity(std::string_view(value).substr(1), base::Quantity::Factor, 0,
                                               [&](std::string_view name) -> std::optional<double> {
                                                   const auto* p = propertyOf(s, slot, std::string(name));
                                                   return p != nullptr ? std::optional(1.0) : std::nullopt;
                                               });
    return number ? std::string()
                  : fmt::format("the formula “{}” is not understood: {}", value, number.error().message);
}

/// What is wrong with one effect on one object; empty: nothing.
std::string wrongWith(const Subject& s, Slot target, const CueThen& then) {
    switch (then.does) {
        case Does::Set: return unfit(s, target, then.property, then.value);
        case Does::Outfit: {
            const model::Kind* kind = s.facts.library.kind(s.scene.kind(target));
            return then.look.empty() || (kind != nullptr && kind->outfit(then.look) != nullptr)
                       ? ""
                       : named(s, target) + " has no outfit “" + then.look + "”";
        }
        case Does::Surface: {
            const model::Item* item = s.facts.library.item(s.scene.item(target));
            if (!then.look.empty() && !s.facts.library.surfaces().contains(then.look))
                return "there is no surface “" + then.look + "”";
            const bool has =
                item != nullptr && (then.slot.empty() ? !item->slots.empty()
                                                      : std::ranges::find(item->slots, then.slot) != item->slots.end());
            return has ? "" : named(s, target) + " has no part" + (then.slot.empty() ? "" : " “" + then.slot + "”");
        }
        case Does::Sound:
            return s.scene.facet<model::Sound>(target) != nullptr ? "" : named(s, target) + " has no sound";
        case Does::Camera:
            return s.scene.facet<model::Shot>(target) != nullptr ? "" : named(s, target) + " has no shot";
        case Does::ActBegins:
        case Does::ActEnds: return s.scene.facet<model::Act>(target) != nullptr ? "" : named(s, target) + " is no act";
        case Does::GoalSet:
        case Does::GoalMet:
        case Does::GoalMissed:
            return s.scene.facet<model::Goal>(target) != nullptr ? "" : named(s, target) + " is no goal";
        case Does::Arm:
        case Does::Disarm:
        case Does::SetOff:
            return hasCue(s.scene, target, then.cue) ? ""
                   : then.cue.empty()                ? named(s, target) + " has no cue"
                                                     : named(s, target) + " has no cue “" + then.cue + "”";
        case Does::Wake:
        case Does::Sleep:
        case Does::Push: {
            const auto* body = s.scene.facet<model::Body>(target);
            return body != nullptr && body->role == model::Body::Role::Loose ? "" : named(s, target) + " is not loose";
        }
        default: return {};
    }
}

bool isStop(const model::Scene& scene, Slot slot) {
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (const auto* route = scene.alive(s) && scene.detail(s) ? scene.facet<model::Route>(s) : nullptr)
            if (std::ranges::find(route->stops, scene.id(slot), &model::RouteStop::object) != route->stops.end())
                return true;
    return false;
}

std::string wrongWith(const Subject& s, Slot owner, const CueWhen& when) {
    const Slot of = when.object ? s.scene.find(when.object) : owner;
    if (of == kNoSlot) return "waits for an object that is gone";
    switch (when.what) {
        case When::Enters:
        case When::Leaves:
        case When::Inside:
            if (s.scene.facet<model::Zone>(of) == nullptr) return "waits at " + named(s, of) + ", which is no zone";
            break;
        case When::Met:
            if (s.scene.facet<model::Goal>(of) == nullptr) return "waits for " + named(s, of) + ", which is no goal";
            break;
        case When::Passed:
            if (s.scene.facet<model::Route>(of) == nullptr && !isStop(s.scene, of))
                return "waits for " + named(s, of) + " to be passed, which is no stop of a route";
            break;
        case When::Cue:
            if (!hasCue(s.scene, of, when.cue)) return "waits for a cue that " + named(s, of) + " has not";
            break;
        case When::Is:
        case When::Above:
        case When::Below:
            if (const std::string why = unfit(s, of, when.property, when.value); !why.empty())
                return "waits in vain: " + why;
            break;
        default: break;
    }
    if (when.asksWho() && when.who == CueWhen::Who::Object && s.scene.find(when.by) == kNoSlot)
        return "waits for somebody who is gone";
    return {};
}

void cueTarget(const Subject& s, Slot, Report& r) {
    for (const Owned& o : cuesOf(s.scene)) {
        for (const CueWhen& when : o.cue->when)
            if (const std::string wrong = wrongWith(s, o.slot, when); !wrong.empty()) tell(s, o, r, wrong);
        for (const CueThen& then : o.cue->then) {
            if (then.does == Does::Guise && !then.look.empty() && s.facts.library.guise(then.look) == nullptr)
                tell(s, o, r, "puts on the guise “" + then.look + "”, which is not there");
            if (!then.next.empty() && (then.does == Does::Won || then.does == Does::Lost) &&
                std::ranges::find(s.facts.scenes, then.next) == s.facts.scenes.end())
                tell(s, o, r, "goes on in the scene “" + then.next + "”, which is not there");
            if (!then.hasTargets()) continue;
            if (then.to == CueThen::To::These)
                for (const model::CueTarget& target : then.targets)
                    if (s.scene.find(target.object) == kNoSlot)
                        tell(s, o, r, "does something to an object that is gone");
            const std::vector<Slot> targets = rehearse::targetsOf(s.scene, o.slot, then);
            if (targets.empty() && then.to != CueThen::To::Cause && then.targets.empty())
                tell(s, o, r, "does something to nothing");
            const Slot along = then.isOfRoutes() ? s.scene.find(then.place) : kNoSlot;
            if (then.isOfRoutes() && (along == kNoSlot || s.scene.facet<model::Route>(along) == nullptr))
                tell(s, o, r, "sends something along what is no route");
            if (then.does == Does::GoTo && s.scene.find(then.place) == kNoSlot)
                tell(s, o, r, "sends something to a place that is gone");
            for (const Slot target : targets)
                if (const std::string wrong = wrongWith(s, target, then); !wrong.empty())
                    tell(s, o, r, "cannot do what it is to: " + wrong).other = s.scene.id(target);
        }
    }
}

/// Would it be as it was?
bool changesNothing(const Subject& s, const std::vector<Owned>& all, Slot owner, const CueThen& then) {
    if (then.does == Does::Move) return then.slide == Vec3(0.0) && then.turnDegrees == 0;
    if (then.does == Does::Push) return then.slide == Vec3(0.0);
    if (then.does == Does::Message) return then.words.empty();
    if (then.does != Does::Set || then.value.starts_with("=")) return false;
    const auto targets = rehearse::targetsOf(s.scene, owner, then);
    return !targets.empty() && std::ranges::all_of(targets, [&](Slot target) {
        const model::Property* is = propertyOf(s, target, then.property);
        const auto to =
            is != nullptr ? model::parsedValue(*is, then.value) : base::Result<model::Value>(model::Value{});
        if (is == nullptr || !to) return false;  // told elsewhere
        model::Value room;
        if (*ops::propertyValue(s.scene, target, *is, room) != *to) return false;
        // It may be set back after another cue has set it otherwise.
        return std::ranges::none_of(all, [&](const Owned& o) {
            return std::ranges::any_of(o.cue->then, [&](const CueThen& other) {
                if (other.does != Does::Set || other.property != then.property || other.value == then.value)
                    return false;
                const auto theirs = rehearse::targetsOf(s.scene, o.slot, other);
                return std::ranges::find(theirs, target) != theirs.end();
            });
        });
    });
}

void cueIdle(const Subject& s, Slot, Report& r) {
    const auto all = cuesOf(s.scene);
    const auto told = [&](const Owned& o, bool arms) {  // by another: set off, or armed
        return std::ranges::any_of(all, [&](const Owned& other) {
            return std::ranges::any_of(other.cue->then, [&](const CueThen& then) {
                if (then.does != (arms ? Does::Arm : Does::SetOff)) return false;
                const auto targets = rehearse::targetsOf(s.scene, other.slot, then);
                return (then.cue.empty() || then.cue == o.cue->name) &&
                       std::ranges::find(targets, o.slot) != targets.end();
            });
        });
    };
    for (const Owned& o : all) {
        if (o.cue->then.empty())
            tell(s, o, r, "does nothing: it has no effect");
        else if (o.cue->when.empty() && !told(o, false))
            tell(s, o, r, "never goes off: it has no condition, and no cue sets it off");
        else if (!o.cue->armed && !told(o, true))
            tell(s, o, r, "never goes off: it is not armed, and no cue arms it");
        for (const CueThen& then : o.cue->then)
            if (changesNothing(s, all, o.slot, then)) tell(s, o, r, "has an effect that changes nothing");
    }
}

/// Only states, and all of them so before anything has happened.
void cueAtStart(const Subject& s, Slot, Report& r) {
    for (const Owned& o : cuesOf(s.scene)) {
        if (!o.cue->armed || o.cue->when.empty()) continue;
        const auto isSo = [&](const CueWhen& when) {
            const Slot of = when.object ? s.scene.find(when.object) : o.slot;
            const model::Property* is = of != kNoSlot && when.what >= When::Is && when.what <= When::Below
                                            ? propertyOf(s, of, when.property)
                                            : nullptr;
            if (is == nullptr) return false;
            const auto wanted = model::parsedValue(*is, when.value);
            if (!wanted) return false;
            model::Value room;
            const model::Value& has = *ops::propertyValue(s.scene, of, *is, room);
            if (when.what == When::Is) return has == *wanted;
            double a = 0, b = 0;
            const double *have = model::asNumber(has, a), *limit = model::asNumber(*wanted, b);
            return have != nullptr && limit != nullptr && (when.what == When::Above ? *have > *limit : *have < *limit);
        };
        const bool starts =
            o.cue->any ? std::ranges::any_of(o.cue->when, isSo) : std::ranges::all_of(o.cue->when, isSo);
        if (starts) tell(s, o, r, "goes off as the level begins: what it waits for is so already");
    }
}

void goalUnmet(const Subject& s, Slot, Report& r) {
    std::vector<bool> met(s.scene.slotEnd(), false);
    for (const Owned& o : cuesOf(s.scene))
        for (const CueThen& then : o.cue->then)
            if (then.does == Does::GoalMet)
                for (const Slot target : rehearse::targetsOf(s.scene, o.slot, then)) met[target] = true;
    for (Slot slot = 0; slot < s.scene.slotEnd(); ++slot)
        if (s.scene.alive(slot) && s.scene.detail(slot) && s.scene.facet<model::Goal>(slot) != nullptr && !met[slot])
            r.add(s.scene.id(slot), fmt::format("No cue meets the goal of {}.", named(s, slot)));
}

bool isDone(const std::vector<Owned>& all, Does does) {
    return std::ranges::any_of(all, [&](const Owned& o) {
        return std::ranges::any_of(o.cue->then, [&](const CueThen& then) { return then.does == does; });
    });
}

void noEnd(const Subject& s, Slot, Report& r) {
    if (isDone(cuesOf(s.scene), Does::Won)) return;
    for (const Slot slot : s.scene.subtree(kNoSlot))
        if (s.scene.detail(slot) && s.scene.facet<model::Goal>(slot) != nullptr) {
            r.add(s.scene.id(slot), fmt::format("The level has the goal {}, and no cue ever wins it.", named(s, slot)));
            return;
        }
}

void actIdle(const Subject& s, Slot, Report& r) {
    const auto all = cuesOf(s.scene);
    for (Slot slot = 0; slot < s.scene.slotEnd(); ++slot) {
        const auto* act = s.scene.alive(slot) && s.scene.detail(slot) ? s.scene.facet<model::Act>(slot) : nullptr;
        if (act == nullptr || act->begins) continue;
        const bool begun = std::ranges::any_of(all, [&](const Owned& o) {
            return std::ranges::any_of(o.cue->then, [&](const CueThen& then) {
                const auto targets =
                    then.does == Does::ActBegins ? rehearse::targetsOf(s.scene, o.slot, then) : std::vector<Slot>{};
                return std::ranges::find(targets, slot) != targets.end();
            });
        });
        if (!begun)
            r.add(s.scene.id(slot),
                  fmt::format("The act {} does not go on from the start, and no cue begins it.", named(s, slot)));
    }
}

void actOpen(const Subject& s, Slot, Report& r) {
    for (Slot slot = 0; slot < s.scene.slotEnd(); ++slot)
        if (s.scene.alive(slot) && s.scene.detail(slot))
            if (const auto* act = s.scene.facet<model::Act>(slot); act != nullptr && act->worked)
                r.add(s.scene.id(slot),
                      fmt::format(
                          "One works in the act {}: what it moves and sets is in the scene as if it were always so.",
                          named(s, slot)));
}
Status goOut(edit::Draft& draft, const Finding&, const query::SceneIndex&) {
    return ops::workIn(draft, {});
}

void twoEnds(const Subject& s, Slot, Report& r) {
    for (const Owned& o : cuesOf(s.scene))
        if (std::ranges::count_if(o.cue->then,
                                  [](const CueThen& t) { return t.does == Does::Won || t.does == Does::Lost; }) > 1)
            tell(s, o, r, "ends the level twice: only the first end counts");
}

/// Of cues that may go off each time, with no rest: which of them each stirs in the same moment, by their places.
std::vector<std::vector<std::size_t>> stirred(const Subject& s, const std::vector<Owned>& all,
                                              const std::vector<std::size_t>& repeating) {
    std::multimap<Slot, std::size_t> ownedBy, waitsAt, waitsFor;  // by owner; by whose property; by whose cue
    for (const std::size_t i : repeating) {
        ownedBy.emplace(all[i].slot, i);
        for (const CueWhen& when : all[i].cue->when) {
            const Slot of = when.object ? s.scene.find(when.object) : all[i].slot;
            if (when.what == When::Is) waitsAt.emplace(of, i);
            if (when.what == When::Cue) waitsFor.emplace(of, i);
        }
    }
    std::vector<std::vector<std::size_t>> next(all.size());
    const auto each = [](const std::multimap<Slot, std::size_t>& map, Slot slot, const auto& what) {
        for (auto [at, end] = map.equal_range(slot); at != end; ++at) what(at->second);
    };
    const auto called = [](const std::string& name, const Cue& cue) { return name.empty() || name == cue.name; };
    for (const std::size_t i : repeating) {
        each(waitsFor, all[i].slot, [&](std::size_t k) {
            for (const CueWhen& when : all[k].cue->when)
                if (when.what == When::Cue && called(when.cue, *all[i].cue)) next[i].push_back(k);
        });
        for (const CueThen& then : all[i].cue->then) {
            if (then.after > 0 || (then.does != Does::SetOff && then.does != Does::Set)) continue;
            for (const Slot target : rehearse::targetsOf(s.scene, all[i].slot, then)) {
                if (then.does == Does::SetOff)
                    each(ownedBy, target, [&](std::size_t k) {
                        if (called(then.cue, *all[k].cue)) next[i].push_back(k);
                    });
                else
                    each(waitsAt, target, [&](std::size_t k) {
                        for (const CueWhen& when : all[k].cue->when)
                            if (when.what == When::Is && when.property == then.property && when.value == then.value)
                                next[i].push_back(k);
                    });
            }
        }
    }
    return next;
}

/// What leads back to where it began, in one moment, has no end.
void endlessCues(const Subject& s, Slot, Report& r) {
    const auto all = cuesOf(s.scene);
    std::vector<std::size_t> repeating;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (all[i].cue->armed && all[i].cue->times == 0 && all[i].cue->rest == 0) repeating.push_back(i);
    const auto next = stirred(s, all, repeating);
    std::vector<int> seen(all.size(), 0);  // 1: on the way here, 2: done
    const std::function<bool(std::size_t)> goesRound = [&](std::size_t i) {
        seen[i] = 1;
        for (const std::size_t k : next[i])
            if (seen[k] == 1 || (seen[k] == 0 && goesRound(k))) return true;
        seen[i] = 2;
        return false;
    };
    for (const std::size_t i : repeating)
        if (seen[i] == 0 && goesRound(i)) {
            tell(s, all[i], r, "goes off again and again in one moment: cues set off one another without an end");
            return;
        }
}

}  // namespace

std::vector<Rule> cueRules() {
    const auto rule = [](const char* id, const char* label, const char* why, Severity severity, Find find) {
        return Rule{id, "In play", label, why, severity, {}, Looks::Scene, std::move(find), {}, {}};
    };
    Rule open = rule("act-open", "Worked in an act",
                     "What leaves the editor now has the act's places and values: go out of it before it is handed on.",
                     Severity::Caution, actOpen);
    open.fixLabel = "Go out of the act";
    open.fix = goOut;
    return {rule("cue-target", "Cue leads nowhere",
                 "A condition or an effect is of what is gone, or of what cannot have it: point at another.",
                 Severity::Error, cueTarget),
            rule("cue-idle", "Cue changes nothing", "It has no effect, never goes off, or sets what is so already.",
                 Severity::Caution, cueIdle),
            rule("cue-at-start", "Cue goes off at the start",
                 "What it waits for is so before anything has happened; say “at the start” where that is meant.",
                 Severity::Caution, cueAtStart),
            rule("goal-unmet", "Goal that nothing meets", "The level asks for it, and no cue ever says that it is met.",
                 Severity::Error, goalUnmet),
            rule("no-end", "Level without an end", "It has goals, and no cue wins it: one is to say “won”.",
                 Severity::Caution, noEnd),
            rule("act-idle", "Act that nobody begins",
                 "It does not go on from the start, and no cue begins it: what is only in it is never there.",
                 Severity::Caution, actIdle),
            open,
            rule("two-ends", "Two ends at once", "A cue that wins or loses the level twice: only the first counts.",
                 Severity::Error, twoEnds),
            rule("endless-cues", "Cues without an end",
                 "They set off one another in one moment: give one of them a delay, a rest, or a number of times.",
                 Severity::Error, endlessCues)};
}

}  // namespace check
