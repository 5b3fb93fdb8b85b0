#include "ops/acts.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>
#include <unordered_set>
#include <utility>

#include "base/math.h"
#include "model/library.h"
#include "ops/names.h"
#include "ops/properties.h"

namespace ops {
namespace {

using model::Act;
using model::ActPart;
using model::InActs;
using Is = ActPart::Is;

Status refuseNoAct(const model::Scene& scene, ObjectId act) {
    const Slot slot = scene.find(act);
    if (slot != kNoSlot && scene.facet<Act>(slot) != nullptr) return {};
    return fail(ErrorCode::NotFound, slot == kNoSlot ? std::string("The act is gone.")
                                                     : fmt::format("“{}” is no act.", scene.nameText(slot)));
}

/// The part of an act, there or made: one that says nothing yet.
ActPart& partOf(InActs& in, ObjectId act) {
    for (ActPart& part : in.all)
        if (part.act == act) return part;
    ActPart& made = in.all.emplace_back();
    made.act = act;
    made.is = Is::AsItIs;
    return made;
}

/// Changes what an object is in an act; what says nothing any more goes.
void edit(model::Detail& detail, ObjectId act, const std::function<void(ActPart&)>& change) {
    InActs in = detail.get<InActs>() != nullptr ? *detail.get<InActs>() : InActs{};
    change(partOf(in, act));
    std::erase_if(in.all, [](const ActPart& part) { return part.saysNothing(); });
    if (in.all.empty() && in.unknown.empty())
        detail.drop<InActs>();
    else
        detail.put(std::move(in));
}

Status changeParts(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId act,
                   const std::function<void(Slot, ActPart&)>& change) {
    return changeDetails(draft, ids, [&](Slot slot, model::Detail& detail) -> Status {
        edit(detail, act, [&](ActPart& part) { change(slot, part); });
        const InActs* now = detail.get<InActs>();
        return now != nullptr ? InActs::type().check(now) : Status{};
    });
}

const ActPart* partIn(const model::Scene& scene, Slot slot, ObjectId act) {
    const InActs* in = scene.detail(slot) ? scene.facet<InActs>(slot) : nullptr;
    return in != nullptr ? in->of(act) : nullptr;
}

/// All that an act gives a pose or values.
Ids changedBy(const model::Scene& scene, ObjectId act) {
    Ids all;
    for (const Slot s : scene.subtree(kNoSlot))
        if (const ActPart* part = partIn(scene, s, act); part != nullptr && (part->posed || !part->values.empty()))
            all.push_back(scene.id(s));
    return all;
}

/// What a property is now, to be kept; nothing: its kind has none of that name.
std::optional<model::ActValue> kept(const model::Library& library, const model::Scene& scene, Slot slot,
                                    const model::ValueMap& values, const std::string& name) {
    const model::Kind* kind = library.kind(scene.kind(slot));
    const model::Property* is = kind != nullptr ? kind->property(name) : nullptr;
    if (is == nullptr) return std::nullopt;
    const model::Value* own = model::valueOf(values, name);
    model::Value room;
    return model::ActValue{name, model::valueText(*is, *model::valueOr(*is, values, room)), own == nullptr, {}};
}

/// A property becomes what was kept. False: that is not, any more, what its kind takes.
bool put(const model::Library& library, const model::Scene& scene, Slot slot, model::ValueMap& values,
         const model::ActValue& value) {
    const model::Kind* kind = library.kind(scene.kind(slot));
    const model::Property* is = kind != nullptr ? kind->property(value.property) : nullptr;
    if (is == nullptr) return false;
    if (value.usual) return model::eraseValue(values, value.property), true;
    auto parsed = model::parsedValue(*is, value.value);
    if (parsed) model::setValue(values, value.property, std::move(*parsed));
    return parsed.has_value();
}

/// What objects are, and what their part of an act keeps, change places: what is protected, too, as that is how it is
/// meant to be in the act.
Status trade(edit::Draft& draft, ObjectId act, const Ids& ids) {
    const model::Scene& scene = draft.scene();
    const model::Library& library = draft.session().library();
    std::vector<base::Transform> poses;
    std::vector<model::DetailPtr> details;
    Ids posed;
    for (const ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot slot = scene.find(id);
        model::Detail detail = *scene.detail(slot);
        edit(detail, act, [&](ActPart& part) {
            if (part.posed) {
                base::Transform pose = scene.local(slot);
                std::swap(pose.position, part.at);
                std::swap(pose.rotation, part.turn);
                posed.push_back(scene.id(slot));
                poses.push_back(pose);
            }
            for (model::ActValue& value : part.values) {
                auto now = kept(library, scene, slot, detail.properties, value.property);
                if (!now || !put(library, scene, slot, detail.properties, value)) continue;
                value.value = std::move(now->value);
                value.usual = now->usual;
            }
        });
        details.push_back(std::make_shared<const model::Detail>(std::move(detail)));
    }
    if (ids.empty()) return {};
    if (Status set = draft.setDetails(ids, details); !set || posed.empty()) return set;
    return draft.setTransforms(posed, poses);
}

Status setWorked(edit::Draft& draft, ObjectId act, bool worked) {
    return changeDetails(draft, {&act, 1}, [&](Slot, model::Detail& detail) -> Status {
        detail.edit<Act>().worked = worked;
        return {};
    });
}

}  // namespace

Ids actsOf(const model::Scene& scene) {
    Ids all;
    for (const Slot s : scene.subtree(kNoSlot))
        if (scene.detail(s) && scene.facet<Act>(s) != nullptr) all.push_back(scene.id(s));
    return all;
}

ObjectId workedAct(const model::Scene& scene, const std::set<ObjectId>& acts) {
    for (const ObjectId id : acts) {
        const Slot slot = scene.find(id);
        const Act* act = slot != kNoSlot ? scene.facet<Act>(slot) : nullptr;
        if (act != nullptr && act->worked) return id;
    }
    return {};
}

Result<ObjectId> addAct(edit::Draft& draft, const std::string& name) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    auto usable = usableName(name);
    if (!usable) return tl::unexpected(usable.error());
    model::ObjectRecord made;
    made.id = draft.session().random().nextId();
    made.name = draft.session().intern(draft.freeNames().next(*usable));
    model::Detail detail;
    detail.put(Act{actsOf(draft.scene()).empty(), false, {}});
    made.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (Status created = draft.create({&made, 1}); !created) return tl::unexpected(created.error());
    return made.id;
}

