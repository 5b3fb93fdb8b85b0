#include "ops/group.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "base/text.h"
#include "base/tidy.h"
#include "model/facets/array.h"
#include "ops/names.h"

namespace ops {

namespace {

/// The lowest object that all of `slots` lie below; kNoSlot: the top.
Slot commonParent(const model::Scene& scene, std::span<const Slot> slots) {
    Slot common = scene.parent(slots.front());
    for (Slot s : slots)
        while (common != kNoSlot && (s == common || !scene.isWithin(s, common))) common = scene.parent(common);
    return common;
}

/// `id`'s ancestor directly below `parent`, or itself.
Slot branchBelow(const model::Scene& scene, Slot slot, Slot parent) {
    while (scene.parent(slot) != parent) slot = scene.parent(slot);
    return slot;
}

std::string plural(std::string_view word) {
    const std::string text(word);
    auto ends = [&](std::string_view with) { return text.ends_with(with); };
    if (ends("s") || ends("x") || ends("ch") || ends("sh")) return text + "es";
    if (ends("y") && text.size() > 1 && std::string_view("aeiou").find(text[text.size() - 2]) == std::string::npos)
        return text.substr(0, text.size() - 1) + "ies";
    return text + "s";
}

std::string stemOf(std::string_view name) {
    std::string stem = base::splitNumber(name).stem;
    while (!stem.empty() && stem.back() == ' ') stem.pop_back();
    return stem;
}

/// Where it stands, in the order of the tree.
Ids inTreeOrder(const model::Scene& scene, const Ids& ids, Slot below) {
    const std::unordered_set<ObjectId> wanted(ids.begin(), ids.end());
    Ids ordered;
    for (Slot s : scene.subtree(below))
        if (wanted.contains(scene.id(s))) ordered.push_back(scene.id(s));
    return ordered;
}

base::Vec3 baseOf(const model::Scene& scene, std::span<const ObjectId> ids) {
    base::Aabb box;
    for (ObjectId id : ids) box.add(scene.subtreeBounds(scene.find(id)));
    if (box.empty())
        for (ObjectId id : ids) box.add(scene.world(scene.find(id)).translation);
    return base::tidied(box.baseCentre());
}

Status refuseSheared(std::string_view name) {
    return fail(ErrorCode::BadInput,
                fmt::format("“{}” would have to be sheared to stay as it is, which a pose cannot hold.", name));
}

Status ungroupOne(edit::Draft& draft, ObjectId id, bool nearest, Ids& freed) {
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(id);
    Ids children;
    std::vector<base::Transform> locals;
    const base::Affine own = base::toAffine(scene.local(slot));
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) {
        const base::Affine local = own * base::toAffine(scene.local(s));
        if (!nearest && base::hasShear(local)) return refuseSheared(scene.nameText(s));
        children.push_back(scene.id(s));
        locals.push_back(base::toTransform(local));
    }
    const ObjectId parent = scene.parent(slot) == kNoSlot ? ObjectId{} : scene.id(scene.parent(slot));
    const std::vector<model::TreePlace> places(children.size(), model::TreePlace{parent, id});
    if (!children.empty()) {
        if (Status moved = draft.moveInTree(children, places); !moved) return moved;
        if (Status posed = draft.setTransforms(children, locals); !posed) return posed;
    }
    freed.insert(freed.end(), children.begin(), children.end());
    return draft.remove({&id, 1});
}

}  // namespace

bool isBareGroup(const model::Scene& scene, Slot slot) {
    if (scene.item(slot) || !scene.detail(slot)) return !scene.item(slot);
    model::Detail without = *scene.detail(slot);
    without.drop<model::Array>();  // an array is a group that says how it is filled
    return without.empty();
}

std::string groupName(const model::Scene& scene, std::span<const ObjectId> ids) {
    const Ids tops = topmost(scene, ids);
    if (tops.size() == 1) return stemOf(scene.nameText(scene.find(tops[0]))) + " group";
    std::string kind, stem;
    bool sameKind = true, sameStem = true;
    for (ObjectId id : tops) {
        const Slot s = scene.find(id);
        const std::string ownKind(scene.kindText(s)), ownStem = stemOf(scene.nameText(s));
        if (id == tops.front()) kind = ownKind, stem = ownStem;
        sameKind = sameKind && ownKind == kind;
        sameStem = sameStem && ownStem == stem;
    }
    if (sameStem && !stem.empty()) return fmt::format("{}, {}", plural(stem), tops.size());
    if (sameKind && !kind.empty()) return fmt::format("{}, {}", plural(kind), tops.size());
    return fmt::format("Group of {}", tops.size());
}

