#include "ops/objects.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "base/text.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "ops/names.h"
#include "ops/outfits.h"
#include "ops/surfaces.h"

namespace ops {

Status refuseProtected(const model::Scene& scene, std::span<const ObjectId> ids, std::string_view verb) {
    for (ObjectId id : ids) {
        const Slot s = scene.find(id);
        if (s == kNoSlot) return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
        if (scene.protectedInTree(s))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is protected and cannot be {}.", scene.nameText(s), verb));
    }
    return {};
}

Status refuseMoving(const model::Scene& scene, std::span<const ObjectId> ids, std::string_view verb) {
    if (Status allowed = refuseProtected(scene, ids, verb); !allowed) return allowed;
    for (ObjectId id : ids) {
        const Slot top = scene.find(id);
        if (scene.firstChild(top) == kNoSlot) continue;
        for (Slot s : scene.subtree(top))
            if ((scene.flagsOf(s) & model::flags::kProtected) != 0)
                return fail(ErrorCode::Refused, fmt::format("“{}”, which is protected, would be {} with “{}”.",
                                                            scene.nameText(s), verb, scene.nameText(top)));
    }
    return {};
}

Ids topmost(const model::Scene& scene, std::span<const ObjectId> ids) {
    std::unordered_set<Slot> all;
    for (ObjectId id : ids) all.insert(scene.find(id));
    Ids result;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) continue;
        bool below = false;
        for (Slot s = scene.parent(slot); s != kNoSlot && !below; s = scene.parent(s)) below = all.contains(s);
        if (!below) result.push_back(id);
    }
    return result;
}

std::string describe(const model::Scene& scene, std::span<const ObjectId> ids) {
    if (ids.size() != 1) return fmt::format("{} objects", ids.size());
    const Slot s = scene.find(ids[0]);
    return s == kNoSlot ? "an object" : std::string(scene.nameText(s));
}

std::optional<model::SizeLimits> sizesOf(const model::Library& library, const model::Scene& scene, Slot slot) {
    const model::Kind* kind = library.kind(scene.kind(slot));
    const model::Item* item = library.item(scene.item(slot));
    if (kind == nullptr && (item == nullptr || !(item->smallestSize || item->largestSize))) return std::nullopt;
    return model::sizesOf(kind, item);
}

std::string sizesText(const model::Library& library, const model::Scene& scene, Slot slot) {
    return model::sizesText(library.kind(scene.kind(slot)), library.item(scene.item(slot)));
}

base::Transform landing(const model::Item& item, const base::Vec3& position, const base::Quat& rotation, double size,
                        bool mirrored) {
    base::Transform t;
    t.rotation = rotation;
    t.scale = base::Vec3(mirrored ? -size : size, size, size);
    t.position = position - rotation * (item.landingPoint() * t.scale);
    return t;
}

model::DetailPtr instanceOf(ObjectId prefab) {
    auto link = std::make_shared<model::PrefabLink>();
    link->of = prefab;
    model::Detail detail;
    detail.prefab.link = std::move(link);
    return std::make_shared<const model::Detail>(std::move(detail));
}

