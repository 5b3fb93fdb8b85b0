// Instances taken apart, made again, and linked to another prefab.
#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_set>

#include "ops/names.h"
#include "ops/prefab_parts.h"

namespace ops {

namespace {

/// What lies inside an instance as objects of their own; instances further in stay such unless `all`.
std::vector<model::ObjectRecord> insides(const edit::Session& session, const model::Scene& scene, Slot instance,
                                         bool all) {
    std::vector<model::ObjectRecord> objects;
    std::unordered_set<Slot> skipped;
    for (Slot s : scene.subtree(instance)) {
        if (s == instance) continue;
        if (skipped.contains(scene.parent(s))) {
            skipped.insert(s);
            continue;
        }
        model::ObjectRecord r = all ? scene.record(s) : model::ownRecord(scene, s, session.definitions());
        r.before = {};
        if (scene.isInstance(s)) {
            if (all) {
                r.detail = withLink(scene, r.id, nullptr);
                r.flags |= model::flags::kWhole;
            } else {
                skipped.insert(s);
            }
        }
        objects.push_back(std::move(r));
    }
    return objects;
}

Result<Ids> takeApartHere(edit::Draft& draft, const Ids& ids, bool all) {
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, ids, "taken apart"); !free) return tl::unexpected(free.error());
    Ids freed;
    for (ObjectId id : topmost(scene, ids)) {
        const Slot slot = scene.find(id);
        if (!scene.isInstance(slot)) return tl::unexpected(noInstance(scene, slot).error());
        const auto objects = insides(draft.session(), scene, slot, all);
        const model::DetailPtr detail = withLink(scene, id, nullptr);
        const auto flags = static_cast<std::uint8_t>(scene.flagsOf(slot) | model::flags::kWhole);
        if (Status done = draft.setDetails({&id, 1}, {&detail, 1}); !done) return tl::unexpected(done.error());
        if (Status done = draft.setFlags({&id, 1}, {&flags, 1}); !done) return tl::unexpected(done.error());
        if (Status done = draft.create(objects); !done) return tl::unexpected(done.error());
        freed.push_back(id);
    }
    return freed;
}

}  // namespace

Result<Ids> takeApart(edit::Draft& draft, std::span<const ObjectId> ids, bool all) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    return whereHeld<Result<Ids>>(draft, ids, [&](const Ids& held, ObjectId instance) -> Result<Ids> {
        auto freed = takeApartHere(draft, held, all);
        return freed ? seenFrom(instance, std::move(*freed)) : freed;
    });
}

ObjectId madeFrom(const edit::Session& session, const model::Scene& scene, Slot group) {
    if (scene.isInstance(group)) return {};
    std::map<std::size_t, ObjectId> found;
    const auto below = scene.subtree(group);
    for (const auto& [prefab, definition] : session.definitions()) {
        std::size_t held = 0;
        for (Slot s : below)
            held += s != group && definition->find(base::innerOf(scene.id(group), scene.id(s))) != kNoSlot ? 1 : 0;
        if (held > 0) found[held] = prefab;
    }
    return found.empty() ? ObjectId{} : found.rbegin()->second;
}

namespace {

/// Those further in first: what its definition holds as an instance was taken apart with it.
Status makeOneAgain(edit::Draft& draft, ObjectId id, ObjectId prefab) {
    const model::Scene& scene = draft.scene();
    const auto& definitions = draft.session().definitions();
    if (const auto place = definitions.find(prefab); place != definitions.end())
        for (Slot s : place->second->ownSubtree(kNoSlot)) {
            if (!place->second->isInstance(s)) continue;
            const ObjectId inner = base::joined(id, place->second->id(s));
            const Slot held = scene.find(inner);
            if (held == kNoSlot || scene.isInstance(held) || scene.firstChild(held) == kNoSlot) continue;
            if (Status made = makeOneAgain(draft, inner, place->second->detail(s)->prefab->of); !made) return made;
        }
    const Slot slot = scene.find(id);
    model::PrefabLink link = model::gatherLink(scene, slot, prefab, definitions);
    Ids children;
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) children.push_back(scene.id(s));
    if (Status gone = draft.remove(children); !gone) return gone;
    if (Status made = setLink(draft, id, std::move(link)); !made) return made;
    const auto flags = static_cast<std::uint8_t>(scene.flagsOf(slot) & ~model::flags::kWhole);
    return draft.setFlags({&id, 1}, {&flags, 1});
}

