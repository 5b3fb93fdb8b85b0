#include "ops/prefab.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "base/files.h"
#include "base/text.h"
#include "base/tidy.h"
#include "model/facets/array.h"
#include "ops/group.h"
#include "ops/names.h"
#include "ops/prefab_parts.h"

namespace ops {

base::Vec3 basePointOf(const base::Aabb& solid, const BaseChoice& choice) {
    if (choice.picked) return *choice.picked;
    const base::Vec3 middle = (solid.low + solid.high) / 2.0;
    auto along = [&](int axis, int which) {
        return which == 0 ? solid.low[axis] : which == 2 ? solid.high[axis] : middle[axis];
    };
    base::Vec3 point(along(0, choice.across), 0, along(2, choice.along));
    if (choice.height != BaseChoice::Height::WorldZero) point.y = along(1, static_cast<int>(choice.height));
    return base::tidied(point);
}

base::Aabb solidBounds(const model::Scene& scene, std::span<const ObjectId> ids) {
    base::Aabb box, origins;
    for (ObjectId id : ids) {
        const Slot s = scene.find(id);
        if (s == kNoSlot) continue;
        box.add(scene.subtreeBounds(s));
        origins.add(scene.world(s).translation);
    }
    return box.empty() ? origins : box;
}

bool tiles(const base::Aabb& solid, double stepMetres) {
    auto whole = [&](double metres) {
        const double steps = metres / stepMetres;
        return steps > 0.5 && std::abs(steps - std::round(steps)) < 1e-3;
    };
    return whole(solid.size().x) && whole(solid.size().z);
}

std::string freePrefabName(const edit::Session& session, std::string_view pattern) {
    const std::size_t first = pattern.find('#');
    std::string before(pattern.substr(0, first)), after;
    std::size_t digits = 0;
    int from = 1;
    if (first != std::string_view::npos) {
        while (first + digits < pattern.size() && pattern[first + digits] == '#') ++digits;
        after = pattern.substr(first + digits);
    } else {
        if (!session.prefabNamed(before)) return before;
        const base::NumberedName numbered = base::splitNumber(before);  // "Stall 2" is followed by "Stall 3"
        from = numbered.number >= 0 ? numbered.number + 1 : 2;
        before = numbered.number >= 0 ? numbered.stem : before + ' ';
    }
    for (int n = from;; ++n) {
        std::string name = fmt::format("{}{:0{}}{}", before, n, std::max<std::size_t>(1, digits), after);
        if (!session.prefabNamed(name)) return name;
    }
}

Status usablePrefabName(const edit::Session& session, std::string_view name, ObjectId self) {
    if (!base::isPlainFileName(name))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be a prefab's name: letters, digits, spaces, dots, "
                                                     "dashes and underscores can.",
                                                     name));
    const ObjectId other = session.prefabNamed(name);
    if (other && other != self) return fail(ErrorCode::Refused, fmt::format("There is a prefab “{}” already.", name));
    return {};
}

