#pragma once
// What changed in a scene, told once to everyone who looks: view, lists, index, panels.
#include <string>
#include <vector>

#include "model/scene.h"

namespace edit {

/// Slots and ids may repeat. A slot in `created` or `moved` may have died again by the time one hears of it:
/// look at Scene::alive.
struct SceneDelta {
    std::string scene;
    std::vector<model::Slot> created;
    std::vector<model::Slot> removed;  ///< dead now, or reused by one in `created`
    std::vector<base::ObjectId> removedIds;
    std::vector<model::Slot> moved;       ///< world or bounds changed, descendants included
    std::vector<model::Slot> relabelled;  ///< name, kind, item or flags
    std::vector<model::Slot> detailed;    ///< facets or properties
    bool treeChanged = false;
    bool settingsChanged = false;
    bool everything = false;  ///< a scene just loaded: look at all of it

    bool empty() const {
        return !everything && !treeChanged && !settingsChanged && created.empty() && removed.empty() && moved.empty() &&
               relabelled.empty() && detailed.empty();
    }
};

}  // namespace edit
