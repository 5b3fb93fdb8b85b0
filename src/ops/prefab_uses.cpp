// Where prefabs and items are used; prefabs renamed and deleted.
#include <fmt/format.h>

#include <algorithm>

#include "ops/kinds.h"
#include "ops/names.h"
#include "ops/prefab_parts.h"

namespace ops {

Status renamePrefab(edit::Draft& draft, ObjectId prefab, const std::string& name, const std::string& folder) {
    if (!draft.state()) return draft.state();
    edit::Session& session = draft.session();
    if (!session.definitions().contains(prefab)) return fail(ErrorCode::NotFound, "There is no such prefab.");
    if (Status usable = usablePrefabName(session, name, prefab); !usable) return usable;
    return inDefinition(draft, prefab, [&] { return draft.setSettings(headed(session, prefab, name, folder)); });
}

std::vector<std::string> allDocuments(const edit::Session& session) {
    std::vector<std::string> all = session.project().sceneNames;
    std::vector<std::string> keys;
    for (const auto& [prefab, scene] : session.definitions()) keys.push_back(scene->name());
    std::sort(keys.begin(), keys.end());
    all.insert(all.end(), keys.begin(), keys.end());
    return all;
}

namespace {

template <class Find>
Result<std::vector<Use>> uses(edit::Session& session, const Find& find) {
    std::vector<Use> all;
    for (const std::string& name : allDocuments(session)) {
        auto scene = session.scene(name);
        if (!scene) return tl::unexpected(scene.error());
        if (Ids ids = find(**scene); !ids.empty()) all.push_back({name, std::move(ids)});
    }
    return all;
}

}  // namespace

Result<std::vector<Use>> usedBy(edit::Session& session, ObjectId prefab) {
    return uses(session, [&](const model::Scene& scene) { return session.instancesOf(prefab, scene.name()); });
}

Result<std::vector<Use>> kindUses(edit::Session& session, const std::string& kind) {
    const base::Name key = session.intern(kind);
    return uses(session, [&](const model::Scene& scene) {
        Ids ids;
        for (Slot s : scene.ownSubtree(kNoSlot))
            if (scene.kind(s) == key) ids.push_back(scene.id(s));
        return ids;
    });
}

Result<std::vector<Use>> usedBy(edit::Session& session, base::Name item) {
    return uses(session, [&](const model::Scene& scene) {
        Ids ids;
        for (Slot s : scene.ownSubtree(kNoSlot))
            if (scene.item(s) == item) ids.push_back(scene.id(s));
        return ids;
    });
}

Status deletePrefab(edit::Draft& draft, ObjectId prefab, const DeletePrefab& how) {
    if (!draft.state()) return draft.state();
    edit::Session& session = draft.session();
    if (!session.definitions().contains(prefab)) return fail(ErrorCode::NotFound, "There is no such prefab.");
    const std::string here = draft.scene().name();
    if (how.instances != DeletePrefab::Instances::Keep) {
        auto all = usedBy(session, prefab);
        if (!all) return tl::unexpected(all.error());
        for (const Use& use : *all) {
            if (Status turned = draft.turnTo(use.document); !turned) return turned;
            Ids direct;  // those that a difference added further in go with their own prefab's instances
            for (ObjectId id : use.ids) {
                const Slot s = draft.scene().find(id);
                if (draft.scene().detail(s)->prefab->of == prefab) direct.push_back(id);
            }
            Status done;
            if (how.instances == DeletePrefab::Instances::TakeApart) {
                if (auto freed = takeApart(draft, direct, false); !freed) done = tl::unexpected(freed.error());
            } else if (auto lost = swapPrefab(draft, direct, how.other); !lost) {
                done = tl::unexpected(lost.error());
            }
            if (!done) return done;
        }
    }
    if (Status turned = draft.turnTo(here); !turned) return turned;
    return inDefinition(draft, prefab, [&]() -> Status {
        Ids roots;
        const model::Scene& scene = draft.scene();
        for (Slot s = scene.firstChild(kNoSlot); s != kNoSlot; s = scene.nextSibling(s)) roots.push_back(scene.id(s));
        if (Status gone = draft.remove(roots); !gone) return gone;
        return draft.setSettings({});
    });
}

}  // namespace ops