namespace {

/// The axes of a definition made of `tops`: at the base point, turned like the object if it is only one.
base::Transform frameOf(const model::Scene& scene, const Ids& tops, const base::Vec3& basePoint) {
    base::Transform frame;
    frame.position = basePoint;
    if (tops.size() != 1) return frame;
    const base::Affine& world = scene.world(scene.find(tops[0]));
    if (!base::hasShear(world)) frame.rotation = base::toTransform(world).rotation;
    return frame;
}

/// What a selection is as the contents of a definition. Objects get the ids for which joined(instance, id) is their
/// own, so that they are the same objects once inside it; those out of another instance are new ones.
Result<std::vector<model::ObjectRecord>> packed(edit::Draft& draft, const Ids& tops, const base::Transform& frame,
                                                ObjectId instance) {
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    const auto into = base::inverse(base::toAffine(frame));
    std::vector<model::ObjectRecord> objects;
    std::unordered_map<ObjectId, ObjectId> inner;
    for (ObjectId top : tops)
        for (Slot s : scene.ownSubtree(scene.find(top))) {
            model::ObjectRecord r = model::ownRecord(scene, s, session.definitions());
            r.before = {};
            if (r.id == top) {
                const base::Affine local = *into * scene.world(s);
                if (base::hasShear(local))
                    return fail(ErrorCode::BadInput,
                                fmt::format("“{}” would have to be sheared to stay as it is, which a pose cannot hold.",
                                            scene.nameText(s)));
                r.parent = {};
                r.local = base::toTransform(local);
            } else {
                r.parent = inner[r.parent];
            }
            const ObjectId kept = draft.isOwn(r.id) ? base::innerOf(instance, r.id) : session.random().nextId();
            inner[r.id] = kept;
            r.id = kept;
            objects.push_back(std::move(r));
        }
    edit::linkCopies(scene, inner, objects);  // links among them stay among them
    return objects;
}

/// Puts an instance where the selection stood, and the selection away.
Status replaceBy(edit::Draft& draft, const Ids& tops, ObjectId prefab, ObjectId instance,
                 const base::Transform& frame) {
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    for (ObjectId id : tops)
        if (scene.find(id) == kNoSlot)
            return fail(ErrorCode::Refused, fmt::format("What is selected belongs to “{}” itself, which cannot hold an "
                                                        "instance of itself.",
                                                        session.prefabName(prefab)));
    const Slot first = scene.find(tops.front());
    model::ObjectRecord r;
    r.id = instance;
    r.name = session.intern(draft.freeNames().next(session.prefabName(prefab)));
    r.detail = instanceOf(prefab);
    r.local = frame;
    Slot parent = scene.parent(first);
    while (parent != kNoSlot &&
           std::any_of(tops.begin(), tops.end(), [&](ObjectId id) { return !scene.isWithin(scene.find(id), parent); }))
        parent = scene.parent(parent);
    if (parent != kNoSlot) {
        const auto into = base::inverse(scene.world(parent));
        const base::Affine local = into ? *into * base::toAffine(frame) : base::toAffine(frame);
        if (!into || base::hasShear(local))
            return fail(ErrorCode::BadInput, fmt::format("Below “{}”, which is sized unevenly and turned, an instance "
                                                         "cannot keep its place: move the objects out of it first.",
                                                         scene.nameText(parent)));
        r.parent = scene.id(parent);
        r.local = base::toTransform(local);
    }
    if (Status gone = draft.remove(tops); !gone) return gone;
    return draft.create({&r, 1});
}

Result<Ids> packable(const model::Scene& scene, std::span<const ObjectId> ids) {
    const Ids tops = topmost(scene, ids);
    if (tops.empty()) return fail(ErrorCode::Refused, "Select what the prefab is to be made of.");
    if (Status free = refuseProtected(scene, tops, "made into a prefab"); !free) return tl::unexpected(free.error());
    return tops;
}

/// What goes into a definition made of `tops`: of a plain group its children, for the instance takes the group's place.
Ids contentsOf(const model::Scene& scene, const Ids& tops) {
    const Slot slot = scene.find(tops.front());
    const bool group = tops.size() == 1 && isBareGroup(scene, slot) && !scene.isInstance(slot) &&
                       scene.firstChild(slot) != kNoSlot && (!scene.facet<model::Array>(slot));
    if (!group) return tops;
    Ids children;
    for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) children.push_back(scene.id(s));
    return children;
}

/// The instance that stands for what is packed: a group stays itself, so that what leads to it still does.
ObjectId instanceFor(edit::Draft& draft, const Ids& tops, const Ids& contents, bool replace) {
    return replace && contents != tops && draft.isOwn(tops.front()) ? tops.front() : draft.session().random().nextId();
}

