#include "edit/draft.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_set>

#include "edit/instance_links.h"

namespace edit {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Status;
using model::kNoSlot;
using model::Slot;

namespace {

Status noObject(ObjectId id) {
    return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
}

/// What `get` gives for each object, into `out`. Errors: NotFound for the first that is not there.
template <class T, class Get>
Status gather(const model::Scene& scene, std::span<const ObjectId> ids, std::vector<T>& out, Get get) {
    out.reserve(ids.size());
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) return noObject(id);
        out.push_back(get(slot));
    }
    return {};
}

Status usablePose(const model::Scene& scene, Slot slot, const base::Transform& t) {
    const bool usable = base::isFinite(t.position) && base::isFinite(t.rotation) && base::isFinite(t.scale) &&
                        std::abs(glm::length(t.rotation) - 1.0) < 1e-3;
    if (usable) return {};
    return fail(ErrorCode::BadInput,
                fmt::format("“{}” cannot be put there: that is not a usable pose.", scene.nameText(slot)));
}

/// A value as the definition has it that is edited at `instance`.
template <class Value>
const Value& inDefinitionTerms(const Value& value, const model::Scene&, Slot) {
    return value;
}
model::DetailPtr inDefinitionTerms(model::DetailPtr value, const model::Scene& scene, Slot instance) {
    model::takeLinksInside(value, scene, instance);
    return value;
}

bool changedNothing(const model::Change& change) {
    if (const auto* c = std::get_if<model::Existence>(&change)) return c->objects.empty();
    if (const auto* c = std::get_if<model::SetTransforms>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetLabels>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetFlags>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::MoveInTree>(&change)) return c->before == c->after;
    if (const auto* c = std::get_if<model::SetSettings>(&change)) return *c->before == *c->after;
    if (const auto* c = std::get_if<model::SetEntries>(&change)) return c->before == c->after;
    const auto& details = std::get<model::SetDetails>(change);
    return std::equal(details.before.begin(), details.before.end(), details.after.begin(), model::sameDetail);
}

}  // namespace

Draft::Draft(Session& session, const std::string& scene, std::string name)
    : session_(session), main_(scene), name_(std::move(name)) {
    if (!session.draftOpen_)
        if (auto known = session.scene(scene); !known) {
            state_ = tl::unexpected(known.error());
            return;
        }
    auto open = session.openScene(scene);
    if (!open) {
        state_ = tl::unexpected(open.error());
        return;
    }
    open_ = *open;
    if (!session.readOnlyReason().empty()) {
        state_ = fail(ErrorCode::Refused, session.readOnlyReason());
        return;
    }
    if (session.draftOpen_) {
        state_ = fail(ErrorCode::Refused, "Another change is still being made.");
        return;
    }
    session.draftOpen_ = true;
    active_ = true;
    selectionBefore_ = session.selection();
}

Draft::~Draft() {
    rollback();
}

Status Draft::turnTo(const std::string& document) {
    if (!state_) return state_;
    auto open = session_.openScene(document);
    if (!open) return tl::unexpected(open.error());
    if (session_.otherwise_.contains(document))
        return fail(ErrorCode::Refused, document + ": its file was changed outside: open it first.");
    open_ = *open;
    return {};
}

model::FreeNames& Draft::freeNames() {
    return freeNames_.try_emplace(open_->scene.name(), open_->scene).first->second;
}

/// What names are free is kept in mind only once somebody has asked.
void Draft::noteName(base::Name name) {
    const auto place = freeNames_.find(open_->scene.name());
    if (place != freeNames_.end()) place->second.note(session_.project().names->text(name));
}

Draft::Route Draft::routeOf(Slot slot) const {
    const model::Scene& scene = open_->scene;
    if (const ObjectId edited = session_.definitionEditedAt()) {
        const Slot instance = scene.find(edited);
        if (instance != kNoSlot && slot != instance && scene.isWithin(slot, instance))
            return {Route::To::Definition, edited};
    }
    const Slot around = scene.instanceAround(slot);
    return around == kNoSlot ? Route{} : Route{Route::To::Inside, scene.id(around)};
}

