#include "rehearse/cue_set.h"

#include <algorithm>
#include <cmath>

#include "model/facets/goal.h"
#include "query/object_filter.h"
#include "query/route.h"
#include "rehearse/names.h"

namespace rehearse {
namespace {

using base::ObjectId;
using model::CueThen;
using model::CueWhen;
using model::Scene;

int stepsOf(double seconds) {
    return static_cast<int>(std::lround(seconds * kStepsPerSecond));
}

/// From what the scene says to places in lists.
class Compiler {
  public:
    Compiler(const Level& level, const model::Library& library)
        : level_(level), scene_(*level.scene), library_(library) {}

    CueSet compile() {
        for (std::size_t z = 0; z < level_.zones.size(); ++z)
            zoneOf_[level_.zones[z].id] = static_cast<std::int32_t>(z);
        for (const Slot s : scene_.subtree(model::kNoSlot)) {
            if (level_.thingOf[s] == Level::kAbsent) continue;
            if (const auto* cues = scene_.facet<model::Cues>(s)) owners_.emplace_back(s, cues);
            if (const auto* goal = scene_.facet<model::Goal>(s)) {
                goalOf_[scene_.id(s)] = static_cast<std::int32_t>(set_.goals.size());
                set_.goals.push_back(
                    {scene_.id(s), std::string(scene_.nameText(s)), goal->words, goal->order, goal->held});
            }
            if (const auto* route = scene_.facet<model::Route>(s); route != nullptr && !route->tells.empty())
                for (const model::RouteStop& stop : route->stops)
                    if (const Slot at = scene_.find(stop.object); at != model::kNoSlot) property(at, route->tells);
            if (const auto* act = scene_.facet<model::Act>(s)) {
                actOf_[scene_.id(s)] = static_cast<std::int32_t>(set_.acts.size());
                set_.acts.push_back({scene_.id(s), std::string(scene_.nameText(s)), act->begins});
                worked_.push_back(act->worked);
            }
        }
        for (const auto& [slot, cues] : owners_)
            for (const model::Cue& cue : cues->all) {
                set_.cuesOf[scene_.id(slot)].push_back(static_cast<std::int32_t>(set_.cues.size()));
                set_.cues.push_back(
                    {scene_.id(slot), cue.name, cue.armed, cue.any, cue.times, stepsOf(cue.rest), {}, {}});
            }
        std::size_t at = 0;
        for (const auto& [slot, cues] : owners_)
            for (const model::Cue& cue : cues->all) fill(set_.cues[at++], slot, cue);
        if (!set_.acts.empty())
            for (const Slot s : scene_.subtree(model::kNoSlot))
                if (level_.thingOf[s] != Level::kAbsent)
                    if (const auto* in = scene_.facet<model::InActs>(s)) addMember(s, *in);
        return std::move(set_);
    }

  private:
    void fill(CueAt& into, Slot owner, const model::Cue& cue) {
        for (const CueWhen& when : cue.when) into.tests.push_back(testOf(owner, when));
        for (const CueThen& then : cue.then) into.deeds.push_back(deedOf(owner, then));
    }

    /// What an act is worked in has its pose and values there, and keeps those it has otherwise.
    void addMember(Slot s, const model::InActs& in) {
        ActMember member;
        member.object = scene_.id(s);
        member.thing = ownThing(s);
        for (const Slot below : scene_.subtree(s))
            if (const std::int32_t thing = ownThing(below); thing >= 0)
                member.things.push_back(static_cast<std::size_t>(thing));
        for (const model::ActPart& part : in.all) {
            const auto act = actOf_.find(part.act);
            if (act == actOf_.end()) continue;
            ActMember::Part made{act->second, part.is, std::nullopt, {}};
            const bool worked = worked_[static_cast<std::size_t>(act->second)];
            if (part.posed) {
                const base::Affine there = motionTo(s, part);
                made.motion = worked ? base::Affine{} : there;
                if (worked) member.motion = there;
            }
            for (const model::ActValue& value : part.values) addValue(member, made, s, value, worked);
            member.parts.push_back(std::move(made));
        }
        if (!member.parts.empty()) set_.members.push_back(std::move(member));
    }