Result<model::ObjectRecord> placed(edit::Draft& draft, const Placement& placement, FreeNames& names) {
    edit::Session& session = draft.session();
    const model::Item* item = session.library().item(placement.item);
    if (item == nullptr)
        return fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", session.names().text(placement.item)));
    if (!item->problem.empty())
        return fail(ErrorCode::Refused, fmt::format("“{}” cannot be placed: {}", item->label, item->problem));
    if (!base::isFinite(placement.position) || !(glm::length(placement.position) < 1e7) ||
        !(placement.size > 0 && placement.size < 1e6))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be placed there: that is no place.", item->label));
    model::ObjectRecord r;
    r.id = session.random().nextId();
    r.parent = placement.parent;
    r.name = session.intern(names.next(item->label));
    r.kind = session.intern(item->kind);
    if (!item->bounds.empty() && !item->prefab) r.item = placement.item;
    if (const model::Kind* kind = session.library().kind(r.kind)) r.detail = kind->facets;
    if (item->prefab) r.detail = instanceOf(item->prefab);
    if (const model::Kind* kind = session.library().kind(r.kind);
        placement.mirrored && kind != nullptr && !kind->mirrors)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” may not be mirrored: its kind {} says so.", item->label, kind->name));
    if (!placement.outfit.empty())
        if (Status dressed = dressRecord(session, r, placement.outfit); !dressed)
            return tl::unexpected(dressed.error());
    double size = placement.size;
    size = model::sizesOf(session.library().kind(r.kind), item).nearest(size);
    r.local = landing(*item, placement.position, placement.rotation, size, placement.mirrored);
    if (placement.parent) {
        const Slot parent = draft.scene().find(placement.parent);
        if (parent == kNoSlot) return fail(ErrorCode::NotFound, "The group to place into is gone.");
        if (auto inv = base::inverse(draft.scene().world(parent)))
            r.local = base::toTransform(*inv * base::toAffine(r.local));
    }
    return r;
}

Result<ObjectId> place(edit::Draft& draft, const Placement& placement) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    FreeNames& names = draft.freeNames();
    auto r = placed(draft, placement, names);
    if (!r) return tl::unexpected(r.error());
    if (Status made = draft.create({&*r, 1}); !made) return tl::unexpected(made.error());
    return r->id;
}

namespace {

std::size_t idleSlots(const model::Surfaces& surfaces, const model::Item& item) {
    return static_cast<std::size_t>(
        std::count_if(surfaces.slots.begin(), surfaces.slots.end(), [&](const model::SlotSurface& s) {
            return std::find(item.slots.begin(), item.slots.end(), s.slot) == item.slots.end();
        }));
}

}  // namespace

Result<Replaced> replaceItem(edit::Draft& draft, std::span<const ObjectId> ids, base::Name itemName,
                             SurfacesGo surfaces) {
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, ids, "replaced"); !free) return tl::unexpected(free.error());
    const model::Library& library = draft.session().library();
    const model::Item* item = library.item(itemName);
    if (item == nullptr) return fail(ErrorCode::NotFound, "There is no such item in the Stock.");
    Replaced replaced;
    FreeNames& names = draft.freeNames();
    std::vector<base::Name> items, kinds, called;
    Ids remade;  // those that were instances or solids, or become instances
    std::vector<model::DetailPtr> details;
    const base::Name meshless = base::Name{};
    for (ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return tl::unexpected(on.error());
        const Slot s = scene.find(id);
        const model::Item* old = library.item(scene.item(s));
        if (old != nullptr && !old->bounds.empty() && !item->bounds.empty()) {
            const base::Vec3 was = glm::max(old->bounds.size(), base::Vec3(1e-9));
            replaced.sizeFactor = item->bounds.size() / was;
            replaced.baseMetres = (old->bounds.low.y - item->bounds.low.y) * glm::length(scene.world(s).linear[1]);
        }
        const auto split = base::splitNumber(scene.nameText(s));
        const bool ownName = old == nullptr || (split.stem != old->label && split.stem != old->label + " ");
        called.push_back(ownName ? scene.nameOf(s) : draft.session().intern(names.next(item->label)));
        items.push_back(item->bounds.empty() || item->prefab ? meshless : itemName);
        kinds.push_back(draft.session().intern(item->kind));
        const model::DetailPtr& now = scene.detail(s);
        const bool linked = now && (now->prefab || now->get<model::Solid>());
        const bool dressed = now && now->get<model::Surfaces>() && surfaces != SurfacesGo::Keep;
        if (!linked && !dressed && !item->prefab) {
            if (now && now->get<model::Surfaces>())
                replaced.idleSurfaces += idleSlots(*now->get<model::Surfaces>(), *item);
            continue;
        }
        model::Detail detail = now ? *now : model::Detail{};
        if (dressed && surfaces == SurfacesGo::Drop) detail.drop<model::Surfaces>();
        if (dressed && surfaces == SurfacesGo::Map)
            detail.put(mappedSurfaces(*now->get<model::Surfaces>(),
                                      old != nullptr ? old->slots : std::vector<std::string>{}, item->slots));
        if (detail.get<model::Surfaces>()) replaced.idleSurfaces += idleSlots(*detail.get<model::Surfaces>(), *item);
        detail.drop<model::Solid>();
        detail.prefab.link = item->prefab ? instanceOf(item->prefab)->prefab.link : nullptr;
        remade.push_back(id);
        details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
    }
    if (!remade.empty())
        if (Status done = draft.setDetails(remade, details); !done) return tl::unexpected(done.error());
    for (const auto& [field, values] : {std::pair{model::LabelField::Item, &items},
                                        {model::LabelField::Kind, &kinds},
                                        {model::LabelField::Name, &called}})
        if (Status done = draft.setLabels(field, ids, *values); !done) return tl::unexpected(done.error());
    return replaced;
}