Draft::Route Draft::routeBelow(Slot parent) const {
    const model::Scene& scene = open_->scene;
    if (parent == kNoSlot) return {};
    if (scene.id(parent) == session_.definitionEditedAt() && scene.isInstance(parent))
        return {Route::To::Definition, scene.id(parent)};
    const Route own = routeOf(parent);
    return own.to == Route::To::Own && scene.isInstance(parent) ? Route{Route::To::Inside, scene.id(parent)} : own;
}

bool Draft::isOwn(ObjectId id) const {
    const Slot slot = open_->scene.find(id);
    const Route route = slot == kNoSlot ? Route{Route::To::Inside, {}} : routeOf(slot);
    if (route.to != Route::To::Definition) return route.to == Route::To::Own;
    const auto& link = open_->scene.detail(open_->scene.find(route.instance))->prefab;
    auto place = session_.definitions().find(link->of);
    if (place == session_.definitions().end()) return false;
    const Slot inner = place->second->find(base::innerOf(route.instance, id));
    return inner != kNoSlot && place->second->instanceAround(inner) == kNoSlot;
}

Status Draft::write(model::Change change) {
    if (!state_) return state_;
    if (Status on = goOn(model::rowCount(change)); !on) return on;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    note(std::move(change), std::move(delta));
    return {};
}

void Draft::note(model::Change change, SceneDelta delta) {
    if (sets_.empty() || sets_.back().scene != delta.scene) sets_.push_back({delta.scene, {}});
    sets_.back().changes.push_back(std::move(change));
    sealed_ = false;
    session_.tell(std::move(delta));
}

template <class T>
Status Draft::writeOver(T change) {
    const bool here = !sets_.empty() && sets_.back().scene == open_->scene.name();
    T* last = here ? std::get_if<T>(&sets_.back().changes.back()) : nullptr;
    if (last == nullptr || sealed_ || last->ids != change.ids) return write(std::move(change));
    if (Status on = goOn(change.ids.size()); !on) return on;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    last->after = std::move(change.after);
    session_.tell(std::move(delta));
    return {};
}

Status Draft::inDefinition(ObjectId instance, const std::function<Status()>& write) {
    const std::string here = open_->scene.name();
    const Slot slot = open_->scene.find(instance);
    const ObjectId prefab = open_->scene.detail(slot)->prefab->of;
    if (!session_.definitions().contains(prefab))
        return fail(ErrorCode::Refused, "Its prefab is missing: there is no definition to be changed.");
    if (Status turned = turnTo(model::definitionKey(prefab)); !turned) return turned;
    Status done = write();
    if (Status back = turnTo(here); !back) return back;
    return done;
}

/// `own` writes rows that the scene holds, `again` the same verb in a definition; `modify` makes the change to one
/// record, of which `parts` become differences.
template <class Value, class Own, class Again, class Modify>
Status Draft::routed(std::span<const ObjectId> ids, std::span<const Value> values, std::uint32_t parts, const Own& own,
                     const Again& again, const Modify& modify) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::vector<Route> routes;
    bool allOwn = true;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) return noObject(id);
        routes.push_back(routeOf(slot));
        allOwn = allOwn && routes.back().to == Route::To::Own;
    }
    if (allOwn) return own(ids, values);

    std::vector<ObjectId> ownIds, innerIds;
    std::vector<Value> ownValues, innerValues;
    InstanceLinks links(scene, session_.definitions());
    ObjectId edited;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (routes[i].to == Route::To::Own) {
            ownIds.push_back(ids[i]);
            ownValues.push_back(values[i]);
        } else if (routes[i].to == Route::To::Inside) {
            if (Status fits = links.change(routes[i].instance, ids[i], parts,
                                           [&](model::ObjectRecord& r) { modify(r, values[i]); });
                !fits)
                return fits;
        } else {
            edited = routes[i].instance;
            innerIds.push_back(base::innerOf(edited, ids[i]));
            innerValues.push_back(inDefinitionTerms(values[i], scene, scene.find(edited)));
            links.takeBack(ids[i], parts);
        }
    }
    if (!ownIds.empty())
        if (Status done = own(std::span<const ObjectId>(ownIds), std::span<const Value>(ownValues)); !done) return done;
    if (edited)
        if (Status done = inDefinition(
                edited,
                [&] { return again(std::span<const ObjectId>(innerIds), std::span<const Value>(innerValues)); });
            !done)
            return done;
    return links.empty() ? Status{} : writeDetails(links.ids(), links.details());
}

