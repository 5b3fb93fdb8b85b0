// What lies inside instances: brought in line with links and definitions, touching only what differs.
#include <fmt/format.h>

#include <algorithm>

#include "edit/names.h"
#include "edit/scene_writer.h"
#include "model/facets/solid.h"
#include "model/property.h"

namespace edit {

void SceneWriter::note(Slot instance) {
    std::unordered_set<ObjectId> prefabs;
    model::prefabsOf(*scene_.detail(instance)->prefab, prefabs);
    for (ObjectId prefab : prefabs) instances_[prefab].insert(scene_.id(instance));
}

void SceneWriter::forget(Slot instance) {
    std::unordered_set<ObjectId> prefabs;
    model::prefabsOf(*scene_.detail(instance)->prefab, prefabs);
    for (ObjectId prefab : prefabs) {
        auto place = instances_.find(prefab);
        if (place == instances_.end()) continue;
        place->second.erase(scene_.id(instance));
        if (place->second.empty()) instances_.erase(place);
    }
}

void SceneWriter::fill(SceneDelta& delta) {
    const Slot end = scene_.slotEnd();
    std::vector<Slot> found;
    for (Slot s = 0; s < end; ++s) {
        if (!scene_.alive(s) || !scene_.detail(s)) continue;
        if (scene_.detail(s)->prefab && scene_.instanceAround(s) == kNoSlot) found.push_back(s);
        if (scene_.facet<model::Solid>(s) && sources_.solid) {
            scene_.label_.edit(s).item = sources_.solid(*scene_.facet<model::Solid>(s));
            refreshOwn(s);
        }
    }
    for (Slot s : found) {
        note(s);
        waiting_.insert(scene_.id(s));
    }
    settle(delta);
}

// An object can lie inside one instance only once it has left another: so more than one round may be needed.
void SceneWriter::settle(SceneDelta& delta) {
    deferred_ = false;
    for (std::size_t before = waiting_.size() + 1; !waiting_.empty() && waiting_.size() < before;) {
        before = waiting_.size();
        for (ObjectId id : std::exchange(waiting_, {}))
            // One that waited by itself may lie inside another by now, which says what is in it.
            if (const Slot s = scene_.find(id);
                s != kNoSlot && scene_.isInstance(s) && scene_.instanceAround(s) == kNoSlot)
                (void)refreshInstance(s, delta);
    }
}

void SceneWriter::emptyInstance(Slot instance, SceneDelta& delta) {
    const auto all = scene_.subtree(instance);
    if (all.size() > 1) delta.treeChanged = true;
    for (std::size_t i = all.size(); i-- > 1;) (void)removeRow(scene_.id(all[i]), delta);
}

base::Status SceneWriter::refreshInstance(Slot instance, SceneDelta& delta) {
    if (sources_.definitions == nullptr) return {};
    if (deferred_) {
        waiting_.insert(scene_.id(instance));
        return {};
    }
    const model::PrefabLink& link = *scene_.detail(instance)->prefab;
    if (base::Status room = roomFor(instance, model::expandedCount(link, *sources_.definitions)); !room) {
        waiting_.insert(scene_.id(instance));
        return room;
    }
    return bringInto(instance, model::contents(link, *sources_.definitions), delta);
}

base::Status SceneWriter::roomFor(Slot instance, std::size_t count) const {
    const std::size_t held = scene_.subtree(instance).size() - 1;
    const std::size_t all = (sources_.objects ? sources_.objects() : scene_.objectCount()) - held + count;
    const std::size_t here = scene_.objectCount() - held + count;
    if (count > held && model::prefabOf(scene_.name()) && here > model::kMostInPrefab)
        return base::fail(base::ErrorCode::Refused,
                          fmt::format("“{}” would hold {} objects, and its prefab {}: at most {} can be in one.",
                                      scene_.nameText(instance), count, here, model::kMostInPrefab));
    if (count <= held || all <= model::kMostObjects) return {};
    return base::fail(base::ErrorCode::Refused,
                      fmt::format("“{}” would hold {} objects, which makes {} in all: at most {} can be shown.",
                                  scene_.nameText(instance), count, all, model::kMostObjects));
}

/// Fields that differ are written; says whether the own pose was among them.
bool SceneWriter::writeFields(Slot slot, const model::ObjectRecord& r, const model::DetailPtr& detail,
                              SceneDelta& delta) {
    const auto& label = scene_.label_[slot];
    const bool hasSolid = detail && detail->get<model::Solid>();
    const base::Name item = hasSolid && sources_.solid ? sources_.solid(*detail->get<model::Solid>()) : r.item;
    if (label.name != r.name || label.kind != r.kind || label.item != item || label.flags != r.flags) {
        const bool other = label.item != item;
        scene_.label_.edit(slot) = {r.name, r.kind, item, r.flags};
        delta.relabelled.push_back(slot);
        if (other) {
            refreshOwn(slot);
            delta.moved.push_back(slot);
        }
    }
    if (!model::sameDetail(scene_.detail(slot), detail)) {
        scene_.detail_.edit(slot) = detail;
        delta.detailed.push_back(slot);
    }
    if (scene_.local(slot) == r.local) return false;
    scene_.local_.edit(slot) = r.local;
    return true;
}

bool SceneWriter::standsInOrder(Slot instance, const std::vector<ObjectId>& ids) const {
    const auto rows = scene_.subtree(instance);
    if (rows.size() != ids.size() + 1) return false;
    for (std::size_t i = 0; i < ids.size(); ++i)
        if (scene_.id(rows[i + 1]) != ids[i]) return false;
    return true;
}

namespace {

bool linksAny(const std::vector<model::ObjectRecord>& records) {
    return std::any_of(records.begin(), records.end(),
                       [](const model::ObjectRecord& r) { return r.detail && model::hasObjectLink(*r.detail); });
}

}  // namespace

base::Status SceneWriter::bringInto(Slot instance, const std::vector<model::ObjectRecord>& inside, SceneDelta& delta) {
    if (!linksAny(inside)) return bringRowsInto(instance, inside, delta);
    std::unordered_set<ObjectId> ids;
    for (const model::ObjectRecord& r : inside) ids.insert(r.id);
    std::vector<model::ObjectRecord> rows = inside;
    for (model::ObjectRecord& r : rows)
        model::takeLinksOut(r.detail, scene_.id(instance), [&](ObjectId id) { return ids.contains(id); });
    return bringRowsInto(instance, rows, delta);
}

base::Status SceneWriter::bringRowsInto(Slot instance, const std::vector<model::ObjectRecord>& wanted,
                                        SceneDelta& delta) {
    base::Status complete;
    const ObjectId id = scene_.id(instance);
    const auto held = scene_.subtree(instance);
    std::vector<Slot> slots(wanted.size());
    bool sameTree = held.size() == wanted.size() + 1;
    std::vector<ObjectId> own(wanted.size()), parents(wanted.size());
    for (std::size_t i = 0; i < wanted.size(); ++i) {
        own[i] = base::joined(id, wanted[i].id);
        parents[i] = wanted[i].parent ? base::joined(id, wanted[i].parent) : id;
        if (!sameTree) continue;
        slots[i] = held[i + 1];
        sameTree = scene_.id(slots[i]) == own[i] && scene_.id(scene_.parent(slots[i])) == parents[i];
    }
    std::vector<Slot> repositioned;
    if (!sameTree) {
        delta.treeChanged = true;
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            const Slot there = scene_.find(own[i]);
            if (there == kNoSlot) {
                model::ObjectRecord r = wanted[i];
                r.id = own[i];
                r.parent = parents[i];
                r.before = {};
                (void)createRow(r, delta);
            } else if (!scene_.isWithin(there, instance)) {
                complete = base::fail(base::ErrorCode::BadInput,
                                      fmt::format("“{}” stands outside of “{}”, where it came from, and cannot be in "
                                                  "both: remove it there first.",
                                                  scene_.nameText(there), scene_.nameText(instance)));
            } else if (scene_.id(scene_.parent(there)) != parents[i]) {
                (void)place(own[i], {parents[i], {}});
                repositioned.push_back(there);
            }
        }
        const std::unordered_set<ObjectId> keep(own.begin(), own.end());
        for (std::size_t i = held.size(); i-- > 1;)
            if (!keep.contains(scene_.id(held[i]))) (void)removeRow(scene_.id(held[i]), delta);
        if (!standsInOrder(instance, own))  // each to the end of its siblings, in the order wanted
            for (std::size_t i = 0; i < wanted.size(); ++i)
                if (const Slot s = scene_.find(own[i]); s != kNoSlot && scene_.isWithin(s, instance))
                    (void)place(own[i], {parents[i], {}});
        for (std::size_t i = 0; i < wanted.size(); ++i) slots[i] = scene_.find(own[i]);
    }
    for (std::size_t i = 0; i < wanted.size(); ++i)
        if (slots[i] != kNoSlot && scene_.isWithin(slots[i], instance) &&
            writeFields(slots[i], wanted[i], wanted[i].detail, delta))
            repositioned.push_back(slots[i]);
    refreshMoved(repositioned, delta);
    if (!complete) waiting_.insert(id);
    return complete;
}