Result<MadePrefab> makeHere(edit::Draft& draft, const Ids& ids, const MakePrefab& how) {
    edit::Session& session = draft.session();
    if (Status usable = usablePrefabName(session, how.name); !usable) return tl::unexpected(usable.error());
    auto tops = packable(draft.scene(), ids);
    if (!tops) return tl::unexpected(tops.error());
    MadePrefab made;
    const Ids contents = contentsOf(draft.scene(), *tops);
    const ObjectId instance = instanceFor(draft, *tops, contents, how.replace);
    const base::Transform frame = frameOf(draft.scene(), *tops, how.basePoint);
    auto objects = packed(draft, contents, frame, instance);
    if (!objects) return tl::unexpected(objects.error());
    made.prefab = session.newDefinition();
    Status done = inDefinition(draft, made.prefab, [&]() -> Status {
        if (Status set = draft.setSettings(headed(session, made.prefab, how.name, how.folder)); !set) return set;
        return draft.create(*objects);
    });
    if (done && how.replace) {
        done = replaceBy(draft, *tops, made.prefab, instance, frame);
        made.instance = instance;
    }
    if (!done) return tl::unexpected(done.error());
    return made;
}

Result<MadePrefab> updateHere(edit::Draft& draft, ObjectId prefab, const Ids& ids, const MakePrefab& how) {
    edit::Session& session = draft.session();
    if (!session.definitions().contains(prefab)) return fail(ErrorCode::NotFound, "There is no such prefab.");
    auto tops = packable(draft.scene(), ids);
    if (!tops) return tl::unexpected(tops.error());
    const model::Scene& scene = draft.scene();
    for (ObjectId id : *tops)
        for (Slot s = scene.parent(scene.find(id)); s != kNoSlot; s = scene.parent(s))
            if (scene.isInstance(s) &&
                !model::chain(session.definitions(), scene.detail(s)->prefab->of, prefab).empty())
                return fail(ErrorCode::Refused,
                            fmt::format("“{}” lies inside an instance of “{}” itself: change the definition instead.",
                                        scene.nameText(scene.find(id)), session.prefabName(prefab)));
    const Ids contents = contentsOf(draft.scene(), *tops);
    const ObjectId instance = instanceFor(draft, *tops, contents, how.replace);
    const base::Transform frame = frameOf(draft.scene(), *tops, how.basePoint);
    auto objects = packed(draft, contents, frame, instance);
    if (!objects) return tl::unexpected(objects.error());
    Status done = inDefinition(draft, prefab, [&]() -> Status {
        const model::Scene& old = draft.scene();
        std::unordered_map<ObjectId, ObjectId> same;
        std::unordered_set<ObjectId> taken;
        for (const model::ObjectRecord& r : *objects)
            for (Slot s : old.ownSubtree(kNoSlot)) {
                if (old.nameOf(s) != r.name || old.kind(s) != r.kind || old.item(s) != r.item) continue;
                if (!taken.insert(old.id(s)).second) continue;
                same[r.id] = old.id(s);
                break;
            }
        for (model::ObjectRecord& r : *objects) {
            if (auto place = same.find(r.id); place != same.end()) r.id = place->second;
            if (auto place = same.find(r.parent); place != same.end()) r.parent = place->second;
        }
        Ids roots;
        for (Slot s = old.firstChild(kNoSlot); s != kNoSlot; s = old.nextSibling(s)) roots.push_back(old.id(s));
        if (Status gone = draft.remove(roots); !gone) return gone;
        return draft.create(*objects);
    });
    MadePrefab made{prefab, {}};
    if (done && how.replace) {
        done = replaceBy(draft, *tops, prefab, instance, frame);
        made.instance = instance;
    }
    if (!done) return tl::unexpected(done.error());
    return made;
}

/// `how` with its base point as the definition sees it that is edited at `instance`.
MakePrefab within(const model::Scene& scene, ObjectId instance, MakePrefab how) {
    const Slot slot = instance ? scene.find(instance) : kNoSlot;
    const auto into = slot != kNoSlot ? base::inverse(scene.world(slot)) : std::nullopt;
    if (into) how.basePoint = into->linear * how.basePoint + into->translation;
    return how;
}