Status Draft::create(std::span<const model::ObjectRecord> objects) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::unordered_map<ObjectId, Route> routes;
    std::vector<model::ObjectRecord> own, inner;
    InstanceLinks links(scene, session_.definitions());
    ObjectId edited;
    std::size_t made = objects.size();
    for (const model::ObjectRecord& r : objects)
        if (r.detail && r.detail->prefab) made += model::expandedCount(*r.detail->prefab, session_.definitions());
    if (Status on = goOn(0, made); !on) return on;
    if (session_.sources_.objects() + made > model::kMostObjects)
        return fail(ErrorCode::Refused, fmt::format("That would make {} objects in all: at most {} can be shown.",
                                                    session_.sources_.objects() + made, model::kMostObjects));
    for (const model::ObjectRecord& r : objects) {
        noteName(r.name);
        if (Status fine = refuseCircle(r.detail); !fine) return fine;
        if (Status on = goOn(); !on) return on;
        Route route;
        if (auto place = routes.find(r.parent); place != routes.end())
            route = place->second;
        else if (r.parent)
            route = routeBelow(scene.find(r.parent));
        routes[r.id] = route;
        if (route.to == Route::To::Own) {
            own.push_back(r);
        } else if (route.to == Route::To::Inside) {
            links.add(route.instance, r);
        } else {
            edited = route.instance;
            inner.push_back(asInside(r, edited));
            model::takeLinksInside(inner.back().detail, scene, scene.find(edited));
        }
    }
    if (!own.empty())
        if (Status done = write(model::Existence{true, std::move(own)}); !done) return done;
    if (edited)
        if (Status done = inDefinition(edited, [&] { return create(inner); }); !done) return done;
    return links.empty() ? Status{} : writeDetails(links.ids(), links.details());
}

Status Draft::remove(std::span<const ObjectId> ids) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::unordered_set<Slot> tops;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) return noObject(id);
        tops.insert(slot);
    }
    std::vector<ObjectId> own, inner;
    std::map<ObjectId, std::vector<ObjectId>> inside;
    ObjectId edited;
    std::unordered_set<Slot> done;
    for (ObjectId id : ids) {
        const Slot top = scene.find(id);
        if (!done.insert(top).second) continue;  // named twice
        bool below = false;
        for (Slot s = scene.parent(top); s != kNoSlot && !below; s = scene.parent(s)) below = tops.contains(s);
        if (below) continue;
        if (Status on = goOn(); !on) return on;
        const Route route = routeOf(top);
        if (route.to == Route::To::Own) own.push_back(id);
        if (route.to == Route::To::Inside) inside[route.instance].push_back(id);
        if (route.to == Route::To::Definition) {
            edited = route.instance;
            inner.push_back(base::innerOf(edited, id));
        }
    }
    InstanceLinks links(scene, session_.definitions());
    for (const auto& [instance, held] : inside) links.remove(instance, held);
    if (!own.empty())
        if (Status gone = writeRemoval(own); !gone) return gone;
    if (edited)
        if (Status gone = inDefinition(edited, [&] { return remove(inner); }); !gone) return gone;
    return links.empty() ? Status{} : writeDetails(links.ids(), links.details());
}

Status Draft::writeRemoval(const std::vector<ObjectId>& tops) {
    if (Status on = goOn(tops.size()); !on) return on;
    const model::Scene& scene = open_->scene;
    std::vector<Slot> order;
    for (ObjectId id : tops) {
        const auto all = scene.ownSubtree(scene.find(id));
        order.insert(order.end(), all.begin(), all.end());
    }
    model::Existence change{false, std::vector<model::ObjectRecord>(order.size())};
    SceneDelta delta;
    delta.scene = scene.name();
    delta.treeChanged = true;
    for (std::size_t i = order.size(); i-- > 0;) {
        change.objects[i] = scene.record(order[i]);
        (void)open_->writer.remove(change.objects[i].id, delta);
    }
    note(std::move(change), std::move(delta));
    return {};
}