Status remove(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    if (Status allowed = refuseMoving(scene, ids, "removed"); !allowed) return allowed;
    return draft.remove(ids);
}

Result<Ids> duplicate(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    FreeNames& names = draft.freeNames();
    Ids made;
    edit::CopyOf copyOf;
    std::vector<model::ObjectRecord> objects;
    const Ids tops = topmost(scene, ids);
    for (ObjectId top : tops) {
        if (Status on = draft.goOn(); !on) return tl::unexpected(on.error());
        made.push_back(session.random().nextId());
        edit::appendCopy(session, scene, scene.find(top), made.back(), names, objects, copyOf);
    }
    edit::linkCopies(scene, copyOf, objects);
    constexpr std::size_t kAtOnce = 10'000;  // so that who watches hears of it meanwhile
    for (std::span<const model::ObjectRecord> rest(objects); !rest.empty();
         rest = rest.subspan(std::min(kAtOnce, rest.size())))
        if (Status done = draft.create(rest.first(std::min(kAtOnce, rest.size()))); !done)
            return tl::unexpected(done.error());
    return made;
}

Result<Ids> insert(edit::Draft& draft, std::vector<model::ObjectRecord> objects, ObjectId parent,
                   const base::Vec3& by) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    base::Affine intoParent;
    if (parent) {
        const Slot slot = scene.find(parent);
        if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The group to paste into is gone.");
        if (auto inv = base::inverse(scene.world(slot))) intoParent = *inv;
    }
    FreeNames& names = draft.freeNames();
    Ids made;
    edit::CopyOf copyOf;
    for (model::ObjectRecord& r : objects) {
        const ObjectId fresh = session.random().nextId();
        copyOf[r.id] = fresh;
        r.id = fresh;
        r.before = {};
        auto owner = copyOf.find(r.parent);
        if (r.parent && owner != copyOf.end()) {
            r.parent = owner->second;
            continue;
        }
        r.parent = parent;
        r.local.position += by;
        if (parent) r.local = base::toTransform(intoParent * base::toAffine(r.local));
        r.name = session.intern(names.next(session.names().text(r.name)));
        made.push_back(fresh);
    }
    edit::linkCopies(scene, copyOf, objects);
    if (Status done = draft.create(objects); !done) return tl::unexpected(done.error());
    return made;
}

base::Result<std::string> usableName(std::string_view name) {
    while (!name.empty() && name.front() == ' ') name.remove_prefix(1);
    while (!name.empty() && name.back() == ' ') name.remove_suffix(1);
    if (name.empty()) return fail(ErrorCode::BadInput, "An object needs a name.");
    if (name.size() > 200) return fail(ErrorCode::BadInput, "A name can be 200 bytes long at most.");
    for (char c : name)
        if (static_cast<unsigned char>(c) < 0x20)
            return fail(ErrorCode::BadInput, "A name cannot hold line breaks or control characters.");
    if (!base::isValidUtf8(name)) return fail(ErrorCode::BadInput, "A name must be UTF-8 text.");
    return std::string(name);
}

Status rename(edit::Draft& draft, ObjectId id, std::string_view name) {
    auto usable = usableName(name);
    if (!usable) return tl::unexpected(usable.error());
    const base::Name value = draft.session().intern(*usable);
    return draft.setLabels(model::LabelField::Name, {&id, 1}, {&value, 1});
}

