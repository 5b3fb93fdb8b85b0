#pragma once
// Many changes of a scene, told as one: for whoever need not follow each.
#include <map>

#include "edit/delta.h"
#include "model/scene.h"

namespace edit {

class HeldDelta {
  public:
    void add(const SceneDelta& delta);
    /// What `scene` became since the first of them; nothing is held afterwards.
    SceneDelta take(const model::Scene& scene);

  private:
    struct Row {
        bool isNew = false;     ///< it was not there before
        bool replaced = false;  ///< what was there is gone, whatever is there now
        bool moved = false, relabelled = false, detailed = false;
    };
    std::map<model::Slot, Row> rows_;  // in the order of slots: the same every time
    std::vector<base::ObjectId> removedIds_;
    SceneDelta rest_;  // its flags
};

}  // namespace edit