Status setInAct(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId act, Is is) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    if (Status fine = refuseNoAct(scene, act); !fine) return fine;
    for (const ObjectId id : ids)
        if (const Slot s = scene.find(id); s != kNoSlot && scene.facet<Act>(s) != nullptr)
            return fail(ErrorCode::BadInput, fmt::format("“{}” is an act itself.", scene.nameText(s)));
    return changeParts(draft, ids, act, [&](Slot, ActPart& part) { part.is = is; });
}

Status poseInAct(edit::Draft& draft, ObjectId id, ObjectId act, const Vec3& at, const base::Quat& turn) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    if (Status fine = refuseNoAct(scene, act); !fine) return fine;
    const Slot slot = scene.find(id);
    if (slot == kNoSlot) return edit::Draft::noObject(id);
    if (!base::isFinite(at) || glm::length(at) > 1e7) return fail(ErrorCode::BadInput, "A place is within 10,000 km.");
    const Slot parent = scene.parent(slot);
    const auto back = parent == kNoSlot ? base::Affine{} : base::inverse(scene.world(parent));
    if (!back) return fail(ErrorCode::Refused, "What it lies in has no usable size.");
    base::Transform pose = base::toTransform(*back * base::toAffine({at, turn, Vec3(1.0)}));
    pose.scale = scene.local(slot).scale;
    if (workedAct(scene) == act) return draft.setTransforms({&id, 1}, {&pose, 1});
    return changeParts(draft, {&id, 1}, act, [&](Slot, ActPart& part) {
        part.posed = true;
        part.at = pose.position;
        part.turn = pose.rotation;
    });
}

