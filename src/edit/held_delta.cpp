#include "edit/held_delta.h"
#include "edit/names.h"

namespace edit {

void HeldDelta::add(const SceneDelta& delta) {
    rest_.scene = delta.scene;
    rest_.treeChanged = rest_.treeChanged || delta.treeChanged;
    rest_.settingsChanged = rest_.settingsChanged || delta.settingsChanged;
    rest_.everything = rest_.everything || delta.everything;
    for (Slot s : delta.removed) rows_[s].replaced = true;
    removedIds_.insert(removedIds_.end(), delta.removedIds.begin(), delta.removedIds.end());
    for (Slot s : delta.created) {
        const auto [row, first] = rows_.try_emplace(s);
        if (first) row->second.isNew = true;
    }
    for (Slot s : delta.moved) rows_[s].moved = true;
    for (Slot s : delta.relabelled) rows_[s].relabelled = true;
    for (Slot s : delta.detailed) rows_[s].detailed = true;
}

SceneDelta HeldDelta::take(const model::Scene& scene) {
    SceneDelta delta = std::move(rest_);
    for (const auto& [slot, row] : rows_) {
        const bool alive = slot < scene.slotEnd() && scene.alive(slot);
        const bool gone = !row.isNew && (row.replaced || !alive);
        if (gone) delta.removed.push_back(slot);
        if (alive && (row.isNew || row.replaced)) delta.created.push_back(slot);
        if (!alive || row.isNew || row.replaced) continue;
        if (row.moved) delta.moved.push_back(slot);
        if (row.relabelled) delta.relabelled.push_back(slot);
        if (row.detailed) delta.detailed.push_back(slot);
    }
    delta.removedIds = std::move(removedIds_);
    *this = {};
    return delta;
}

}  // namespace edit
