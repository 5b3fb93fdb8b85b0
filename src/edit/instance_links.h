#pragma once
// New links for instances of a scene, gathered while one verb changes several objects inside them. For draft.cpp.
#include <functional>
#include <map>
#include <span>

#include "base/result.h"
#include "model/change.h"
#include "model/prefab.h"

namespace edit {

/// An object, or a place, of a scene as seen from inside an instance: ids as in the definition.
model::ObjectRecord asInside(model::ObjectRecord record, base::ObjectId instance);
model::TreePlace asInside(const model::TreePlace& place, base::ObjectId instance);

class InstanceLinks {
  public:
    InstanceLinks(const model::Scene& scene, const model::Definitions& definitions)
        : scene_(scene), definitions_(definitions) {}

    /// What `modify` makes of an object becomes a difference in `parts`. Refused when it would link elsewhere.
    base::Status change(base::ObjectId instance, base::ObjectId id, const model::PartSet& parts,
                        const std::function<void(model::ObjectRecord&)>& modify);
    void add(base::ObjectId instance, const model::ObjectRecord& record);
    void remove(base::ObjectId instance, std::span<const base::ObjectId> ids);
    /// Refused when it would leave an instance further in, unless that one added it.
    base::Status moveInside(base::ObjectId instance, base::ObjectId id, const model::TreePlace& place);
    /// The outermost instance around an object says nothing any more of some parts of it.
    void takeBack(base::ObjectId id, const model::PartSet& parts);
    bool isAdded(base::ObjectId instance, base::ObjectId id);
    /// An added object with all below it that is added, as records of the scene.
    std::vector<model::ObjectRecord> addedRecords(base::ObjectId instance, base::ObjectId id);

    bool empty() const { return links_.empty(); }
    std::vector<base::ObjectId> ids() const;
    /// In the order of ids().
    std::vector<model::DetailPtr> details() const;

  private:
    /// The link that speaks of what stands at `at` or below it: that of `instance`, or of one that it adds, however
    /// far in; with the instance it belongs to.
    template <class Use>
    void within(model::PrefabLink& link, base::ObjectId instance, model::Slot at, const Use& use);
    template <class Use>
    void within(base::ObjectId instance, model::Slot at, const Use& use) {
        within(link(instance), instance, at, use);
    }
    model::PrefabLink& link(base::ObjectId instance);
    const model::PrefabLink& seen(base::ObjectId instance) const;

    const model::Scene& scene_;
    const model::Definitions& definitions_;
    std::map<base::ObjectId, model::PrefabLink> links_;
    std::map<base::ObjectId, base::ObjectId> newParents_;  // of what was added: where in the scene it hangs
};

}  // namespace edit