Status Draft::setTransforms(std::span<const ObjectId> ids, std::span<const base::Transform> values) {
    for (std::size_t i = 0; state_ && i < ids.size(); ++i)
        if (const Slot slot = open_->scene.find(ids[i]); slot != kNoSlot)
            if (Status usable = usablePose(open_->scene, slot, values[i]); !usable) return usable;
    return routed(
        ids, values, model::part::kPose, [&](auto i, auto v) { return writeTransforms(i, v); },
        [&](auto i, auto v) { return setTransforms(i, v); },
        [](model::ObjectRecord& r, const base::Transform& t) { r.local = t; });
}

Status Draft::writeTransforms(std::span<const ObjectId> ids, std::span<const base::Transform> values) {
    model::SetTransforms change;
    change.ids.assign(ids.begin(), ids.end());
    change.after.assign(values.begin(), values.end());
    for (ObjectId id : ids) change.before.push_back(open_->scene.local(open_->scene.find(id)));
    return writeOver(std::move(change));
}

Status Draft::setLabels(model::LabelField field, std::span<const ObjectId> ids, std::span<const base::Name> values) {
    using model::LabelField;
    if (state_ && field == LabelField::Name)
        for (base::Name name : values) noteName(name);
    const std::uint32_t parts = field == LabelField::Name   ? model::part::kName
                                : field == LabelField::Kind ? model::part::kKind
                                                            : model::part::kItem;
    auto own = [&](std::span<const ObjectId> some, std::span<const base::Name> after) {
        model::SetLabels change{field, {some.begin(), some.end()}, {}, {after.begin(), after.end()}};
        const model::Scene& scene = open_->scene;
        Status known = gather(scene, some, change.before, [&](Slot s) {
            if (field == LabelField::Name) return scene.nameOf(s);
            return field == LabelField::Kind ? scene.kind(s) : scene.item(s);
        });
        return known ? write(std::move(change)) : known;
    };
    return routed(
        ids, values, parts, own, [&](auto i, auto v) { return setLabels(field, i, v); },
        [&](model::ObjectRecord& r, base::Name v) {
            (field == LabelField::Name ? r.name : field == LabelField::Kind ? r.kind : r.item) = v;
        });
}

Status Draft::setFlags(std::span<const ObjectId> ids, std::span<const std::uint8_t> values) {
    auto own = [&](std::span<const ObjectId> some, std::span<const std::uint8_t> after) {
        model::SetFlags change{{some.begin(), some.end()}, {}, {after.begin(), after.end()}};
        Status known = gather(open_->scene, some, change.before, [&](Slot s) { return open_->scene.flagsOf(s); });
        return known ? write(std::move(change)) : known;
    };
    return routed(
        ids, values, model::part::kFlags, own, [&](auto i, auto v) { return setFlags(i, v); },
        [](model::ObjectRecord& r, std::uint8_t v) { r.flags = v; });
}

Status Draft::setDetails(std::span<const ObjectId> ids, std::span<const model::DetailPtr> values) {
    for (const model::DetailPtr& value : values)
        if (Status fine = refuseCircle(value); !fine) return fine;
    return routed(
        ids, values, model::part::kFacets, [&](auto i, auto v) { return writeDetails(i, v); },
        [&](auto i, auto v) { return setDetails(i, v); },
        [](model::ObjectRecord& r, const model::DetailPtr& v) { r.detail = v; });
}

Status Draft::writeDetails(std::span<const ObjectId> ids, std::span<const model::DetailPtr> values) {
    if (!state_) return state_;
    model::SetDetails change{{ids.begin(), ids.end()}, {}, {values.begin(), values.end()}};
    if (Status known = gather(open_->scene, ids, change.before, [&](Slot s) { return open_->scene.detail(s); }); !known)
        return known;
    return writeOver(std::move(change));
}

Status Draft::moveInTree(std::span<const ObjectId> ids, std::span<const model::TreePlace> places) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    bool allOwn = true;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = scene.find(ids[i]);
        allOwn = allOwn && (slot == kNoSlot || routeOf(slot).to == Route::To::Own) &&
                 routeBelow(scene.find(places[i].parent)).to == Route::To::Own;
    }
    if (allOwn) return writeMoves(ids, places);
    for (std::size_t i = 0; i < ids.size(); ++i)
        if (Status done = moveOne(ids[i], places[i]); !done) return done;
    return {};
}