template <class Make>
Result<MadePrefab> makeWhereHeld(edit::Draft& draft, std::span<const ObjectId> ids, const MakePrefab& how,
                                 const Make& make) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    return whereHeld<Result<MadePrefab>>(draft, ids, [&](const Ids& held, ObjectId instance) -> Result<MadePrefab> {
        auto made = make(held, within(scene, instance, how));
        if (made && made->instance) made->instance = seenFrom(instance, {made->instance})[0];
        return made;
    });
}

}  // namespace

Result<MadePrefab> makePrefab(edit::Draft& draft, std::span<const ObjectId> ids, const MakePrefab& how) {
    return makeWhereHeld(draft, ids, how,
                         [&](const Ids& held, const MakePrefab& there) { return makeHere(draft, held, there); });
}

Result<MadePrefab> updatePrefab(edit::Draft& draft, ObjectId prefab, std::span<const ObjectId> ids,
                                const MakePrefab& how) {
    return makeWhereHeld(draft, ids, how, [&](const Ids& held, const MakePrefab& there) {
        return updateHere(draft, prefab, held, there);
    });
}

Result<ObjectId> makeEdition(edit::Draft& draft, ObjectId prefab, const std::string& name, ObjectId instance) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    edit::Session& session = draft.session();
    auto place = session.definitions().find(prefab);
    if (place == session.definitions().end()) return fail(ErrorCode::NotFound, "There is no such prefab.");
    if (Status usable = usablePrefabName(session, name); !usable) return tl::unexpected(usable.error());
    const std::string folder = place->second->settings().prefab->folder;
    model::DetailPtr detail = instanceOf(prefab);
    if (const Slot s = instance ? draft.scene().find(instance) : kNoSlot; s != kNoSlot) {
        if (!draft.scene().isInstance(s) || draft.scene().detail(s)->prefab->of != prefab)
            return fail(ErrorCode::Refused, fmt::format("“{}” is no instance of “{}”.", draft.scene().nameText(s),
                                                        session.prefabName(prefab)));
        auto link = std::make_shared<model::Detail>();
        link->prefab = model::ownRecord(draft.scene(), s, session.definitions()).detail->prefab;
        detail = std::move(link);
    }
    const ObjectId edition = session.newDefinition();
    Status done = inDefinition(draft, edition, [&]() -> Status {
        if (Status set = draft.setSettings(headed(session, edition, name, folder)); !set) return set;
        model::ObjectRecord r;
        r.id = session.random().nextId();
        r.name = session.intern(session.prefabName(prefab));
        r.detail = detail;
        return draft.create({&r, 1});
    });
    if (!done) return tl::unexpected(done.error());
    return edition;
}

namespace {

/// "Lantern post 7": "Lantern post", as far as a file can be called so.
std::string fileNameLike(std::string_view text) {
    std::string name;
    for (char c : base::splitNumber(text).stem)
        if (base::isPlainFileName("a" + std::string(1, c) + "a")) name += c;
    const auto atEdge = [](char c) { return c == '.' || c == ' '; };
    while (!name.empty() && atEdge(name.front())) name.erase(0, 1);
    while (!name.empty() && atEdge(name.back())) name.pop_back();
    return name.empty() ? "Prefab" : name;
}

}  // namespace

Result<Ids> linkedCopies(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    Ids originals;
    for (ObjectId id : topmost(draft.scene(), ids)) {
        const model::Scene& scene = draft.scene();
        const Slot slot = scene.find(id);
        if (scene.isInstance(slot)) {
            originals.push_back(id);
            continue;
        }
        MakePrefab how;
        how.name = freePrefabName(draft.session(), fileNameLike(scene.nameText(slot)));
        how.basePoint = basePointOf(solidBounds(scene, {&id, 1}), {});
        auto made = makePrefab(draft, {&id, 1}, how);
        if (!made) return tl::unexpected(made.error());
        originals.push_back(made->instance);
    }
    return duplicate(draft, originals);
}

}  // namespace ops
