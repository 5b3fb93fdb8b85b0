#include "script/behaviours.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <memory>

#include "model/prefab.h"
#include "ops/properties.h"
#include "script/bindings.h"
#include "script/names.h"

namespace script {

using base::ErrorCode;
using base::Status;

namespace {

/// A step must not feel slow.
constexpr Limits kForStep{std::size_t{64} << 20, 50'000'000, 1, 100'000};
constexpr Limits kForLooks{std::size_t{64} << 20, 500'000'000, 1.5};
/// Of all behaviours together, for one step or one opening.
constexpr double kSecondsForAll = 2;

/// Time that several share: each gets what is left of it.
class Shared {
  public:
    explicit Shared(double seconds) : end_(Clock::now() + std::chrono::duration<double>(seconds)) {}
    Limits limits(Limits each) const {
        const double left = std::chrono::duration<double>(end_ - Clock::now()).count();
        each.seconds = std::min(each.seconds, std::max(left, 0.0));
        return each;
    }

  private:
    using Clock = std::chrono::steady_clock;
    std::chrono::time_point<Clock, std::chrono::duration<double>> end_;
};

bool linksTo(const model::Scene& scene, Slot from, ObjectId to) {
    const model::DetailPtr& detail = scene.detail(from);
    if (!detail) return false;
    bool found = false;
    model::Detail copy = *detail;
    model::eachObjectLink(copy, [&](ObjectId& id) { found = found || id == to; });
    return found;
}

/// May a behaviour of `object` write to `target`?
bool mayTouch(const edit::Draft& draft, const BehaviourSpec& spec, ObjectId object, ObjectId target) {
    if (object == target) return true;
    const model::Scene& scene = draft.scene();
    const Slot own = scene.find(object), other = scene.find(target);
    if (own == kNoSlot || other == kNoSlot) return false;
    return std::any_of(spec.touches.begin(), spec.touches.end(), [&](const std::string& what) {
        if (what == "children") return scene.isWithin(other, own);
        if (what == "links") return linksTo(scene, own, target);
        return scene.kindText(other) == what;
    });
}

const model::Value* valueOf(const model::DetailPtr& detail, std::string_view key) {
    if (!detail) return nullptr;
    for (const auto& [name, value] : detail->properties)
        if (name == key) return &value;
    return nullptr;
}

/// The properties that differ, with their old values.
void appendBefore(const model::Kind& kind, const model::DetailPtr& old, const model::DetailPtr& now,
                  Program::Before& before) {
    for (const model::Property& property : kind.properties) {
        const model::Value* was = valueOf(old, property.name);
        const model::Value* is = valueOf(now, property.name);
        if ((was == nullptr) == (is == nullptr) && (was == nullptr || *was == *is)) continue;
        const model::Value usual = model::defaultOf(property);
        before.emplace_back(property.name, datumOf(property, was != nullptr ? *was : usual));
    }
}

/// What lies inside an instance and differs otherwise than before, as its properties and pose were.
std::map<ObjectId, Program::Before> insideBefore(const edit::Session& session, const model::Scene& scene,
                                                 ObjectId instance, const model::DetailPtr& old,
                                                 const model::DetailPtr& now) {
    std::map<ObjectId, Program::Before> all;
    static const model::PrefabLink none;
    const model::PrefabLink& was = old && old->prefab ? *old->prefab : none;
    const model::PrefabLink& is = now && now->prefab ? *now->prefab : none;
    if (was.changed == is.changed || was.of != is.of) return all;
    std::vector<ObjectId> inner;
    for (const auto* link : {&was, &is})
        for (const model::Difference& d : link->changed) inner.push_back(d.value.id);
    for (ObjectId id : inner) {
        const Slot slot = scene.find(base::joined(instance, id));
        const model::Kind* kind = slot == kNoSlot ? nullptr : session.library().kind(scene.kind(slot));
        const auto then = model::unchanged(was, session.definitions(), id);
        if (kind == nullptr || !then || all.contains(base::joined(instance, id))) continue;
        model::ObjectRecord before = *then;
        for (const model::Difference& d : was.changed)
            if (d.value.id == id) model::apply(d, before);
        Program::Before keys;
        appendBefore(*kind, before.detail, scene.detail(slot), keys);
        const base::Transform& pose = scene.local(slot);
        if (before.local.position != pose.position) keys.emplace_back("at", before.local.position);
        if (before.local.rotation != pose.rotation) keys.emplace_back("turn", before.local.rotation);
        if (before.local.scale != pose.scale) keys.emplace_back("size", before.local.scale);
        if (!keys.empty()) all[base::joined(instance, id)] = std::move(keys);
    }
    return all;
}

}  // namespace

void Behaviours::take(const Shelf& shelf) {
    std::vector<One> now;
    for (const Script& script : shelf.scripts())
        for (std::size_t i = 0; i < script.declared.behaviours.size(); ++i) {
            One one{shelf.source(script), script.declared.behaviours[i], i, script.text, false};
            for (const One& had : all_)
                if (had.source.name == one.source.name && had.index == i && had.text == one.text) one.off = had.off;
            now.push_back(std::move(one));
        }
    all_ = std::move(now);
}

bool Behaviours::giveLooks() const {
    return std::any_of(all_.begin(), all_.end(), [](const One& one) { return one.spec.looks && !one.off; });
}

bool Behaviours::isFor(const One& one, const edit::Session& session, const model::Scene& scene, Slot slot) const {
    return ops::isOfKind(session.library(), scene, slot, one.spec.kind);
}

void Behaviours::switchOff(One& one, const Outcome& outcome) {
    one.off = true;
    if (onSwitchedOff)
        onSwitchedOff(fmt::format("The behaviour of “{}” in {} is switched off until the file changes: {}",
                                  one.spec.kind, one.source.name, outcome.message));
}

std::vector<Behaviours::Event> Behaviours::eventsSince(edit::Draft& draft, const edit::Draft::Mark& from) const {
    std::vector<Event> events;
    std::map<std::pair<std::string, ObjectId>, std::size_t> places;
    auto eventOf = [&](const std::string& document, ObjectId id) -> Event& {
        auto [place, isNew] = places.try_emplace({document, id}, events.size());
        if (isNew) events.push_back({document, id, {}, false});
        return events[place->second];
    };
    auto add = [](Event& event, const char* key, Datum value) {
        for (const auto& [had, old] : event.before)
            if (had == key) return;  // what it was first
        event.before.emplace_back(key, std::move(value));
    };
    const auto& sets = draft.changes();
    const edit::Session& session = draft.session();
    for (std::size_t s = from.sets == 0 ? 0 : from.sets - 1; s < sets.size(); ++s) {
        const std::string& document = sets[s].scene;
        if (document.starts_with("@") || !draft.session().isLoaded(document)) continue;
        const model::Scene& scene = **draft.session().scene(document);
        for (std::size_t k = from.sets > 0 && s == from.sets - 1 ? from.changes : 0; k < sets[s].changes.size(); ++k) {
            const model::Change& change = sets[s].changes[k];
            if (const auto* existence = std::get_if<model::Existence>(&change); existence && existence->created)
                for (const auto& record : existence->objects) eventOf(document, record.id).created = true;
            if (const auto* poses = std::get_if<model::SetTransforms>(&change))
                for (std::size_t i = 0; i < poses->ids.size(); ++i) {
                    const base::Transform &was = poses->before[i], &is = poses->after[i];
                    Event& event = eventOf(document, poses->ids[i]);
                    if (was.position != is.position) add(event, "at", was.position);
                    if (was.rotation != is.rotation) add(event, "turn", was.rotation);
                    if (was.scale != is.scale) add(event, "size", was.scale);
                }
            if (const auto* labels = std::get_if<model::SetLabels>(&change))
                for (std::size_t i = 0; i < labels->ids.size(); ++i) {
                    const char* key = labels->field == model::LabelField::Name   ? "name"
                                      : labels->field == model::LabelField::Kind ? "kind"
                                                                                 : "item";
                    add(eventOf(document, labels->ids[i]), key, std::string(session.names().text(labels->before[i])));
                }
            if (const auto* details = std::get_if<model::SetDetails>(&change))
                for (std::size_t i = 0; i < details->ids.size(); ++i) {
                    const Slot slot = scene.find(details->ids[i]);
                    const ObjectId instance = details->ids[i];
                    for (auto& [id, before] :
                         insideBefore(session, scene, instance, details->before[i], details->after[i])) {
                        Event& event = eventOf(document, id);
                        for (auto& [key, value] : before) add(event, key.c_str(), std::move(value));
                    }
                    const model::Kind* kind = slot == kNoSlot ? nullptr : session.library().kind(scene.kind(slot));
                    if (kind == nullptr) continue;
                    Program::Before before;
                    appendBefore(*kind, details->before[i], details->after[i], before);
                    if (before.empty()) continue;
                    Event& event = eventOf(document, details->ids[i]);
                    for (auto& [key, value] : before) add(event, key.c_str(), std::move(value));
                }
        }
    }
    return events;
}

/// One behaviour and what happened. Errors: it does not allow it.
Status Behaviours::round(edit::Draft& draft, One& one, const std::vector<Event>& events, bool first,
                         const Limits& limits) {
    std::unique_ptr<Program> program;  // made when there is something to ask
    ObjectId now;
    Settings with = settings;
    with.limits = limits;
    const edit::Draft::Mark mark = draft.mark();
    std::string document;
    for (const Event& event : events) {
        if (event.document != document) {
            if (Status turned = draft.turnTo(event.document); !turned) return turned;
            document = event.document;
            program.reset();
        }
        const Slot slot = draft.scene().find(event.object);
        if (slot == kNoSlot || !isFor(one, draft.session(), draft.scene(), slot)) continue;
        if (!program) {
            const Place place(draft, [&](ObjectId target) { return mayTouch(draft, one.spec, now, target); });
            program = std::make_unique<Program>(one.source, with, place);
        }
        now = event.object;
        Program::Before before = event.before;
        if (event.created) before.emplace_back("created", true);
        if (before.empty()) continue;
        Outcome outcome = program->outcome();
        if (outcome.done() && first && one.spec.allows) {
            std::string reason;
            outcome = program->allow(one.index, event.object, before, reason);
            if (!reason.empty())
                return base::fail(ErrorCode::Refused, fmt::format("“{}”: {}", draft.scene().nameText(slot), reason));
        }
        if (outcome.done() && one.spec.changes) outcome = program->changed(one.index, event.object, before);
        if (!outcome.done()) {
            program.reset();
            draft.rollbackTo(mark);
            switchOff(one, outcome);
            return {};
        }
    }
    return {};
}

Status Behaviours::beforeCommit(edit::Draft& draft) {
    const bool any = std::any_of(all_.begin(), all_.end(),
                                 [](const One& one) { return !one.off && (one.spec.allows || one.spec.changes); });
    if (!any) return {};
    const Shared time(kSecondsForAll);
    edit::Draft::Mark from;
    const edit::Draft::Mark began = draft.mark();
    for (int n = 0; n < kMostRounds; ++n) {
        const auto events = eventsSince(draft, from);
        if (events.empty()) break;
        from = draft.mark();
        for (One& one : all_)
            if (!one.off && (one.spec.allows || one.spec.changes))
                if (Status fine = round(draft, one, events, n == 0, time.limits(kForStep)); !fine) return fine;
        if (n + 1 < kMostRounds) continue;
        const auto restless = eventsSince(draft, from);
        if (restless.empty()) break;
        // They set one another off for ever: all that had a part in it are taken back.
        draft.rollbackTo(began);
        for (One& one : all_)
            if (!one.off && one.spec.changes && std::any_of(restless.begin(), restless.end(), [&](const Event& event) {
                    auto scene = draft.session().scene(event.document);
                    const Slot slot = scene ? (*scene)->find(event.object) : kNoSlot;
                    return slot != kNoSlot && isFor(one, draft.session(), **scene, slot);
                }))
                switchOff(one,
                          failed(Ending::Error, fmt::format("it does not come to rest in {} rounds", kMostRounds)));
    }
    return draft.turnTo(draft.document());
}

void Behaviours::opened(edit::Draft& draft) {
    Settings with = settings;
    const Shared time(kSecondsForAll);
    for (One& one : all_) {
        if (one.off || !one.spec.opens) continue;
        with.limits = time.limits(kForStep);
        const edit::Draft::Mark mark = draft.mark();
        ObjectId now;
        const Place place(draft, [&](ObjectId target) { return mayTouch(draft, one.spec, now, target); });
        Program program(one.source, with, place);
        Outcome outcome = program.outcome();
        for (Slot s : draft.scene().subtree(kNoSlot)) {
            if (!outcome.done()) break;
            if (!isFor(one, draft.session(), draft.scene(), s)) continue;
            now = draft.scene().id(s);
            outcome = program.opened(one.index, now);
        }
        if (outcome.done()) continue;
        draft.rollbackTo(mark);
        switchOff(one, outcome);
    }
}

void Behaviours::looks(edit::Session& session, const std::string& scene, std::span<const Slot> slots,
                       const std::function<void(Slot, const Look&)>& tell) {
    Settings with = settings;
    const Shared time(kSecondsForAll);
    const auto shown = session.scene(scene);
    if (!shown) return;
    std::map<Slot, Look> all;
    for (One& one : all_) {
        if (one.off || !one.spec.looks) continue;
        std::unique_ptr<Program> program;
        with.limits = time.limits(kForLooks);
        for (Slot s : slots) {
            if (!(*shown)->alive(s) || !isFor(one, session, **shown, s)) continue;
            if (!program) program = std::make_unique<Program>(one.source, with, Place(session, scene));
            Look look;
            const Outcome outcome =
                program->outcome().done() ? program->look(one.index, (*shown)->id(s), look) : program->outcome();
            if (!outcome.done()) {
                switchOff(one, outcome);
                break;
            }
            if (look.empty()) continue;
            Look& sum = all[s];
            if (!look.item.empty()) sum.item = look.item;
            if (look.tint) sum.tint = look.tint;
            if (!look.badge.empty()) sum.badge = look.badge;
            sum.hides = sum.hides || look.hides;
            sum.marks.insert(sum.marks.end(), look.marks.begin(), look.marks.end());
        }
    }
    for (const auto& [slot, look] : all) tell(slot, look);
}

Status Behaviours::moveHandle(edit::Draft& draft, ObjectId object, std::size_t handle, const base::Vec3& to) {
    Settings with = settings;
    with.limits = kForStep;
    for (const One& one : all_) {
        const Slot slot = draft.scene().find(object);
        if (one.off || !one.spec.looks || slot == kNoSlot || !isFor(one, draft.session(), draft.scene(), slot))
            continue;
        const Place place(draft, [&](ObjectId target) { return mayTouch(draft, one.spec, object, target); });
        Program program(one.source, with, place);
        Look look;
        Outcome outcome = program.outcome().done() ? program.look(one.index, object, look) : program.outcome();
        const auto count = static_cast<std::size_t>(std::count_if(
            look.marks.begin(), look.marks.end(), [](const Mark& m) { return m.shape == Mark::Shape::Handle; }));
        if (outcome.done() && handle >= count) {
            handle -= count;  // one of the next behaviour's
            continue;
        }
        if (outcome.done()) outcome = program.moved(handle, object, to);
        if (!outcome.done()) return base::fail(ErrorCode::Refused, outcome.message);
        return {};
    }
    return {};
}

}  // namespace script
