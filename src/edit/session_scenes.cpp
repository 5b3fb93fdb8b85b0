// Which scenes are there at present, and which of them their files do not hold.
#include <algorithm>
#include <set>

#include "edit/names.h"
#include "edit/session.h"

namespace edit {

using base::Result;

namespace {

bool isOwnScene(const std::string& document) {
    return !model::prefabOf(document) && !model::data::isData(document);
}
bool contains(const std::vector<std::string>& names, const std::string& name) {
    return std::find(names.begin(), names.end(), name) != names.end();
}

}  // namespace

/// As its file has it; a scene that a step makes begins as nothing.
Result<LoadedScene> Session::load(const std::string& document) {
    auto loaded = around_.loadScene(project_, document);
    if (loaded || loaded.error().code != ErrorCode::NotFound || !isOwnScene(document)) return loaded;
    const model::SceneEntry* entry = project_.scene(document);
    const bool known = (entry != nullptr && entry->made) || history_.lastTouch(history_.present(), document) != kRoot ||
                       std::any_of(history_.steps().begin(), history_.steps().end(),
                                   [&](const StepInfo& info) { return info.touches(document); });
    if (!known || lastSave(document) != nullptr) return loaded;
    return LoadedScene{model::Scene(document, project_.names), 0, 0, {}};
}

void Session::takeSceneFiles(std::vector<std::string> names) {
    project_.sceneFiles = std::move(names);
    listScenes();
}

/// Did a step make it that is undone, or lies on another branch, though its file is still there?
bool Session::isMadeElsewhere(const std::string& scene) {
    const SaveMark* mark = lastSave(scene);
    if (mark == nullptr || (mark->step != kRoot && history_.step(mark->step) == nullptr)) return false;
    auto makes = [&](const StepData& step) {
        for (const model::ChangeSet& set : step.changes)
            for (const model::Change& change : set.changes) {
                const auto* entries = std::get_if<model::SetEntries>(&change);
                for (std::size_t i = 0;
                     set.scene == model::data::kItems && entries != nullptr && i < entries->keys.size(); ++i) {
                    if (!entries->keys[i].empty()) continue;
                    std::vector<std::string> unheard;
                    auto isMade = [&](const std::optional<model::ValueMap>& head) {
                        const model::ProjectFacts facts = model::factsFrom(head.value_or(model::ValueMap{}), unheard);
                        return facts.scene(scene) != nullptr && facts.scene(scene)->made;
                    };
                    if (isMade(entries->after[i]) && !isMade(entries->before[i])) return true;
                }
            }
        return false;
    };
    for (const StepId id : history_.path(mark->step, history_.present()).back) {
        const StepInfo& info = *history_.step(id);
        if (info.damaged || !info.touches(std::string(model::data::kItems))) continue;
        if (const auto step = data(id); step && makes(**step)) return true;
    }
    return false;
}

/// Those of the project's list in its order, then those that only have a file.
void Session::listScenes() {
    std::vector<std::string> names;
    for (const model::SceneEntry& entry : project_.scenes)
        if (!entry.gone && (entry.made || (contains(project_.sceneFiles, entry.name) && !isMadeElsewhere(entry.name))))
            names.push_back(entry.name);
    for (const std::string& name : project_.sceneFiles)
        if (project_.scene(name) == nullptr && !isMadeElsewhere(name)) names.push_back(name);
    project_.sceneNames = std::move(names);
}

/// Of a scene that was not read yet: by what is known of its last save.
bool Session::isUnsavedUnread(const std::string& scene) const {
    if (!isOwnScene(scene)) return false;
    const SaveMark* mark = lastSave(scene);
    if (mark == nullptr) return project_.scene(scene) != nullptr && project_.scene(scene)->made;
    if (mark->step != kRoot && history_.step(mark->step) == nullptr) return false;
    return history_.lastTouch(history_.present(), scene) != history_.lastTouch(mark->step, scene);
}

bool Session::isUnsaved(const std::string& scene) const {
    // A scene that is deleted: its file waits as it is. One that is taken back: the file goes, if it had one.
    if (isOwnScene(scene) && !contains(project_.sceneNames, scene)) {
        const model::SceneEntry* entry = project_.scene(scene);
        return (entry == nullptr || !entry->gone) && lastSave(scene) != nullptr;
    }
    auto place = scenes_.find(scene);
    if (place == scenes_.end()) return isUnsavedUnread(scene);
    // What came and went without ever being in a file has nothing to save.
    const bool isGone = model::data::isData(scene) && place->second->scene.settings().entries().empty();
    if (isGone && lastSave(scene) == nullptr) return false;
    const StepId saved = place->second->saved;
    if (saved < 0) return true;
    return history_.lastTouch(history_.present(), scene) != history_.lastTouch(saved, scene);
}

std::vector<std::string> Session::unsavedScenes() const {
    std::vector<std::string> names;
    for (const auto& [name, open] : scenes_)
        if (isUnsaved(name)) names.push_back(name);
    std::set<std::string> unread(project_.sceneFiles.begin(), project_.sceneFiles.end());
    unread.insert(project_.sceneNames.begin(), project_.sceneNames.end());
    for (const std::string& name : unread)
        if (!scenes_.contains(name) && isUnsaved(name)) names.push_back(name);
    return names;
}

}  // namespace edit
