#include "ops/holders.h"

#include "ops/names.h"

namespace ops {
namespace {

bool has(const model::Scene& scene, Slot slot, const model::FacetType& type) {
    const model::DetailPtr& detail = scene.detail(slot);
    return detail && detail->facets.find(type) != nullptr;
}

}  // namespace

Holders::Holders(edit::Session& session, const model::FacetType& type) : session_(session), type_(type) {
    token_ = session_.sceneChanged.listen([this](const edit::SceneDelta& delta) { hear(delta); });
}

Holders::~Holders() {
    session_.sceneChanged.forget(token_);
}

void Holders::hear(const edit::SceneDelta& delta) {
    const auto known = known_.find(delta.scene);
    if (known == known_.end()) return;
    const auto scene = session_.scene(delta.scene);
    if (delta.everything || !scene) {
        known_.erase(known);
        return;
    }
    for (ObjectId id : delta.removedIds) known->second.erase(id);
    for (const auto* slots : {&delta.created, &delta.detailed})
        for (Slot s : *slots) {
            if (!(*scene)->alive(s)) continue;
            if (has(**scene, s, type_))
                known->second.insert((*scene)->id(s));
            else
                known->second.erase((*scene)->id(s));
        }
}

const std::set<ObjectId>& Holders::in(const model::Scene& scene) {
    const auto [place, isNew] = known_.try_emplace(scene.name());
    if (isNew)
        for (Slot s = 0; s < scene.slotEnd(); ++s)
            if (scene.alive(s) && has(scene, s, type_)) place->second.insert(scene.id(s));
    return place->second;
}

}  // namespace ops