    void addValue(ActMember& member, ActMember::Part& part, Slot s, const model::ActValue& value, bool worked) {
        const std::int32_t is = property(s, value.property);
        if (is < 0) return;
        const PropertyAt& at = set_.properties[static_cast<std::size_t>(is)];
        auto kept = model::parsedValue(at.property, value.value);
        if (!kept) return;
        const auto known = std::ranges::find(member.values, is, &ActMember::Values::value_type::first);
        if (known == member.values.end())
            member.values.emplace_back(is, worked ? *kept : at.value);
        else if (worked)
            known->second = *kept;
        part.values.emplace_back(is, worked ? at.value : std::move(*kept));
    }

    /// In the world, from where it stands in the scene to where a part has it.
    base::Affine motionTo(Slot s, const model::ActPart& part) const {
        const Slot parent = scene_.parent(s);
        const base::Affine own = base::toAffine({part.at, part.turn, scene_.local(s).scale});
        const base::Affine there = parent == model::kNoSlot ? own : scene_.world(parent) * own;
        const auto back = base::inverse(scene_.world(s));
        return back ? there * *back : base::Affine{};
    }

    /// A thing that is this object; -1: it is none, or part of another.
    std::int32_t ownThing(Slot s) const {
        const std::int32_t thing = thingOf(s);
        return thing >= 0 && level_.things[static_cast<std::size_t>(thing)].slot == s ? thing : -1;
    }

    std::int32_t thingOf(Slot s) const { return s == model::kNoSlot ? -1 : level_.thingOf[s]; }

    CueTest testOf(Slot owner, const CueWhen& when) {
        CueTest test;
        test.what = when.what;
        test.object = when.object ? when.object : scene_.id(owner);
        test.slot = scene_.find(test.object);
        test.text = model::textOf(when, scene_, scene_.id(owner));
        test.metres = when.metres;
        test.step = stepsOf(when.seconds);
        if (when.asksWho()) test.party = partyOf(when);
        if (const auto zone = zoneOf_.find(test.object); zone != zoneOf_.end()) test.zone = zone->second;
        if (test.slot != model::kNoSlot && !when.property.empty()) {
            test.property = property(test.slot, when.property);
            if (test.property >= 0) {
                auto value =
                    model::parsedValue(set_.properties[static_cast<std::size_t>(test.property)].property, when.value);
                if (value)
                    test.value = std::move(*value);
                else
                    test.property = -1;
            }
        }
        if (when.what == CueWhen::What::Cue) test.cues = cuesCalled(test.object, when.cue);
        if (const auto goal = goalOf_.find(test.object); goal != goalOf_.end()) test.goal = goal->second;
        return test;
    }

    Party partyOf(const CueWhen& when) const {
        Party party;
        party.walker = when.who == CueWhen::Who::Player || when.who == CueWhen::Who::Anything;
        party.anything = when.who == CueWhen::Who::Anything;
        const auto add = [&](Slot s) {
            if (const std::int32_t thing = thingOf(s); thing >= 0) party.things.push_back(thing);
        };
        if (when.who == CueWhen::Who::Object) add(scene_.find(when.by));
        if (when.who == CueWhen::Who::Fitting)
            for (const ObjectId id : query::fitting(scene_, when.filter)) add(scene_.find(id));
        std::sort(party.things.begin(), party.things.end());
        party.things.erase(std::unique(party.things.begin(), party.things.end()), party.things.end());
        return party;
    }