void SceneWriter::refreshInstancesOf(ObjectId prefab, const std::vector<ObjectId>* touched, SceneDelta& delta) {
    auto place = instances_.find(prefab);
    if (place == instances_.end() || sources_.definitions == nullptr) return;
    auto definition = sources_.definitions->find(prefab);
    const model::Scene* source = definition == sources_.definitions->end() ? nullptr : definition->second;
    const auto plainContents = source != nullptr ? model::contents(*source) : std::vector<model::ObjectRecord>{};
    std::vector<model::ObjectRecord> records;
    if (touched != nullptr && source != nullptr)
        for (ObjectId id : *touched)
            if (const Slot s = source->find(id); s != kNoSlot) records.push_back(source->record(s));
    const bool linked = linksAny(records);
    std::vector<Slot> repositioned;
    for (ObjectId id : place->second) {
        const Slot instance = scene_.find(id);
        const model::PrefabLink& link = *scene_.detail(instance)->prefab;
        if (!link.plain()) {
            (void)refreshInstance(instance, delta);
        } else if (touched == nullptr) {
            if (roomFor(instance, plainContents.size()))
                (void)bringInto(instance, plainContents, delta);
            else
                waiting_.insert(id);
        } else {
            for (const model::ObjectRecord& r : records) {
                const Slot s = scene_.find(base::joined(id, r.id));
                if (s == kNoSlot) continue;
                model::DetailPtr detail = r.detail;
                if (linked) model::takeLinksOut(detail, id, [&](ObjectId to) { return source->find(to) != kNoSlot; });
                if (writeFields(s, r, detail, delta)) repositioned.push_back(s);
            }
        }
    }
    refreshMoved(repositioned, delta);
}

}  // namespace edit