Status dropFromAct(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId act) {
    if (!draft.state()) return draft.state();
    if (Status fine = refuseNoAct(draft.scene(), act); !fine) return fine;
    Ids those;
    for (const ObjectId id : ids)
        if (const Slot s = draft.scene().find(id); s != kNoSlot && partIn(draft.scene(), s, act) != nullptr)
            those.push_back(id);
    draft.keepAsWritten();  // else what comes back would be kept as of the act
    if (workedAct(draft.scene()) == act)
        if (Status back = trade(draft, act, those); !back) return back;
    return changeParts(draft, those, act, [](Slot, ActPart& part) {
        part.posed = false;
        part.values.clear();
    });
}

Status workIn(edit::Draft& draft, ObjectId act) {
    if (!draft.state()) return draft.state();
    if (act)
        if (Status fine = refuseNoAct(draft.scene(), act); !fine) return fine;
    draft.keepAsWritten();
    const ObjectId before = workedAct(draft.scene());
    if (before == act) return {};
    if (before) {
        if (Status out = trade(draft, before, changedBy(draft.scene(), before)); !out) return out;
        if (Status out = setWorked(draft, before, false); !out) return out;
    }
    if (!act) return {};
    if (Status in = trade(draft, act, changedBy(draft.scene(), act)); !in) return in;
    return setWorked(draft, act, true);
}

namespace {

/// What one step did to one scene, as far as acts are concerned.
struct Done {
    Ids created, placed;                        ///< all; those that were not put below other new ones
    std::map<ObjectId, base::Transform> moved;  ///< what they were
    std::map<ObjectId, model::DetailPtr> detailed;
    std::set<ObjectId> elsewhere;  ///< in the tree
};

/// With `all`, what every object was before; else only what went elsewhere in the tree: most steps are in no act.
Done doneIn(const edit::Draft& draft, const std::string& document, bool all) {
    Done done;
    std::unordered_set<ObjectId> isNew;
    const auto each = [&](const auto& look) {
        for (const model::ChangeSet& set : draft.changes())
            if (set.scene == document)
                for (const model::Change& change : set.changes) look(change);
    };
    each([&](const model::Change& change) {
        if (const auto* m = std::get_if<model::MoveInTree>(&change))
            done.elsewhere.insert(m->ids.begin(), m->ids.end());
        const auto* e = std::get_if<model::Existence>(&change);
        if (e == nullptr || !e->created) return;
        for (const model::ObjectRecord& object : e->objects) {
            if (!isNew.contains(object.parent)) done.placed.push_back(object.id);
            isNew.insert(object.id);
            done.created.push_back(object.id);
        }
    });
    each([&](const model::Change& change) {
        if (const auto* t = std::get_if<model::SetTransforms>(&change))
            for (std::size_t i = 0; (all || !done.elsewhere.empty()) && i < t->ids.size(); ++i)
                if (all || done.elsewhere.contains(t->ids[i])) done.moved.emplace(t->ids[i], t->before[i]);
        if (const auto* d = std::get_if<model::SetDetails>(&change))
            for (std::size_t i = 0; all && i < d->ids.size(); ++i) done.detailed.emplace(d->ids[i], d->before[i]);
    });
    for (const ObjectId id : isNew) {
        done.moved.erase(id);
        done.detailed.erase(id);
        done.elsewhere.erase(id);
    }
    return done;
}

/// Acts that were worked in and are gone.
Ids lostIn(const edit::Draft& draft, const std::string& document) {
    Ids lost;
    for (const model::ChangeSet& set : draft.changes())
        for (const model::Change& change : set.changes) {
            const auto* e = set.scene == document ? std::get_if<model::Existence>(&change) : nullptr;
            for (std::size_t i = 0; e != nullptr && !e->created && i < e->objects.size(); ++i) {
                const model::DetailPtr& detail = e->objects[i].detail;
                const Act* act = detail ? detail->get<Act>() : nullptr;
                if (act != nullptr && act->worked && draft.scene().find(e->objects[i].id) == kNoSlot)
                    lost.push_back(e->objects[i].id);
            }
        }
    return lost;
}

/// Poses in acts are against the parent: under another one they are brought along, so that they stay in the world.
Status bringAlong(edit::Draft& draft, const Done& done) {
    const model::Scene& scene = draft.scene();
    for (const ObjectId id : done.elsewhere) {
        const Slot slot = scene.find(id);
        const InActs* in = slot != kNoSlot && scene.detail(slot) ? scene.facet<InActs>(slot) : nullptr;
        const auto was = done.moved.find(id);
        if (in == nullptr || was == done.moved.end()) continue;
        const auto back = base::inverse(base::toAffine(was->second));
        if (!back) continue;
        const base::Affine by = base::toAffine(scene.local(slot)) * *back;
        Status brought = changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
            for (ActPart& part : detail.edit<InActs>().all) {
                if (!part.posed) continue;
                const base::Transform there =
                    base::toTransform(by * base::toAffine(base::Transform{part.at, part.turn, was->second.scale}));
                part.at = there.position;
                part.turn = there.rotation;
            }
            return {};
        });
        if (!brought) return brought;
    }
    return {};
}