    CueDeed deedOf(Slot owner, const CueThen& then) {
        CueDeed deed;
        deed.then = then;
        deed.delay = stepsOf(then.after);
        deed.targets = targetsOf(scene_, owner, then);
        if (then.does == CueThen::Does::Set)
            for (const Slot s : deed.targets) setOf(deed, s);
        if (then.does == CueThen::Does::Outfit)
            for (const Slot s : deed.targets) wearOf(deed, s);
        if (const Slot to = scene_.find(then.place); to != model::kNoSlot) {
            const base::Transform t = base::toTransform(scene_.world(to));
            deed.place = {t.position, t.rotation};
            const auto* route = then.isOfRoutes() ? scene_.facet<model::Route>(to) : nullptr;
            if (route != nullptr) deed.way = std::make_shared<const Network>(networkOf(scene_, to));
        }
        addThings(deed);
        for (const Slot s : deed.targets) {
            const ObjectId id = scene_.id(s);
            for (const std::int32_t cue : cuesCalled(id, then.cue)) deed.cues.push_back(cue);
            if (const auto goal = goalOf_.find(id); goal != goalOf_.end()) deed.goals.push_back(goal->second);
            if (const auto act = actOf_.find(id); act != actOf_.end()) deed.acts.push_back(act->second);
        }
        return deed;
    }

    void addThings(CueDeed& deed) const {
        using Does = CueThen::Does;
        const Does does = deed.then.does;
        const bool withAllBelow = does == Does::Exists || does == Does::Solid || does == Does::Seen;
        const auto add = [&](Slot s, bool itself) {
            const std::int32_t thing = thingOf(s);
            if (thing < 0 || (itself && level_.things[static_cast<std::size_t>(thing)].slot != s)) return;
            deed.things.push_back(static_cast<std::size_t>(thing));
        };
        for (const Slot s : deed.targets)
            if (!withAllBelow)
                add(s, false);
            else
                for (const Slot below : scene_.subtree(s)) add(below, true);
    }

    void setOf(CueDeed& deed, Slot s) {
        std::int32_t is = property(s, deed.then.property);
        model::Value value;
        if (deed.then.value.starts_with("=")) {  // a formula may ask for all that the object has
            if (const model::Kind* kind = library_.kind(scene_.kind(s)))
                for (const model::Property& other : kind->properties) (void)property(s, other.name);
        } else if (is >= 0) {
            auto parsed = model::parsedValue(set_.properties[static_cast<std::size_t>(is)].property, deed.then.value);
            if (parsed)
                value = std::move(*parsed);
            else
                is = -1;
        }
        deed.properties.push_back(is);
        deed.values.push_back(std::move(value));
    }

    void wearOf(CueDeed& deed, Slot s) {
        const model::Kind* kind = library_.kind(scene_.kind(s));
        const model::Outfit* outfit = kind != nullptr ? kind->outfit(deed.then.look) : nullptr;
        for (const auto& [name, value] : outfit != nullptr ? outfit->values : model::ValueMap{})
            if (const std::int32_t is = property(s, name); is >= 0)
                if (auto fits = model::fitted(set_.properties[static_cast<std::size_t>(is)].property, value))
                    deed.worn.emplace_back(is, std::move(*fits));
    }

    /// Of a kind's property on an object; -1: the kind has none.
    std::int32_t property(Slot s, const std::string& name) {
        const auto known = set_.propertyOf.find({s, name});
        if (known != set_.propertyOf.end()) return known->second;
        const model::Kind* kind = library_.kind(scene_.kind(s));
        const model::Property* is = kind != nullptr ? kind->property(name) : nullptr;
        if (is == nullptr) return -1;
        model::Value room;
        static const model::ValueMap none;
        const model::DetailPtr& detail = scene_.detail(s);
        const auto index = static_cast<std::int32_t>(set_.properties.size());
        set_.properties.push_back(
            {scene_.id(s), s, *is, *model::valueOr(*is, detail ? detail->properties : none, room)});
        set_.propertyOf[{s, name}] = index;
        return index;
    }

    std::vector<std::int32_t> cuesCalled(ObjectId object, const std::string& name) const {
        std::vector<std::int32_t> all;
        if (const auto of = set_.cuesOf.find(object); of != set_.cuesOf.end())
            for (const std::int32_t cue : of->second)
                if (name.empty() || set_.cues[static_cast<std::size_t>(cue)].name == name) all.push_back(cue);
        return all;
    }