Result<ObjectId> group(edit::Draft& draft, std::span<const ObjectId> ids, std::string_view name) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    Ids tops = topmost(scene, ids);
    if (tops.empty()) return fail(ErrorCode::NotFound, "Nothing is selected.");
    if (Status allowed = refuseProtected(scene, tops, "grouped"); !allowed) return tl::unexpected(allowed.error());
    std::vector<Slot> slots;
    for (ObjectId id : tops) slots.push_back(scene.find(id));
    const Slot parent = commonParent(scene, slots);
    const base::Affine parentWorld = parent == kNoSlot ? base::Affine{} : scene.world(parent);
    const auto toParent = base::inverse(parentWorld);
    if (!toParent) return fail(ErrorCode::Refused, fmt::format("“{}” has no usable size.", scene.nameText(parent)));
    tops = inTreeOrder(scene, tops, parent);
    model::ObjectRecord made;
    made.id = draft.session().random().nextId();
    made.parent = parent == kNoSlot ? ObjectId{} : scene.id(parent);
    made.before = scene.id(branchBelow(scene, scene.find(tops.front()), parent));
    made.name = draft.session().intern(name);
    made.flags = model::flags::kWhole;
    made.local.position = toParent->point(baseOf(scene, tops));
    std::vector<base::Transform> locals;
    for (ObjectId id : tops) {
        const Slot s = scene.find(id);
        base::Transform local = scene.local(s);
        if (scene.parent(s) != parent) {
            const base::Affine own = *toParent * scene.world(s);
            if (base::hasShear(own)) return tl::unexpected(refuseSheared(scene.nameText(s)).error());
            local = base::toTransform(own);
        }
        local.position -= made.local.position;
        locals.push_back(local);
    }
    if (Status created = draft.create({&made, 1}); !created) return tl::unexpected(created.error());
    const std::vector<model::TreePlace> places(tops.size(), model::TreePlace{made.id, {}});
    if (Status moved = draft.moveInTree(tops, places); !moved) return tl::unexpected(moved.error());
    if (Status posed = draft.setTransforms(tops, locals); !posed) return tl::unexpected(posed.error());
    return made.id;
}

Result<Ids> ungroup(edit::Draft& draft, std::span<const ObjectId> ids, const Ungrouping& how) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    Ids groups;
    std::unordered_set<ObjectId> seen;
    for (ObjectId id : how.nested ? topmost(scene, ids) : Ids(ids.begin(), ids.end())) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) continue;
        if (!isBareGroup(scene, slot))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is no group: it is something itself.", scene.nameText(slot)));
        for (Slot s : how.nested ? scene.subtree(slot) : std::vector<Slot>{slot}) {
            if (s != slot && (!isBareGroup(scene, s) || scene.firstChild(s) == kNoSlot)) continue;
            if (seen.insert(scene.id(s)).second) groups.push_back(scene.id(s));
        }
    }
    if (groups.empty()) return fail(ErrorCode::NotFound, "No group is selected.");
    if (Status allowed = refuseProtected(scene, groups, "ungrouped"); !allowed) return tl::unexpected(allowed.error());
    Ids freed;
    for (std::size_t i = groups.size(); i-- > 0;)  // those within first
        if (Status done = ungroupOne(draft, groups[i], how.nearest, freed); !done) return tl::unexpected(done.error());
    // What came out of an inner group came out of the outer one again.
    seen.clear();
    std::erase_if(freed, [&](ObjectId id) { return scene.find(id) == kNoSlot || !seen.insert(id).second; });
    return freed;
}

Ids emptyGroups(const model::Scene& scene) {
    Ids empty;
    for (Slot s : scene.subtree(kNoSlot))
        if (scene.firstChild(s) == kNoSlot && !scene.kind(s) && isBareGroup(scene, s)) empty.push_back(scene.id(s));
    return empty;
}

}  // namespace ops
