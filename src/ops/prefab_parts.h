#pragma once
// What the sources of ops/prefab.h share.
#include <functional>

#include "ops/prefab.h"

namespace ops {

/// The settings of a definition, called `name` and listed in `folder`.
model::SceneSettings headed(const edit::Session& session, base::ObjectId prefab, const std::string& name,
                            const std::string& folder);

/// Runs `write` with the draft in a definition, and turns it back.
base::Status inDefinition(edit::Draft& draft, base::ObjectId prefab, const std::function<base::Status()>& write);

/// An object's detail with another link, or none.
model::DetailPtr withLink(const model::Scene& scene, base::ObjectId instance,
                          std::shared_ptr<const model::PrefabLink> link);
base::Status setLink(edit::Draft& draft, base::ObjectId instance, model::PrefabLink link);

/// The refusal of what is asked of something that is no instance.
base::Status noInstance(const model::Scene& scene, model::Slot slot);

/// Where a verb that takes up whole objects works.
struct Held {
    Ids ids;                  ///< in the document that holds them
    base::ObjectId instance;  ///< seen from which that document is a definition; zero: it is the draft's own
};
/// While a definition is edited in place, verbs that take up whole objects work in the definition itself, on what it
/// holds: what differs in the instance one looks at is not its business. Errors: Refused for objects of which only
/// some are in it, or that this instance alone has.
base::Result<Held> whereHeld(edit::Draft& draft, std::span<const base::ObjectId> ids);
/// Runs `verb` on them there, and turns the draft back.
template <class R, class Verb>
R whereHeld(edit::Draft& draft, std::span<const base::ObjectId> ids, const Verb& verb) {
    auto held = whereHeld(draft, ids);
    if (!held) return tl::unexpected(held.error());
    if (!held->instance) return verb(held->ids, base::ObjectId{});
    const model::Scene& scene = draft.scene();
    const std::string here = scene.name();
    const base::ObjectId prefab = scene.detail(scene.find(held->instance))->prefab->of;
    if (base::Status turned = draft.turnTo(model::definitionKey(prefab)); !turned)
        return tl::unexpected(turned.error());
    R result = verb(held->ids, held->instance);
    if (base::Status back = draft.turnTo(here); !back) return tl::unexpected(back.error());
    return result;
}

/// Ids of a definition as they are around one of its instances; zero: as they are.
Ids seenFrom(base::ObjectId instance, Ids ids);

}  // namespace ops