Status Draft::moveOne(ObjectId id, const model::TreePlace& place) {
    const model::Scene& scene = open_->scene;
    const Slot slot = scene.find(id), parent = scene.find(place.parent);
    if (slot == kNoSlot) return noObject(id);
    if (place.parent && parent == kNoSlot) return noObject(place.parent);
    if (parent != kNoSlot && scene.isWithin(parent, slot))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be put below itself.", scene.nameText(slot)));
    const Route from = routeOf(slot), to = routeBelow(parent);
    if (from == to && from.to == Route::To::Own) return writeMoves({&id, 1}, {&place, 1});
    if (from == to && from.to == Route::To::Definition)
        return inDefinition(from.instance, [&] {
            const ObjectId inner = base::innerOf(from.instance, id);
            const model::TreePlace there = asInside(place, from.instance);
            return moveInTree({&inner, 1}, {&there, 1});
        });
    InstanceLinks links(scene, session_.definitions());
    if (from == to) {
        if (Status moved = links.moveInside(from.instance, id, place); !moved) return moved;
        return writeDetails(links.ids(), links.details());
    }
    if (from.to == Route::To::Own && to.to == Route::To::Inside) {
        for (Slot s : scene.ownSubtree(slot)) {
            model::ObjectRecord r = scene.record(s);
            r.before = {};
            if (s == slot) {
                r.parent = place.parent;
                r.before = place.before;
            }
            links.add(to.instance, r);
        }
        if (Status gone = writeRemoval({id}); !gone) return gone;
        return writeDetails(links.ids(), links.details());
    }
    const Slot instance = from.to == Route::To::Own ? scene.find(to.instance) : scene.find(from.instance);
    if (from.to == Route::To::Inside && to.to == Route::To::Own && links.isAdded(from.instance, id)) {
        auto objects = links.addedRecords(from.instance, id);
        objects.front().parent = place.parent;
        objects.front().before = place.before;
        links.remove(from.instance, {&id, 1});
        if (Status gone = writeDetails(links.ids(), links.details()); !gone) return gone;
        return write(model::Existence{true, std::move(objects)});
    }
    return fail(ErrorCode::Refused,
                fmt::format("“{}” belongs to the prefab of “{}”, and cannot leave it: copy it, or take that apart.",
                            scene.nameText(slot), scene.nameText(instance)));
}

Status Draft::writeMoves(std::span<const ObjectId> ids, std::span<const model::TreePlace> places) {
    if (Status on = goOn(ids.size()); !on) return on;
    const model::Scene& scene = open_->scene;
    model::MoveInTree done;
    SceneDelta delta;
    delta.scene = scene.name();
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = scene.find(ids[i]);
        model::MoveInTree row{{ids[i]}, {{}}, {places[i]}};
        if (slot != kNoSlot) {
            const model::ObjectRecord now = scene.record(slot);
            row.before[0] = {now.parent, now.before};
        }
        if (Status moved = open_->writer.apply(row, Direction::Forward, delta); !moved) {
            (void)open_->writer.apply(done, Direction::Backward, delta);
            return moved;
        }
        done.ids.push_back(ids[i]);
        done.before.push_back(row.before[0]);
        done.after.push_back(places[i]);
    }
    note(std::move(done), std::move(delta));
    return {};
}

Status Draft::setEntries(const std::string& document, std::span<const std::string> keys,
                         std::span<const std::optional<model::ValueMap>> values) {
    if (!state_) return state_;
    const std::string here = open_->scene.name();
    if (Status turned = turnTo(document); !turned) return turned;
    model::SetEntries change{{keys.begin(), keys.end()}, {}, {values.begin(), values.end()}};
    const model::DataEntries& held = open_->scene.settings().entries();
    for (const std::string& key : keys) {
        auto place = held.find(key);
        change.before.push_back(place == held.end() ? std::nullopt : std::optional(place->second));
    }
    Status done = write(std::move(change));
    if (Status back = turnTo(here); !back) return back;
    return done;
}