/// What a step leaves to an act, by slot.
struct Kept {
    std::optional<base::Transform> pose;  ///< that it has otherwise
    std::vector<model::ActValue> values;  ///< the same
    bool binds = false, fresh = false;    ///< it is there only in this act; it stands where it was put
    bool isNothing() const { return !pose && values.empty() && !binds && !fresh; }
};

/// What was moved or set while one works in an act is so there only: what it was before is kept in its part.
Kept keptOf(const edit::Draft& draft, const model::Library& library, ObjectId act, const Done& done, Slot slot) {
    const model::Scene& scene = draft.scene();
    const ObjectId id = scene.id(slot);
    const ActPart* part = partIn(scene, slot, act);
    Kept made;
    const auto pose = done.moved.find(id);
    if (pose != done.moved.end() && !done.elsewhere.contains(id) && (part == nullptr || !part->posed) &&
        (pose->second.position != scene.local(slot).position || pose->second.rotation != scene.local(slot).rotation))
        made.pose = pose->second;
    const auto was = done.detailed.find(id);
    const model::Kind* kind = library.kind(scene.kind(slot));
    if (was == done.detailed.end() || kind == nullptr) return made;
    static const model::ValueMap none;
    const model::ValueMap& before = was->second ? was->second->properties : none;
    const model::ValueMap& now = scene.detail(slot) ? scene.detail(slot)->properties : none;
    for (const model::Property& p : kind->properties) {
        const auto isIt = [&](const model::ActValue& v) { return v.property == p.name; };
        if (part != nullptr && std::ranges::any_of(part->values, isIt)) continue;
        auto value = kept(library, scene, slot, before, p.name);
        if (value && value != kept(library, scene, slot, now, p.name)) made.values.push_back(std::move(*value));
    }
    return made;
}

/// What is placed while one works in an act is there in it only; copies of what it moves stand where they were put.
Kept keptOfNew(const edit::Draft& draft, ObjectId act, const std::set<ObjectId>& placed, Slot slot) {
    const model::Scene& scene = draft.scene();
    if (scene.detail(slot) && scene.facet<Act>(slot) != nullptr) return {};
    const ActPart* part = partIn(scene, slot, act);
    const Slot parent = scene.parent(slot);
    const bool isTop = placed.contains(scene.id(slot)) && (parent == kNoSlot || !partIn(scene, parent, act));
    Kept made;
    made.binds = isTop && (part == nullptr || part->is == Is::AsItIs);
    made.fresh = part != nullptr && (part->posed || !part->values.empty());
    return made;
}