Status reparent(edit::Draft& draft, std::span<const ObjectId> ids, ObjectId parent, ObjectId before) {
    if (!draft.state()) return draft.state();
    const model::Scene& scene = draft.scene();
    const Ids tops = topmost(scene, ids);
    if (Status allowed = refuseProtected(scene, tops, "moved in the tree"); !allowed) return allowed;
    const Slot target = parent ? scene.find(parent) : kNoSlot;
    if (parent && target == kNoSlot) return fail(ErrorCode::NotFound, "The new parent is gone.");
    base::Affine toParent;
    if (parent) {
        auto inv = base::inverse(scene.world(target));
        if (!inv) return fail(ErrorCode::Refused, fmt::format("“{}” has no usable size.", scene.nameText(target)));
        toParent = *inv;
    }
    std::vector<base::Transform> locals;
    for (ObjectId id : tops) {
        const Slot s = scene.find(id);
        if (target != kNoSlot && scene.isWithin(target, s))
            return fail(ErrorCode::Refused, fmt::format("“{}” cannot be put below itself.", scene.nameText(s)));
        if (scene.parent(s) == target) {
            locals.push_back(scene.local(s));
            continue;
        }
        const base::Affine own = toParent * scene.world(s);
        if (base::hasShear(own))
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” would have to be sheared to keep its place there, which a pose cannot hold.",
                                    scene.nameText(s)));
        locals.push_back(base::toTransform(own));
    }
    // The sibling to stand in front of must not be one of those that move.
    while (before && std::find(tops.begin(), tops.end(), before) != tops.end()) {
        const Slot next = scene.nextSibling(scene.find(before));
        before = next == kNoSlot ? ObjectId{} : scene.id(next);
    }
    const std::vector<model::TreePlace> places(tops.size(), model::TreePlace{parent, before});
    if (Status moved = draft.moveInTree(tops, places); !moved) return moved;
    return draft.setTransforms(tops, locals);
}

Status setFlag(edit::Draft& draft, std::span<const ObjectId> ids, std::uint8_t flag, bool on) {
    if (!draft.state()) return draft.state();
    std::vector<std::uint8_t> values;
    for (ObjectId id : ids) {
        if (Status fine = draft.goOn(); !fine) return fine;
        const Slot s = draft.scene().find(id);
        if (s == kNoSlot) return fail(ErrorCode::NotFound, fmt::format("There is no object {}.", base::toText(id)));
        const std::uint8_t now = draft.scene().flagsOf(s);
        values.push_back(static_cast<std::uint8_t>(on ? now | flag : now & ~flag));
    }
    return draft.setFlags(ids, values);
}

bool takesTint(const edit::Session& session, const model::Scene& scene, Slot slot) {
    const model::Kind* kind = session.library().kind(scene.kind(slot));
    return kind == nullptr || kind->tints;
}

Status setTint(edit::Draft& draft, std::span<const ObjectId> ids, const std::optional<base::Vec3>& tint) {
    if (!draft.state()) return draft.state();
    for (int k = 0; tint && k < 3; ++k)
        if (!((*tint)[k] >= 0 && (*tint)[k] <= 1))
            return fail(ErrorCode::BadInput, fmt::format("A tint has parts from 0 to 1, not {}.", (*tint)[k]));
    if (Status allowed = refuseProtected(draft.scene(), ids, "tinted"); !allowed) return allowed;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot s = draft.scene().find(id);
        if (tint && !takesTint(draft.session(), draft.scene(), s))
            return fail(ErrorCode::Refused, fmt::format("“{}” is of the kind {}, which is not tinted.",
                                                        draft.scene().nameText(s), draft.scene().kindText(s)));
        const model::DetailPtr& now = draft.scene().detail(s);
        model::Detail detail = now ? *now : model::Detail{};
        detail.put(tint ? std::optional(model::Tint{*tint}) : std::nullopt);
        details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
    }
    return draft.setDetails(ids, details);
}

}  // namespace ops
