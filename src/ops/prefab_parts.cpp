#include "ops/prefab_parts.h"
#include "ops/names.h"

#include <fmt/format.h>

namespace ops {

model::SceneSettings headed(const edit::Session& session, ObjectId prefab, const std::string& name,
                            const std::string& folder) {
    auto place = session.definitions().find(prefab);
    model::SceneSettings settings =
        place != session.definitions().end() ? place->second->settings() : model::SceneSettings{};
    settings.prefab = model::PrefabHead{name, folder};
    return settings;
}

Status inDefinition(edit::Draft& draft, ObjectId prefab, const std::function<Status()>& write) {
    const std::string here = draft.scene().name();
    if (Status turned = draft.turnTo(model::definitionKey(prefab)); !turned) return turned;
    Status done = write();
    if (Status back = draft.turnTo(here); !back) return back;
    return done;
}

model::DetailPtr withLink(const model::Scene& scene, ObjectId instance, std::shared_ptr<const model::PrefabLink> link) {
    const model::DetailPtr& now = scene.detail(scene.find(instance));
    model::Detail detail = now ? *now : model::Detail{};
    detail.prefab.link = std::move(link);
    return detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail));
}

Status setLink(edit::Draft& draft, ObjectId instance, model::PrefabLink link) {
    const auto detail = withLink(draft.scene(), instance, std::make_shared<const model::PrefabLink>(std::move(link)));
    return draft.setDetails({&instance, 1}, {&detail, 1});
}

Status noInstance(const model::Scene& scene, Slot s) {
    return fail(ErrorCode::Refused, fmt::format("“{}” is no instance of a prefab.", scene.nameText(s)));
}

Result<Held> whereHeld(edit::Draft& draft, std::span<const ObjectId> ids) {
    const model::Scene& scene = draft.scene();
    const ObjectId edited = draft.session().definitionEditedAt();
    const Slot instance = edited ? scene.find(edited) : kNoSlot;
    Held held{{}, edited};
    for (ObjectId id : ids)
        if (const Slot s = scene.find(id); instance != kNoSlot && s != kNoSlot && s != instance)
            if (scene.isWithin(s, instance)) held.ids.push_back(base::innerOf(edited, id));
    if (held.ids.empty()) return Held{Ids(ids.begin(), ids.end()), {}};
    if (held.ids.size() != ids.size())
        return fail(ErrorCode::Refused, "Some of these are in the definition that is being edited, and some are not.");
    const auto definition = draft.session().definitions().find(scene.detail(instance)->prefab->of);
    for (std::size_t i = 0; i < ids.size(); ++i)
        if (definition == draft.session().definitions().end() || definition->second->find(held.ids[i]) == kNoSlot)
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is in this instance only: give it to the definition first.",
                                    scene.nameText(scene.find(ids[i]))));
    return held;
}

Ids seenFrom(ObjectId instance, Ids ids) {
    if (instance)
        for (ObjectId& id : ids) id = base::joined(instance, id);
    return ids;
}

}  // namespace ops