Status keepOwn(edit::Draft& draft, ObjectId act, const Done& done) {
    const model::Scene& scene = draft.scene();
    std::set<ObjectId> changed;
    for (const auto& [id, was] : done.moved) changed.insert(id);
    for (const auto& [id, was] : done.detailed) changed.insert(id);
    std::map<Slot, Kept> all;
    Ids ids;
    const auto add = [&](ObjectId id, Slot slot, Kept kept) {
        // What lies inside an instance knows no act outside: what is changed there is so in all of them.
        if (kept.isNothing() || !draft.isOwn(id)) return;
        all.emplace(slot, std::move(kept));
        ids.push_back(id);
    };
    const model::Library& library = draft.session().library();
    for (const ObjectId id : changed)
        if (const Slot slot = scene.find(id); slot != kNoSlot && id != act)
            add(id, slot, keptOf(draft, library, act, done, slot));
    const std::set<ObjectId> placed(done.placed.begin(), done.placed.end());
    for (const ObjectId id : done.created)
        if (const Slot slot = scene.find(id); slot != kNoSlot) add(id, slot, keptOfNew(draft, act, placed, slot));
    if (ids.empty()) return {};
    return changeParts(draft, ids, act, [&](Slot slot, ActPart& part) {
        Kept& kept = all.at(slot);
        if (kept.fresh) {
            part.posed = false;
            part.values.clear();
        }
        if (kept.binds) part.is = Is::There;
        if (kept.pose) {
            part.posed = true;
            part.at = kept.pose->position;
            part.turn = kept.pose->rotation;
        }
        part.values.insert(part.values.end(), kept.values.begin(), kept.values.end());
    });
}

/// A copy of the act one works in is one that nobody works in.
Status calmCopies(edit::Draft& draft, const Done& done) {
    for (const ObjectId id : done.created) {
        const Slot slot = draft.scene().find(id);
        const Act* act = slot != kNoSlot && draft.scene().detail(slot) ? draft.scene().facet<Act>(slot) : nullptr;
        if (act != nullptr && act->worked)
            if (Status calm = setWorked(draft, id, false); !calm) return calm;
    }
    return {};
}

}  // namespace

Status ActKeeper::beforeCommit(edit::Draft& draft) {
    std::set<std::string> documents;
    for (const model::ChangeSet& set : draft.changes())
        if (!model::data::isData(set.scene)) documents.insert(set.scene);
    for (const std::string& document : documents) {
        if (Status turned = draft.turnTo(document); !turned) return turned;
        for (const ObjectId gone : lostIn(draft, document))
            if (Status back = trade(draft, gone, changedBy(draft.scene(), gone)); !back) return back;
        if (acts_.in(draft.scene()).empty()) continue;
        const bool works = bool(workedAct(draft.scene(), acts_.in(draft.scene())));
        const Done done = doneIn(draft, document, works);
        if (Status along = bringAlong(draft, done); !along) return along;
        if (Status calm = calmCopies(draft, done); !calm) return calm;
        const ObjectId act = workedAct(draft.scene(), acts_.in(draft.scene()));
        if (!act) continue;
        if (Status kept = keepOwn(draft, act, done); !kept) return kept;
    }
    return draft.turnTo(draft.document());
}

std::vector<bool> thereIn(const model::Scene& scene, const std::set<ObjectId>& goingOn) {
    std::vector<bool> there(scene.slotEnd(), false);
    const auto goesOn = [&](ObjectId act) { return goingOn.contains(act); };
    for (const Slot s : scene.subtree(kNoSlot)) {  // parents come first
        const Slot parent = scene.parent(s);
        const InActs* in = scene.detail(s) ? scene.facet<InActs>(s) : nullptr;
        there[s] = (parent == kNoSlot || there[parent]) && (in == nullptr || model::isThere(in->all, goesOn));
    }
    return there;
}

ActSums sumsOf(const model::Scene& scene, const model::Library& library, ObjectId act) {
    ActSums sums;
    const std::vector<bool> there = thereIn(scene, {act});
    for (const Slot s : scene.subtree(kNoSlot)) {
        if (const ActPart* part = partIn(scene, s, act)) {
            sums.adds += part->is == Is::There;
            sums.takes += part->is == Is::Away;
            sums.poses += part->posed;
            sums.values += !part->values.empty();
        }
        const model::Item* item = there[s] && scene.item(s) ? library.item(scene.item(s)) : nullptr;
        if (item == nullptr) continue;
        ++sums.objects;
        sums.triangles += item->triangles;
        sums.cost += model::costOf(library.kind(scene.kind(s)), item);
    }
    return sums;
}

}  // namespace ops
