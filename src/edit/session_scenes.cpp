// Which scenes are there at present, and which of them their files do not hold.
#include <algorithm>
#include <set>

#include "edit/names.h"
#include "edit/scene_list.h"
#include "edit/session.h"

namespace edit {

namespace {

bool contains(const std::vector<std::string>& names, const std::string& name) {
    return std::find(names.begin(), names.end(), name) != names.end();
}

/// Does what a step says of the project bring a scene that was not there?
bool makes(const StepData& step, const std::string& scene) {
    std::vector<std::string> unheard;
    auto isMade = [&](const std::optional<model::ValueMap>& head) {
        const model::ProjectFacts facts = model::factsFrom(head.value_or(model::ValueMap{}), unheard);
        return facts.scene(scene) != nullptr && facts.scene(scene)->made;
    };
    for (const model::ChangeSet& set : step.changes) {
        if (set.scene != model::data::kItems) continue;
        for (const model::Change& change : set.changes) {
            const auto* entries = std::get_if<model::SetEntries>(&change);
            for (std::size_t i = 0; entries != nullptr && i < entries->keys.size(); ++i)
                if (entries->keys[i].empty() && isMade(entries->after[i]) && !isMade(entries->before[i])) return true;
        }
    }
    return false;
}

/// Is it made by one of these steps?
template <class Load>
bool isMadeBy(const std::vector<StepId>& steps, const History& history, const Load& load, const std::string& scene) {
    return std::any_of(steps.begin(), steps.end(), [&](StepId id) {
        const StepInfo& info = *history.step(id);
        if (info.damaged || !info.touches(std::string(model::data::kItems))) return false;
        const auto step = load(id);
        return step && makes(**step, scene);
    });
}

}  // namespace

/// As its file has it; a scene that a step makes begins as nothing.
Result<LoadedScene> Session::load(const std::string& document) {
    auto loaded = around_.loadScene(project_, document);
    if (loaded || loaded.error().code != ErrorCode::NotFound || !isSceneDocument(document)) return loaded;
    if (lastSave(document) != nullptr) return loaded;
    const bool known = contains(project_.sceneNames, document) ||
                       std::any_of(history_.steps().begin(), history_.steps().end(),
                                   [&](const StepInfo& info) { return info.touches(document); });
    return known ? LoadedScene{model::Scene(document, project_.names), 0, 0, {}} : std::move(loaded);
}

/// One that is open, and whose file others took away, is still there: its next save brings the file back.
void Session::takeSceneFiles(std::vector<std::string> names) {
    for (const auto& [name, open] : scenes_)
        if (isSceneDocument(name) && lastSave(name) != nullptr && !contains(names, name)) names.push_back(name);
    std::sort(names.begin(), names.end());
    project_.sceneFiles = std::move(names);
    listScenes();
}

/// Did a step make it that is undone, or lies on another branch, though its file is still there?
bool Session::isMadeElsewhere(const std::string& scene) {
    const SaveMark* mark = lastSave(scene);
    if (mark == nullptr || (mark->step != kRoot && history_.step(mark->step) == nullptr)) return false;
    return isMadeBy(
        history_.path(mark->step, history_.present()).back, history_, [this](StepId id) { return data(id); }, scene);
}

/// Those of the project's list in its order, then those that only have a file. One without a file is there while the
/// step that makes it is, or the draft that will be one; what others only wrote about is not.
void Session::listScenes() {
    auto isMadeHere = [this](const std::string& scene) {
        return draftOpen_ || isMadeBy(
                                 history_.path(kRoot, history_.present()).forward, history_,
                                 [this](StepId id) { return data(id); }, scene);
    };
    std::vector<std::string> names;
    for (const model::SceneEntry& entry : project_.scenes) {
        if (entry.gone) continue;
        const bool hasFile = contains(project_.sceneFiles, entry.name);
        if (entry.made ? hasFile || isMadeHere(entry.name) : hasFile && !isMadeElsewhere(entry.name))
            names.push_back(entry.name);
    }
    for (const std::string& name : project_.sceneFiles)
        if (project_.scene(name) == nullptr && !isMadeElsewhere(name)) names.push_back(name);
    // Whoever wrote that all are gone meant something else.
    project_.sceneNames = names.empty() ? project_.sceneFiles : std::move(names);
}

/// Of a scene that was not read yet: by what is known of its last save.
bool Session::isUnsavedUnread(const std::string& scene) const {
    if (!isSceneDocument(scene)) return false;
    const SaveMark* mark = lastSave(scene);
    if (mark == nullptr) return project_.scene(scene) != nullptr && project_.scene(scene)->made;
    if (mark->step != kRoot && history_.step(mark->step) == nullptr) return false;
    return history_.lastTouch(history_.present(), scene) != history_.lastTouch(mark->step, scene);
}

bool Session::isUnsaved(const std::string& scene) const {
    // A scene that is deleted: its file waits as it is. One that is taken back: the file goes, if it had one.
    if (isSceneDocument(scene) && !contains(project_.sceneNames, scene)) {
        const model::SceneEntry* entry = project_.scene(scene);
        return (entry == nullptr || !entry->gone) && lastSave(scene) != nullptr;
    }
    // One that a step made has no file yet, whatever it holds.
    const model::SceneEntry* said = isSceneDocument(scene) ? project_.scene(scene) : nullptr;
    if (said != nullptr && said->made && lastSave(scene) == nullptr && !contains(project_.sceneFiles, scene))
        return true;
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
