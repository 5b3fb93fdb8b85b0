// The definitions of an open project: which exist, and what follows in scenes when one changes.
#include <fmt/format.h>

#include <algorithm>

#include "edit/names.h"
#include "edit/session.h"
#include "model/facets/solid.h"

namespace edit {

std::string Session::prefabName(ObjectId prefab) const {
    auto place = definitions_.find(prefab);
    return place == definitions_.end() ? "a missing prefab" : place->second->settings().prefab->name;
}

ObjectId Session::prefabNamed(std::string_view name) const {
    for (const auto& [id, scene] : definitions_)
        if (scene->settings().prefab->name == name) return id;
    return {};
}

ObjectId Session::newDefinition() {
    const ObjectId id = random_.nextId();
    const std::string key = model::definitionKey(id);
    scenes_[key] = std::make_unique<Open>(model::Scene(key, project_.names), sources_);
    return id;
}

std::vector<ObjectId> Session::instancesOf(ObjectId prefab, const std::string& scene) const {
    auto open = scenes_.find(scene);
    if (open == scenes_.end()) return {};
    const auto& all = open->second->writer.instances_;
    auto place = all.find(prefab);
    if (place == all.end()) return {};
    std::vector<ObjectId> ids(place->second.begin(), place->second.end());
    std::sort(ids.begin(), ids.end());
    return ids;
}

base::Status Session::openDefinitions() {
    std::set<std::string> keys;
    for (ObjectId id : project_.prefabs) keys.insert(model::definitionKey(id));
    for (const StepInfo& step : history_.steps())
        for (const std::string& name : step.scenes)
            if (model::prefabOf(name)) keys.insert(name);
    for (const std::string& key : keys) {
        if (auto open = openScene(key); !open) return tl::unexpected(open.error());
        syncDefinition(key);
    }
    // The innermost first: what an instance holds is copied from a definition that is whole already.
    std::vector<std::pair<int, std::string>> order;
    for (const auto& [id, scene] : definitions_) {
        Open& open = *scenes_.at(scene->name());
        for (Slot s : scene->ownSubtree(kNoSlot))
            if (scene->isInstance(s)) open.writer.note(s);
    }
    Levels levels;
    for (const auto& [id, scene] : definitions_) order.emplace_back(level(id, levels), scene->name());
    for (ObjectId prefab : levels.circles)
        remarks_.push_back(
            fmt::format("prefab {}: holds itself, be it further down; there it stays empty.", prefabName(prefab)));
    std::sort(order.begin(), order.end());
    for (const auto& [depth, key] : order) {
        SceneDelta unheard;
        scenes_.at(key)->writer.fill(unheard);
        sayUnfilled(key);
    }
    std::vector<std::string> all(keys.begin(), keys.end());
    refreshPrefabItems(all);
    return {};
}

/// One that came while the project is open: what stands for it until now is filled.
void Session::takeDefinition(const std::string& key) {
    SceneDelta own;
    own.scene = key;
    syncDefinition(key);
    scenes_.at(key)->writer.fill(own);
    own.everything = true;
    std::map<std::string, SceneDelta> deltas;
    deltas[key] = std::move(own);
    tell(std::move(deltas));
    refreshPrefabItems({key});
}

int Session::level(ObjectId prefab, Levels& levels) const {
    auto place = scenes_.find(model::definitionKey(prefab));
    if (place == scenes_.end()) return 0;
    if (const auto known = levels.known.find(prefab); known != levels.known.end()) return known->second;
    if (!levels.onTheWay.insert(prefab).second) {
        levels.circles.insert(prefab);
        return 0;
    }
    int deepest = 0;
    for (const auto& [inner, instances] : place->second->writer.instances_)
        deepest = std::max(deepest, 1 + level(inner, levels));
    levels.onTheWay.erase(prefab);
    return levels.known[prefab] = deepest;
}

void Session::syncDefinition(const std::string& key) {
    const model::Scene& scene = scenes_.at(key)->scene;
    if (scene.settings().prefab)
        definitions_[model::prefabOf(key)] = &scene;
    else
        definitions_.erase(model::prefabOf(key));
}

void Session::tell(SceneDelta delta) {
    const bool data = model::data::isData(delta.scene);
    if (!data && !model::prefabOf(delta.scene)) return sceneChanged.tell(delta);  // a draft's own write: nothing waits
    std::map<std::string, SceneDelta> deltas;
    deltas[delta.scene] = std::move(delta);
    tell(std::move(deltas));
}

void Session::tell(std::map<std::string, SceneDelta> deltas) {
    bool grown = false;
    for (const auto& [name, delta] : deltas)
        if (model::data::isData(name)) {
            takeData(name);
            grown = true;
        }
    spread(deltas);
    for (const auto& [name, delta] : deltas) sceneChanged.tell(delta);
    if (grown) libraryChanged.tell();
}

namespace {

/// The objects that differ, when only fields of them do; nothing when the tree may be another.
std::optional<std::vector<ObjectId>> fieldsOnly(const SceneDelta& delta, const model::Scene& scene) {
    if (delta.everything || delta.treeChanged || delta.settingsChanged) return std::nullopt;
    if (!delta.created.empty() || !delta.removed.empty()) return std::nullopt;
    std::set<Slot> slots;
    for (const auto* some : {&delta.moved, &delta.relabelled, &delta.detailed})
        slots.insert(some->begin(), some->end());
    std::vector<ObjectId> ids;
    for (Slot s : slots)
        if (scene.alive(s)) ids.push_back(scene.id(s));
    return ids;
}

}  // namespace

void Session::spread(std::map<std::string, SceneDelta>& deltas) {
    std::set<std::pair<int, std::string>> waiting;
    auto wait = [&](const std::string& key) {
        Levels levels;
        waiting.emplace(level(model::prefabOf(key), levels), key);
    };
    for (const auto& [name, delta] : deltas)
        if (model::prefabOf(name)) wait(name);
    std::set<std::string> done;
    while (!waiting.empty()) {
        const std::string key = waiting.begin()->second;
        waiting.erase(waiting.begin());
        if (!done.insert(key).second) continue;
        syncDefinition(key);
        scenes_.at(key)->writer.settle(deltas[key]);
        const ObjectId prefab = model::prefabOf(key);
        const auto touched = fieldsOnly(deltas[key], scenes_.at(key)->scene);
        for (const auto& [name, open] : scenes_) {
            if (!open->writer.instances_.contains(prefab)) continue;
            SceneDelta& delta = deltas[name];
            delta.scene = name;
            open->writer.refreshInstancesOf(prefab, touched ? &*touched : nullptr, delta);
            if (model::prefabOf(name) && !delta.empty()) wait(name);
        }
    }
    for (auto& [name, delta] : deltas) scenes_.at(name)->writer.settle(delta);
}

void Session::refreshPrefabItems(const std::vector<std::string>& documents) {
    std::set<std::string> keys;
    for (const std::string& name : documents)
        if (model::prefabOf(name)) keys.insert(name);
    if (keys.empty()) return;
    // Those around have grown or shrunk with them.
    for (bool more = true; more;) {
        more = false;
        for (const auto& [name, open] : scenes_)
            if (model::prefabOf(name) && !keys.contains(name))
                for (const auto& [inner, instances] : open->writer.instances_)
                    if (keys.contains(model::definitionKey(inner))) more = keys.insert(name).second || more;
    }
    for (const std::string& key : keys) {
        const base::Name name = intern(key);
        auto place = definitions_.find(model::prefabOf(key));
        if (place == definitions_.end()) {
            project_.library.removeItem(name);
            continue;
        }
        const model::Scene& scene = *place->second;
        model::Item item;
        item.name = key;
        item.label = scene.settings().prefab->name;
        item.folder = scene.settings().prefab->folder.empty() ? "Prefabs" : scene.settings().prefab->folder;
        item.prefab = place->first;
        item.bounds = scene.subtreeBounds(kNoSlot);
        std::unordered_set<base::Name> items;
        for (Slot s : scene.subtree(kNoSlot))
            if (const model::Item* part = library().item(scene.item(s))) {
                item.triangles += part->triangles;
                if (items.insert(scene.item(s)).second) item.materials += part->materials;
            }
        project_.library.add(name, std::move(item));
    }
    libraryChanged.tell();
}

base::Name Session::solidItem(const model::Solid& s) {
    if (!around_.makeSolid) return {};
    const base::Name key = intern(model::solidKey(s));
    if (project_.library.item(key) == nullptr) project_.library.add(key, around_.makeSolid(s, key));
    return key;
}

}  // namespace edit
