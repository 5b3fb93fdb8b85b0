#include "ops/prefab.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

#include "base/files.h"

namespace ops {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;
using model::kNoSlot;
using model::Slot;

base::Vec3 basePointOf(const base::Aabb& solid, const BaseChoice& choice) {
    if (choice.picked) return *choice.picked;
    const base::Vec3 middle = (solid.low + solid.high) / 2.0;
    auto along = [&](int axis, int which) {
        return which == 0 ? solid.low[axis] : which == 2 ? solid.high[axis] : middle[axis];
    };
    base::Vec3 point(along(0, choice.across), 0, along(2, choice.along));
    if (choice.height != BaseChoice::Height::WorldZero) point.y = along(1, static_cast<int>(choice.height));
    return point;
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
    if (first != std::string_view::npos) {
        while (first + digits < pattern.size() && pattern[first + digits] == '#') ++digits;
        after = pattern.substr(first + digits);
    } else {
        if (!session.prefabNamed(before)) return before;
        before += ' ';
    }
    for (int n = first == std::string_view::npos ? 2 : 1;; ++n) {
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

model::SceneSettings headed(const edit::Session& session, ObjectId prefab, const std::string& name,
                            const std::string& folder) {
    auto place = session.definitions().find(prefab);
    model::SceneSettings settings =
        place != session.definitions().end() ? place->second->settings() : model::SceneSettings{};
    settings.prefab = model::PrefabHead{name, folder};
    return settings;
}

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
    return objects;
}

/// Puts an instance where the selection stood, and the selection away.
Status replaceBy(edit::Draft& draft, const Ids& tops, ObjectId prefab, ObjectId instance,
                 const base::Transform& frame) {
    const model::Scene& scene = draft.scene();
    edit::Session& session = draft.session();
    const Slot first = scene.find(tops.front());
    model::ObjectRecord r;
    r.id = instance;
    r.name = session.intern(FreeNames(scene).next(session.prefabName(prefab)));
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

/// While a definition is edited in place, what takes up whole objects works in the definition itself, on what it holds:
/// what differs in the instance one looks at is not its business. `verb` gets the ids to work on; ids in its result
/// are of the document it worked in, for which `there` is the instance (zero: the draft's own).
template <class R, class Verb>
R whereHeld(edit::Draft& draft, std::span<const ObjectId> ids, const Verb& verb) {
    const model::Scene& scene = draft.scene();
    const ObjectId edited = draft.session().definitionEditedAt();
    const Slot instance = edited ? scene.find(edited) : kNoSlot;
    Ids inner;
    for (ObjectId id : ids)
        if (const Slot s = scene.find(id); instance != kNoSlot && s != kNoSlot && s != instance)
            if (scene.isWithin(s, instance)) inner.push_back(base::innerOf(edited, id));
    if (inner.empty()) return verb(Ids(ids.begin(), ids.end()), ObjectId{});
    if (inner.size() != ids.size())
        return fail(ErrorCode::Refused, "Some of these are in the definition that is being edited, and some are not.");
    const ObjectId prefab = scene.detail(instance)->prefab->of;
    auto definition = draft.session().definitions().find(prefab);
    for (std::size_t i = 0; i < ids.size(); ++i)
        if (definition == draft.session().definitions().end() || definition->second->find(inner[i]) == kNoSlot)
            return fail(ErrorCode::Refused,
                        fmt::format("“{}” is in this instance only: give it to the definition first.",
                                    scene.nameText(scene.find(ids[i]))));
    const std::string here = scene.name();
    if (Status turned = draft.turnTo(model::definitionKey(prefab)); !turned) return tl::unexpected(turned.error());
    R result = verb(inner, edited);
    if (Status back = draft.turnTo(here); !back) return tl::unexpected(back.error());
    return result;
}

/// Ids, or a point, of a definition as they are around one of its instances.
Ids seenFrom(ObjectId instance, Ids ids) {
    if (instance)
        for (ObjectId& id : ids) id = base::joined(instance, id);
    return ids;
}

Result<Ids> packable(const model::Scene& scene, std::span<const ObjectId> ids) {
    const Ids tops = topmost(scene, ids);
    if (tops.empty()) return fail(ErrorCode::Refused, "Select what the prefab is to be made of.");
    if (Status free = refuseProtected(scene, tops, "made into a prefab"); !free) return tl::unexpected(free.error());
    return tops;
}

Status inDefinition(edit::Draft& draft, ObjectId prefab, const std::function<Status()>& write) {
    const std::string here = draft.scene().name();
    if (Status turned = draft.turnTo(model::definitionKey(prefab)); !turned) return turned;
    Status done = write();
    if (Status back = draft.turnTo(here); !back) return back;
    return done;
}

}  // namespace

namespace {

Result<MadePrefab> makeHere(edit::Draft& draft, const Ids& ids, const MakePrefab& how) {
    edit::Session& session = draft.session();
    if (Status usable = usablePrefabName(session, how.name); !usable) return tl::unexpected(usable.error());
    auto tops = packable(draft.scene(), ids);
    if (!tops) return tl::unexpected(tops.error());
    MadePrefab made;
    const ObjectId instance = session.random().nextId();
    const base::Transform frame = frameOf(draft.scene(), *tops, how.basePoint);
    auto objects = packed(draft, *tops, frame, instance);
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
    const ObjectId instance = session.random().nextId();
    const base::Transform frame = frameOf(draft.scene(), *tops, how.basePoint);
    auto objects = packed(draft, *tops, frame, instance);
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

Result<ObjectId> makeEdition(edit::Draft& draft, ObjectId prefab, const std::string& name) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    edit::Session& session = draft.session();
    auto place = session.definitions().find(prefab);
    if (place == session.definitions().end()) return fail(ErrorCode::NotFound, "There is no such prefab.");
    if (Status usable = usablePrefabName(session, name); !usable) return tl::unexpected(usable.error());
    const std::string folder = place->second->settings().prefab->folder;
    const ObjectId edition = session.newDefinition();
    Status done = inDefinition(draft, edition, [&]() -> Status {
        if (Status set = draft.setSettings(headed(session, edition, name, folder)); !set) return set;
        model::ObjectRecord r;
        r.id = session.random().nextId();
        r.name = session.intern(session.prefabName(prefab));
        r.detail = instanceOf(prefab);
        return draft.create({&r, 1});
    });
    if (!done) return tl::unexpected(done.error());
    return edition;
}

namespace {

std::string fileNameLike(std::string_view text) {
    std::string name;
    for (char c : text)
        if (base::isPlainFileName("a" + std::string(1, c))) name += c;
    while (!name.empty() && (name.front() == '.' || name.front() == ' ')) name.erase(0, 1);
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

namespace {

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

Status noInstance(const model::Scene& scene, Slot s) {
    return fail(ErrorCode::Refused, fmt::format("“{}” is no instance of a prefab.", scene.nameText(s)));
}

}  // namespace

namespace {

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
        model::PrefabLink link = model::gatherLink(scene, slot, prefab, draft.session().definitions());
        Ids children;
        for (Slot s = scene.firstChild(slot); s != kNoSlot; s = scene.nextSibling(s)) children.push_back(scene.id(s));
        if (Status gone = draft.remove(children); !gone) return gone;
        if (Status made = setLink(draft, id, std::move(link)); !made) return made;
        const auto flags = static_cast<std::uint8_t>(scene.flagsOf(slot) & ~model::flags::kWhole);
        if (Status set = draft.setFlags({&id, 1}, {&flags, 1}); !set) return set;
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
        if (d.value.id && (d.parts & model::part::kPlace) == 0)
            model::put(link, std::move(d), model::part::kAll);
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
    FreeNames names(scene);
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

std::vector<DifferenceEntry> differences(const edit::Session& session, const model::PrefabLink& link) {
    const auto lost = model::withoutTarget(link, session.definitions());
    const std::unordered_set<ObjectId> gone(lost.begin(), lost.end());
    std::vector<DifferenceEntry> all;
    for (const model::Difference& d : link.changed)
        for (std::uint32_t part = 1; part <= model::part::kProperties; part *= 2) {
            if ((d.parts & part) == 0) continue;
            DifferenceEntry entry{DifferenceEntry::What::Changed, d.value.id, part, {}, gone.contains(d.value.id)};
            if (part != model::part::kProperties) {
                all.push_back(entry);
                continue;
            }
            std::vector<std::string> keys = d.goneProperties;
            if (d.value.detail)
                for (const auto& [key, value] : d.value.detail->properties) keys.push_back(key);
            for (std::string& key : keys) {
                entry.property = std::move(key);
                all.push_back(entry);
            }
        }
    for (const model::ObjectRecord& r : link.added)
        all.push_back({DifferenceEntry::What::Added, r.id, 0, {}, gone.contains(r.id)});
    for (ObjectId id : link.removed) all.push_back({DifferenceEntry::What::Removed, id, 0, {}, gone.contains(id)});
    return all;
}

namespace {

void forgetEntry(model::PrefabLink& link, const DifferenceEntry& entry) {
    if (entry.what == DifferenceEntry::What::Removed) {
        std::erase(link.removed, entry.inner);
        return;
    }
    if (entry.what == DifferenceEntry::What::Added) {
        std::unordered_set<ObjectId> below{entry.inner};
        for (const model::ObjectRecord& r : link.added)
            if (below.contains(r.parent)) below.insert(r.id);
        std::erase_if(link.added, [&](const auto& r) { return below.contains(r.id); });
        std::erase_if(link.changed, [&](const auto& d) { return below.contains(d.value.id); });
        return;
    }
    auto place = std::find_if(link.changed.begin(), link.changed.end(),
                              [&](const auto& d) { return d.value.id == entry.inner; });
    if (place == link.changed.end()) return;
    model::Difference rest;
    rest.value.id = entry.inner;
    if (!entry.property.empty()) {
        model::Detail detail;
        if (place->value.detail) detail.properties = place->value.detail->properties;
        std::erase_if(detail.properties, [&](const auto& p) { return p.first == entry.property; });
        rest.goneProperties = place->goneProperties;
        std::erase(rest.goneProperties, entry.property);
        if (!detail.properties.empty() || !rest.goneProperties.empty()) rest.parts = model::part::kProperties;
        if (!detail.empty()) rest.value.detail = std::make_shared<const model::Detail>(std::move(detail));
    }
    model::put(link, std::move(rest), entry.part);
}

Result<const model::PrefabLink*> linkOf(const model::Scene& scene, ObjectId instance) {
    const Slot slot = scene.find(instance);
    if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The instance is gone.");
    if (!scene.isInstance(slot)) return tl::unexpected(noInstance(scene, slot).error());
    return &*scene.detail(slot)->prefab;
}

/// Writes one difference to the definition, where the draft stands.
Status give(edit::Draft& draft, const model::PrefabLink& link, const DifferenceEntry& entry) {
    if (entry.what == DifferenceEntry::What::Removed) return draft.remove({&entry.inner, 1});
    if (entry.what == DifferenceEntry::What::Added) {
        std::vector<model::ObjectRecord> objects;
        std::unordered_set<ObjectId> below{entry.inner};
        for (const model::ObjectRecord& r : link.added) {
            if (r.id != entry.inner && !below.contains(r.parent)) continue;
            below.insert(r.id);
            objects.push_back(r);
        }
        return draft.create(objects);
    }
    auto place = std::find_if(link.changed.begin(), link.changed.end(),
                              [&](const auto& d) { return d.value.id == entry.inner; });
    if (place == link.changed.end()) return {};
    const model::Scene& scene = draft.scene();
    const Slot slot = scene.find(entry.inner);
    if (slot == kNoSlot)
        return fail(ErrorCode::Refused, "What the definition does not hold any more cannot be changed there.");
    model::Difference one = *place;
    one.parts = entry.part;
    if (!entry.property.empty()) {
        model::Detail only;
        if (place->value.detail)
            for (const auto& p : place->value.detail->properties)
                if (p.first == entry.property) only.properties.push_back(p);
        std::erase_if(one.goneProperties, [&](const std::string& key) { return key != entry.property; });
        one.value.detail = std::make_shared<const model::Detail>(std::move(only));
    }
    model::ObjectRecord now = scene.record(slot);
    model::apply(one, now);
    namespace part = model::part;
    const std::span<const ObjectId> id(&entry.inner, 1);
    if ((entry.part & part::kPose) != 0) return draft.setTransforms(id, {&now.local, 1});
    if (entry.part == part::kName) return draft.setLabels(model::LabelField::Name, id, {&now.name, 1});
    if (entry.part == part::kKind) return draft.setLabels(model::LabelField::Kind, id, {&now.kind, 1});
    if (entry.part == part::kItem) return draft.setLabels(model::LabelField::Item, id, {&now.item, 1});
    if (entry.part == part::kFlags) return draft.setFlags(id, {&now.flags, 1});
    if (entry.part == part::kPlace) {
        const model::TreePlace there{now.parent, scene.find(now.before) != kNoSlot ? now.before : ObjectId{}};
        return draft.moveInTree(id, {&there, 1});
    }
    return draft.setDetails(id, {&now.detail, 1});
}

}  // namespace

Status takeBack(edit::Draft& draft, ObjectId instance, std::span<const DifferenceEntry> entries) {
    if (!draft.state()) return draft.state();
    auto held = linkOf(draft.scene(), instance);
    if (!held) return tl::unexpected(held.error());
    if (Status free = refuseProtected(draft.scene(), {&instance, 1}, "changed"); !free) return free;
    model::PrefabLink link = **held;
    for (const DifferenceEntry& entry : entries) forgetEntry(link, entry);
    return setLink(draft, instance, std::move(link));
}

Status giveToDefinition(edit::Draft& draft, ObjectId instance, std::span<const DifferenceEntry> entries) {
    if (!draft.state()) return draft.state();
    auto held = linkOf(draft.scene(), instance);
    if (!held) return tl::unexpected(held.error());
    for (const DifferenceEntry& entry : entries)
        if (entry.gone)
            return fail(ErrorCode::Refused, "What the definition does not hold any more cannot be changed there.");
    const model::PrefabLink link = **held;
    model::PrefabLink rest = link;
    for (const DifferenceEntry& entry : entries) forgetEntry(rest, entry);
    // The instance lets go first: an object that it added would otherwise stand twice.
    if (Status done = setLink(draft, instance, std::move(rest)); !done) return done;
    return inDefinition(draft, link.of, [&]() -> Status {
        for (const DifferenceEntry& entry : entries)
            if (Status given = give(draft, link, entry); !given) return given;
        return {};
    });
}

Status renamePrefab(edit::Draft& draft, ObjectId prefab, const std::string& name, const std::string& folder) {
    if (!draft.state()) return draft.state();
    edit::Session& session = draft.session();
    if (!session.definitions().contains(prefab)) return fail(ErrorCode::NotFound, "There is no such prefab.");
    if (Status usable = usablePrefabName(session, name, prefab); !usable) return usable;
    return inDefinition(draft, prefab, [&] { return draft.setSettings(headed(session, prefab, name, folder)); });
}

namespace {

/// Every scene, then every definition.
std::vector<std::string> documents(const edit::Session& session) {
    std::vector<std::string> all = session.project().sceneNames;
    std::vector<std::string> keys;
    for (const auto& [prefab, scene] : session.definitions()) keys.push_back(scene->name());
    std::sort(keys.begin(), keys.end());
    all.insert(all.end(), keys.begin(), keys.end());
    return all;
}

template <class Find>
Result<std::vector<Use>> uses(edit::Session& session, const Find& find) {
    std::vector<Use> all;
    for (const std::string& name : documents(session)) {
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