    const Level& level_;
    const Scene& scene_;
    const model::Library& library_;
    CueSet set_;
    std::vector<std::pair<Slot, const model::Cues*>> owners_;
    std::unordered_map<ObjectId, std::int32_t> zoneOf_;
    std::unordered_map<ObjectId, std::int32_t> goalOf_, actOf_;
    std::vector<bool> worked_;  // by act
};

}  // namespace

bool ActMember::isThere(const std::vector<bool>& goingOn) const {
    return model::isThere(parts, [&](std::int32_t act) { return goingOn[static_cast<std::size_t>(act)]; });
}

const base::Affine& ActMember::motionIn(const std::vector<bool>& goingOn) const {
    const base::Affine* is = &motion;
    for (const Part& part : parts)
        if (part.motion && goingOn[static_cast<std::size_t>(part.act)]) is = &*part.motion;
    return *is;
}

const model::Value& ActMember::valueIn(const std::vector<bool>& goingOn, std::size_t value) const {
    const model::Value* is = &values[value].second;
    for (const Part& part : parts)
        if (goingOn[static_cast<std::size_t>(part.act)])
            for (const auto& [property, there] : part.values)
                if (property == values[value].first) is = &there;
    return *is;
}

std::vector<bool> CueSet::actsAtStart() const {
    std::vector<bool> goingOn;
    for (const ActAt& act : acts) goingOn.push_back(act.begins);
    return goingOn;
}

bool Party::has(std::int32_t who) const {
    if (anything || (walker && who < 0)) return true;
    return std::binary_search(things.begin(), things.end(), who);
}

std::optional<std::size_t> CueSet::cueOf(ObjectId object, std::size_t nth) const {
    const auto of = cuesOf.find(object);
    if (of == cuesOf.end() || nth >= of->second.size()) return std::nullopt;
    return static_cast<std::size_t>(of->second[nth]);
}

std::vector<Slot> targetsOf(const Scene& scene, Slot owner, const CueThen& then) {
    std::vector<ObjectId> ids;
    if (then.to == CueThen::To::Myself) ids = {scene.id(owner)};
    if (then.to == CueThen::To::Fitting) ids = query::fitting(scene, then.filter);
    if (then.to == CueThen::To::These)
        for (const model::CueTarget& target : then.targets) ids.push_back(target.object);
    std::vector<Slot> slots = scene.find(ids);
    std::erase(slots, model::kNoSlot);
    return slots;
}

CueSet cueSetOf(const Level& level, const model::Library& library) {
    return Compiler(level, library).compile();
}

CueNeeds needsOf(const Scene& scene) {
    CueNeeds needs;
    const auto need = [&](std::vector<bool>& of, Slot s) {
        if (s == model::kNoSlot) return;
        of.resize(scene.slotEnd(), false);
        of[s] = true;
    };
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        const auto* in = scene.alive(s) && scene.detail(s) ? scene.facet<model::InActs>(s) : nullptr;
        for (const model::ActPart& part : in != nullptr ? in->all : std::vector<model::ActPart>{})
            if (part.posed || part.is != model::ActPart::Is::AsItIs) need(needs.moved, s);
        const auto* cues = scene.alive(s) && scene.detail(s) ? scene.facet<model::Cues>(s) : nullptr;
        if (cues == nullptr) continue;
        for (const model::Cue& cue : cues->all) {
            for (const CueWhen& when : cue.when)
                if (when.what == CueWhen::What::Used) need(needs.used, when.object ? scene.find(when.object) : s);
            for (const CueThen& then : cue.then) {
                if (!then.moves() && !then.isOfRoutes() && then.does != CueThen::Does::Exists &&
                    then.does != CueThen::Does::Solid && then.does != CueThen::Does::Seen)
                    continue;
                for (const Slot target : targetsOf(scene, s, then)) need(needs.moved, target);
            }
        }
    }
    return needs;
}

}  // namespace rehearse