Status makeAgainHere(edit::Draft& draft, const Ids& ids) {
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, ids, "made an instance again"); !free) return free;
    for (ObjectId id : topmost(scene, ids)) {
        const Slot slot = scene.find(id);
        const ObjectId prefab = madeFrom(draft.session(), scene, slot);
        if (!prefab)
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” holds nothing of a prefab: it was not taken apart, or all of it is gone.",
                                    scene.nameText(slot)));
        if (Status made = makeOneAgain(draft, id, prefab); !made) return made;
    }
    return {};
}

}  // namespace

Status makeAgain(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return draft.state();
    return whereHeld<Status>(draft, ids, [&](const Ids& held, ObjectId) { return makeAgainHere(draft, held); });
}

namespace {

/// The object of `to` that stands for `inner` of `from`; zero: none.
ObjectId counterpart(const model::Scene* from, const model::Scene& to, ObjectId inner) {
    if (to.find(inner) != kNoSlot) return inner;
    // One may be an edition of the other.
    for (Slot s : to.ownSubtree(kNoSlot))
        if (to.isInstance(s) && to.find(base::joined(to.id(s), inner)) != kNoSlot) return base::joined(to.id(s), inner);
    for (Slot s : from != nullptr ? from->ownSubtree(kNoSlot) : std::vector<Slot>{})
        if (from->isInstance(s) && to.find(base::innerOf(from->id(s), inner)) != kNoSlot)
            return base::innerOf(from->id(s), inner);
    const Slot was = from != nullptr ? from->find(inner) : kNoSlot;
    if (was == kNoSlot) return {};
    ObjectId found;
    for (Slot s : to.subtree(kNoSlot)) {
        if (to.nameOf(s) != from->nameOf(was) || to.kind(s) != from->kind(was) || to.item(s) != from->item(was))
            continue;
        if (found) return {};  // which of them?
        found = to.id(s);
    }
    return found;
}

model::PrefabLink relinked(const edit::Session& session, const model::PrefabLink& old, ObjectId prefab,
                           std::size_t& lost) {
    const auto& all = session.definitions();
    auto was = all.find(old.of);
    const model::Scene* from = was == all.end() ? nullptr : was->second;
    const model::Scene& to = *all.at(prefab);
    model::PrefabLink link;
    link.of = prefab;
    link.unknownKeys = old.unknownKeys;
    for (model::Difference d : old.changed) {
        d.value.id = counterpart(from, to, d.value.id);
        if (d.value.id && !d.parts.has(model::part::kPlace))
            model::put(link, std::move(d), model::PartSet::all());
        else
            ++lost;
    }
    for (ObjectId id : old.removed) {
        if (const ObjectId there = counterpart(from, to, id))
            link.removed.push_back(there);
        else
            ++lost;
    }
    std::sort(link.removed.begin(), link.removed.end());
    std::unordered_set<ObjectId> kept;
    for (model::ObjectRecord r : old.added) {
        if (r.parent && !kept.contains(r.parent)) r.parent = counterpart(from, to, r.parent);
        r.before = {};
        kept.insert(r.id);
        link.added.push_back(std::move(r));
    }
    return link;
}

Result<std::size_t> swapHere(edit::Draft& draft, const Ids& ids, ObjectId prefab) {
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    if (Status free = refuseProtected(scene, ids, "swapped"); !free) return tl::unexpected(free.error());
    if (!session.definitions().contains(prefab)) return fail(ErrorCode::NotFound, "There is no such prefab.");
    std::size_t lost = 0;
    FreeNames& names = draft.freeNames();
    for (ObjectId id : topmost(scene, ids)) {
        const Slot slot = scene.find(id);
        if (!scene.isInstance(slot)) return tl::unexpected(noInstance(scene, slot).error());
        const model::PrefabLink& old = *scene.detail(slot)->prefab;
        const bool calledSo = std::string(scene.nameText(slot)).starts_with(session.prefabName(old.of));
        if (Status done = setLink(draft, id, relinked(session, old, prefab, lost)); !done)
            return tl::unexpected(done.error());
        if (!calledSo) continue;
        const base::Name name = session.intern(names.next(session.prefabName(prefab)));
        if (Status done = draft.setLabels(model::LabelField::Name, {&id, 1}, {&name, 1}); !done)
            return tl::unexpected(done.error());
    }
    return lost;
}

}  // namespace

Result<std::size_t> swapPrefab(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId prefab) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    return whereHeld<Result<std::size_t>>(draft, ids,
                                          [&](const Ids& held, ObjectId) { return swapHere(draft, held, prefab); });
}

}  // namespace ops