Status Draft::setSettings(const model::SceneSettings& settings) {
    if (!state_) return state_;
    return write(
        model::SetSettings{open_->scene.sharedSettings(), std::make_shared<const model::SceneSettings>(settings)});
}

/// A definition cannot hold an instance of itself, be it further down.
Status Draft::refuseCircle(const model::DetailPtr& detail) const {
    const ObjectId here = open_ != nullptr ? model::prefabOf(open_->scene.name()) : ObjectId{};
    if (!here || !detail || !detail->prefab) return {};
    auto refuse = [&](ObjectId of) -> Status {
        const auto way = model::chain(session_.definitions(), of, here);
        if (way.empty()) return {};
        std::string names = session_.prefabName(here);
        for (ObjectId prefab : way) names += " › " + session_.prefabName(prefab);
        return fail(ErrorCode::Refused, fmt::format("A prefab cannot hold itself: {}.", names));
    };
    if (Status fine = refuse(detail->prefab->of); !fine) return fine;
    for (const model::ObjectRecord& r : detail->prefab->added)
        if (Status fine = refuseCircle(r.detail); !fine) return fine;
    return {};
}

void Draft::dropWhatChangedNothing() {
    for (model::ChangeSet& set : sets_) std::erase_if(set.changes, changedNothing);
    std::erase_if(sets_, [](const model::ChangeSet& set) { return set.changes.empty(); });
}

base::Result<StepId> Draft::commit() {
    if (!state_) return tl::unexpected(state_.error());
    if (!active_) return fail(ErrorCode::Refused, "This change is finished already.");
    dropWhatChangedNothing();
    if (session_.beforeCommit_ && !heardAll_ && !sets_.empty()) {
        heardAll_ = true;
        if (Status said = session_.beforeCommit_(*this); !said) {
            rollback();
            return tl::unexpected(said.error());
        }
        dropWhatChangedNothing();
    }
    if (sets_.empty()) {
        rollback();
        return session_.history().present();
    }
    StepInfo info;
    info.name = name_;
    for (const model::ChangeSet& set : sets_) {
        info.touch(set.scene, set.scene == main_);
        for (const auto& change : set.changes) info.rows += model::rowCount(change);
    }
    auto data = std::make_shared<StepData>();
    data->changes = std::move(sets_);
    data->selectionBefore = selectionBefore_;
    data->selectionAfter = session_.selection();
    const std::vector<std::string> scenes = info.scenes;
    auto step = session_.commit(std::move(info), data);
    if (!step) {
        sets_ = std::move(data->changes);
        rollback();
        return step;
    }
    active_ = false;
    session_.draftOpen_ = false;
    sets_.clear();
    session_.refreshPrefabItems(scenes);
    session_.historyChanged.tell();
    return step;
}

Draft::Mark Draft::mark() {
    sealed_ = true;
    return {sets_.size(), sets_.empty() ? 0 : sets_.back().changes.size()};
}

void Draft::rollbackTo(const Mark& mark) {
    if (active_) takeBack(mark);
}

void Draft::takeBack(const Mark& mark) {
    std::map<std::string, SceneDelta> deltas;
    while (sets_.size() > mark.sets || (!sets_.empty() && sets_.back().changes.size() > mark.changes)) {
        model::ChangeSet& set = sets_.back();
        const std::size_t keep = sets_.size() > mark.sets ? 0 : mark.changes;
        auto open = session_.openScene(set.scene);
        SceneDelta& delta = deltas[set.scene];
        delta.scene = set.scene;
        if (open) (*open)->writer.defer();
        for (std::size_t i = set.changes.size(); i-- > keep;)
            if (open) (void)(*open)->writer.apply(set.changes[i], Direction::Backward, delta);
        set.changes.resize(keep);
        if (keep > 0) break;
        sets_.pop_back();
    }
    if (!deltas.empty()) session_.tell(std::move(deltas));
}

void Draft::rollback() {
    if (!active_) return;
    active_ = false;
    session_.draftOpen_ = false;
    state_ = fail(ErrorCode::Refused, "This change is finished already.");
    if (sets_.empty()) return;
    takeBack({});
    session_.select(selectionBefore_);
}

}  // namespace edit
