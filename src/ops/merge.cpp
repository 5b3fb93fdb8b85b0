#include "ops/merge.h"

#include <fmt/format.h>

#include <algorithm>

#include "model/facets/array.h"
#include "model/facets/tint.h"
#include "ops/names.h"
#include "ops/prefab.h"

namespace ops {

namespace {

bool hasMesh(const model::Scene& scene, const model::Library& library, Slot s) {
    const model::Item* item = library.item(scene.item(s));
    return item != nullptr && !item->bounds.empty() && !item->prefab;
}

/// The innermost object around all of them.
Slot commonParent(const model::Scene& scene, const Ids& tops) {
    Slot parent = scene.parent(scene.find(tops.front()));
    while (parent != kNoSlot &&
           std::any_of(tops.begin(), tops.end(), [&](ObjectId id) { return !scene.isWithin(scene.find(id), parent); }))
        parent = scene.parent(parent);
    return parent;
}

/// What has no mesh and would be lost: as records below `merged`; `into`: from the world into its axes.
Result<std::vector<model::ObjectRecord>> keptBelow(const model::Scene& scene, const model::Library& library,
                                                   const Ids& tops, ObjectId merged, const base::Affine& into) {
    std::vector<model::ObjectRecord> kept;
    for (ObjectId id : tops)
        for (Slot s : scene.subtree(scene.find(id))) {
            if (hasMesh(scene, library, s) || !scene.detail(s) || scene.facet<model::Array>(s)) continue;
            const base::Affine local = into * scene.world(s);
            if (base::hasShear(local))
                return fail(ErrorCode::BadInput,
                            fmt::format("“{}” would have to be sheared to stay as it is, which a pose cannot hold.",
                                        scene.nameText(s)));
            kept.push_back(scene.record(s));
            kept.back().parent = merged;
            kept.back().before = {};
            kept.back().local = base::toTransform(local);
        }
    return kept;
}

/// Instances among them become plain objects, so that what lies inside can be taken up.
Status opened(edit::Draft& draft, const Ids& tops) {
    Ids instances;
    for (ObjectId id : tops)
        for (Slot s : draft.scene().ownSubtree(draft.scene().find(id)))
            if (draft.scene().isInstance(s)) instances.push_back(draft.scene().id(s));
    if (instances.empty()) return {};
    auto freed = takeApart(draft, instances, true);
    return freed ? Status{} : tl::unexpected(freed.error());
}

}  // namespace

std::vector<Merging> toMerge(const model::Scene& scene, const model::Library& library, std::span<const ObjectId> ids) {
    std::vector<Merging> all;
    for (ObjectId id : topmost(scene, ids))
        for (Slot s : scene.subtree(scene.find(id))) {
            if (!hasMesh(scene, library, s)) continue;
            const model::DetailPtr& detail = scene.detail(s);
            all.push_back(
                {scene.item(s), scene.world(s),
                 detail && detail->get<model::Tint>() ? detail->get<model::Tint>()->colour : base::Vec3(1.0)});
        }
    return all;
}

base::Transform mergeFrame(const model::Scene& scene, const model::Library& library, std::span<const ObjectId> ids,
                           const base::Vec3& basePoint) {
    base::Transform frame;
    frame.position = basePoint;
    const Ids tops = topmost(scene, ids);
    std::vector<base::Affine> turned;
    if (tops.size() == 1)
        turned = {scene.world(scene.find(tops[0]))};
    else
        for (const Merging& one : toMerge(scene, library, tops)) turned.push_back(one.world);
    if (turned.empty() || base::hasShear(turned[0])) return frame;
    const base::Quat first = base::toTransform(turned[0]).rotation;
    for (const base::Affine& other : turned)
        if (base::hasShear(other) || std::abs(glm::dot(base::toTransform(other).rotation, first)) < 1 - 1e-9)
            return frame;
    frame.rotation = first;
    return frame;
}

Result<ObjectId> replaceByMerged(edit::Draft& draft, std::span<const ObjectId> ids, base::Name item,
                                 std::string_view name, const base::Transform& frame) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    const Ids tops = topmost(scene, ids);
    if (tops.empty() || toMerge(scene, session.library(), tops).empty())
        return fail(ErrorCode::Refused, "Nothing that is selected has a mesh to merge.");
    if (Status free = refuseProtected(scene, tops, "merged"); !free) return tl::unexpected(free.error());
    for (ObjectId id : tops)
        if (!draft.isOwn(id))
            return fail(ErrorCode::Refused,
                        "What lies inside an instance is merged in its definition: go in there, or "
                        "take the instance apart.");
    if (Status done = opened(draft, tops); !done) return tl::unexpected(done.error());
    base::Name kind;
    for (ObjectId id : tops)
        for (Slot s : scene.subtree(scene.find(id)))
            if (!kind && hasMesh(scene, session.library(), s)) kind = scene.kind(s);
    const Slot parent = commonParent(scene, tops);
    model::ObjectRecord r;
    r.id = session.random().nextId();
    r.name = session.intern(draft.freeNames().next(name));
    r.kind = kind;
    r.item = item;
    r.local = frame;
    if (parent != kNoSlot) {
        const auto into = base::inverse(scene.world(parent));
        const base::Affine local = into ? *into * base::toAffine(r.local) : base::Affine{};
        if (!into || base::hasShear(local))
            return fail(ErrorCode::BadInput,
                        "Below a group that is sized unevenly and turned a merged object cannot keep its shape.");
        r.parent = scene.id(parent);
        r.local = base::toTransform(local);
    }
    auto kept = keptBelow(scene, session.library(), tops, r.id, *base::inverse(base::toAffine(frame)));
    if (!kept) return tl::unexpected(kept.error());
    if (Status gone = draft.remove(tops); !gone) return tl::unexpected(gone.error());
    if (Status made = draft.create({&r, 1}); !made) return tl::unexpected(made.error());
    if (Status made = draft.create(*kept); !made) return tl::unexpected(made.error());
    return r.id;
}

}  // namespace ops
