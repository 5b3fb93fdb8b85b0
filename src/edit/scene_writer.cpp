#include "edit/scene_writer.h"

#include "edit/names.h"
#include "model/facets/solid.h"

#include <fmt/format.h>

namespace edit {

Status SceneWriter::apply(const model::Change& change, Direction direction, SceneDelta& delta) {
    return std::visit([&](const auto& c) { return applyRows(c, direction, delta); }, change);
}

Result<Slot> SceneWriter::slotOf(ObjectId id) const {
    const Slot slot = scene_.find(id);
    if (slot == kNoSlot)
        return fail(ErrorCode::NotFound, fmt::format("There is no object {} in {}.", base::toText(id), scene_.name()));
    return slot;
}

Result<std::vector<Slot>> SceneWriter::slotsOf(const std::vector<ObjectId>& ids) const {
    std::vector<Slot> slots = scene_.find(ids);
    for (std::size_t i = 0; i < slots.size(); ++i)
        if (slots[i] == kNoSlot) return tl::unexpected(slotOf(ids[i]).error());
    return slots;
}

Status SceneWriter::create(const model::ObjectRecord& record, SceneDelta& delta) {
    // One that lay inside an instance comes to be by itself.
    if (const Slot held = scene_.find(record.id); deferred_ && held != kNoSlot)
        if (const Slot around = scene_.instanceAround(held); around != kNoSlot) {
            waiting_.insert(scene_.id(around));
            const auto all = scene_.subtree(held);
            for (std::size_t i = all.size(); i-- > 0;) (void)removeRow(scene_.id(all[i]), delta);
        }
    if (Status made = createRow(record, delta); !made) return made;
    if (!record.detail || !record.detail->prefab) return {};
    const Slot slot = scene_.find(record.id);
    note(slot);
    Status filled = refreshInstance(slot, delta);
    if (!filled) (void)remove(record.id, delta);
    return filled;
}

namespace {

Status tooDeep(std::string_view name) {
    return fail(ErrorCode::BadInput, fmt::format("“{}” would lie more than {} objects deep.", name, model::kDeepest));
}

/// How many objects lie below one another in `top`, itself not counted.
int heightOf(const model::Scene& scene, Slot top) {
    int height = 0;
    const int above = scene.depth(top);
    for (Slot s : scene.subtree(top))
        if (scene.firstChild(s) == kNoSlot) height = std::max(height, scene.depth(s) - above);
    return height;
}

}  // namespace

Status SceneWriter::createRow(const model::ObjectRecord& record, SceneDelta& delta) {
    if (!record.id) return fail(ErrorCode::BadInput, "An object without an id cannot be created.");
    if (scene_.find(record.id) != kNoSlot)
        return fail(ErrorCode::BadInput, fmt::format("Object {} exists already.", base::toText(record.id)));
    Slot parent = kNoSlot;
    if (record.parent) {
        auto found = slotOf(record.parent);
        if (!found) return tl::unexpected(found.error());
        parent = *found;
        if (scene_.depth(parent) + 1 >= model::kDeepest) return tooDeep(scene_.names().text(record.name));
    }
    const Slot before = scene_.find(record.before);
    if (record.before && (before == kNoSlot || scene_.parent(before) != parent))
        return fail(ErrorCode::BadInput,
                    fmt::format("{} is no child of the same parent.", base::toText(record.before)));

    Slot slot = scene_.slotEnd();
    if (!scene_.free_.empty()) {
        slot = scene_.free_.back();
        scene_.free_.pop_back();
    } else {
        const std::size_t rows = std::size_t{slot} + 1;
        scene_.id_.grow(rows);
        scene_.links_.grow(rows);
        scene_.local_.grow(rows);
        scene_.world_.grow(rows);
        scene_.bounds_.grow(rows);
        scene_.label_.grow(rows);
        scene_.detail_.grow(rows);
    }
    scene_.id_.edit(slot) = record.id;
    scene_.indexId(record.id, slot);
    scene_.links_.edit(slot) = {};
    scene_.local_.edit(slot) = record.local;
    scene_.label_.edit(slot) = {record.name, record.kind, record.item, record.flags};
    if (record.detail || scene_.detail_[slot]) scene_.detail_.edit(slot) = record.detail;
    if (record.detail && record.detail->get<model::Solid>() && sources_.solid)
        scene_.label_.edit(slot).item = sources_.solid(*record.detail->get<model::Solid>());
    scene_.link(slot, parent, before);
    ++scene_.count_;
    refreshOwn(slot);
    delta.created.push_back(slot);
    return {};
}

Status SceneWriter::remove(ObjectId id, SceneDelta& delta) {
    const Slot slot = scene_.find(id);
    if (slot != kNoSlot && scene_.isInstance(slot)) {
        emptyInstance(slot, delta);
        forget(slot);
    }
    return removeRow(id, delta);
}

Status SceneWriter::removeRow(ObjectId id, SceneDelta& delta) {
    auto slot = slotOf(id);
    if (!slot) return tl::unexpected(slot.error());
    if (scene_.firstChild(*slot) != kNoSlot)
        return fail(ErrorCode::BadInput, fmt::format("Object {} still has children.", base::toText(id)));
    scene_.unlink(*slot);
    scene_.unindexId(id);
    scene_.id_.edit(*slot) = {};
    scene_.bounds_.edit(*slot) = {};
    if (scene_.detail_[*slot]) scene_.detail_.edit(*slot) = nullptr;
    scene_.free_.push_back(*slot);
    --scene_.count_;
    delta.removed.push_back(*slot);
    delta.removedIds.push_back(id);
    return {};
}

Status SceneWriter::applyRows(const model::Existence& change, Direction direction, SceneDelta& delta) {
    const bool creating = change.created == (direction == Direction::Forward);
    const auto& objects = change.objects;
    delta.treeChanged = true;
    for (std::size_t i = 0; i < objects.size(); ++i) {
        Status done = creating ? create(objects[i], delta) : remove(objects[objects.size() - 1 - i].id, delta);
        if (done) continue;
        while (i-- > 0) {
            if (creating)
                (void)remove(objects[i].id, delta);
            else
                (void)create(objects[objects.size() - 1 - i], delta);
        }
        return done;
    }
    return {};
}

Status SceneWriter::applyRows(const model::SetTransforms& change, Direction direction, SceneDelta& delta) {
    const auto slots = slotsOf(change.ids);
    if (!slots) return tl::unexpected(slots.error());
    const auto& values = direction == Direction::Forward ? change.after : change.before;
    for (std::size_t i = 0; i < slots->size(); ++i) scene_.local_.edit((*slots)[i]) = values[i];
    refreshMoved(*slots, delta);
    return {};
}

Status SceneWriter::applyRows(const model::SetLabels& change, Direction direction, SceneDelta& delta) {
    const auto slots = slotsOf(change.ids);
    if (!slots) return tl::unexpected(slots.error());
    const auto& values = direction == Direction::Forward ? change.after : change.before;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const Slot slot = (*slots)[i];
        auto& label = scene_.label_.edit(slot);
        if (change.field == model::LabelField::Name) label.name = values[i];
        if (change.field == model::LabelField::Kind) label.kind = values[i];
        if (change.field == model::LabelField::Item) {
            label.item = values[i];
            refreshOwn(slot);
            delta.moved.push_back(slot);
        }
        delta.relabelled.push_back(slot);
    }
    return {};
}

Status SceneWriter::applyRows(const model::SetFlags& change, Direction direction, SceneDelta& delta) {
    const auto slots = slotsOf(change.ids);
    if (!slots) return tl::unexpected(slots.error());
    const auto& values = direction == Direction::Forward ? change.after : change.before;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const Slot slot = (*slots)[i];
        scene_.label_.edit(slot).flags = values[i];
        delta.relabelled.push_back(slot);
    }
    return {};
}

Status SceneWriter::applyRows(const model::SetDetails& change, Direction direction, SceneDelta& delta) {
    const auto slots = slotsOf(change.ids);
    if (!slots) return tl::unexpected(slots.error());
    const bool forward = direction == Direction::Forward;
    for (std::size_t i = 0; i < change.ids.size(); ++i) {
        Status done = setDetail(scene_.find(change.ids[i]), forward ? change.after[i] : change.before[i], delta);
        if (done) continue;
        for (++i; i-- > 0;)
            (void)setDetail(scene_.find(change.ids[i]), forward ? change.before[i] : change.after[i], delta);
        return done;
    }
    return {};
}

Status SceneWriter::setDetail(Slot slot, const model::DetailPtr& detail, SceneDelta& delta) {
    const model::DetailPtr old = scene_.detail(slot);
    const model::PrefabFacet none;
    const bool relinked = !((old ? old->prefab : none) == (detail ? detail->prefab : none));
    if (relinked && old && old->prefab) {
        if (!detail || !detail->prefab) emptyInstance(slot, delta);
        forget(slot);
    }
    scene_.detail_.edit(slot) = detail;
    delta.detailed.push_back(slot);
    const bool hadSolid = old && old->get<model::Solid>(), hasSolid = detail && detail->get<model::Solid>();
    if ((hadSolid || hasSolid) && sources_.solid) {
        scene_.label_.edit(slot).item = hasSolid ? sources_.solid(*detail->get<model::Solid>()) : base::Name{};
        refreshOwn(slot);
        delta.moved.push_back(slot);
    }
    if (!relinked || !detail || !detail->prefab) return {};
    note(slot);
    return refreshInstance(slot, delta);
}

Status SceneWriter::place(ObjectId id, const model::TreePlace& place) {
    auto slot = slotOf(id);
    if (!slot) return tl::unexpected(slot.error());
    Slot parent = kNoSlot;
    if (place.parent) {
        auto found = slotOf(place.parent);
        if (!found) return tl::unexpected(found.error());
        parent = *found;
    }
    if (scene_.isWithin(parent, *slot) && parent != kNoSlot)
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be put below itself.", scene_.nameText(*slot)));
    if (parent != kNoSlot && scene_.depth(parent) + 1 + heightOf(scene_, *slot) >= model::kDeepest)
        return tooDeep(scene_.nameText(*slot));
    const Slot before = scene_.find(place.before);
    if (place.before && (before == kNoSlot || before == *slot || scene_.parent(before) != parent))
        return fail(ErrorCode::BadInput, fmt::format("{} is no child of the same parent.", base::toText(place.before)));
    scene_.unlink(*slot);
    scene_.link(*slot, parent, before);
    return {};
}

Status SceneWriter::applyRows(const model::MoveInTree& change, Direction direction, SceneDelta& delta) {
    const std::size_t n = change.ids.size();
    const bool forward = direction == Direction::Forward;
    auto row = [&](std::size_t i) { return forward ? i : n - 1 - i; };
    delta.treeChanged = true;
    std::vector<Slot> slots;
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t r = row(i);
        Status done = place(change.ids[r], forward ? change.after[r] : change.before[r]);
        if (!done) {
            while (i-- > 0) (void)place(change.ids[row(i)], forward ? change.before[row(i)] : change.after[row(i)]);
            return done;
        }
        slots.push_back(scene_.find(change.ids[r]));
    }
    refreshMoved(slots, delta);
    return {};
}

Status SceneWriter::applyRows(const model::SetSettings& change, Direction direction, SceneDelta& delta) {
    scene_.settings_ = direction == Direction::Forward ? change.after : change.before;
    delta.settingsChanged = true;
    return {};
}
Status SceneWriter::applyRows(const model::SetEntries& change, Direction direction, SceneDelta& delta) {
    auto entries = std::make_shared<model::DataEntries>(scene_.settings().entries());
    for (std::size_t i = 0; i < change.keys.size(); ++i)
        if (const auto& value = direction == Direction::Forward ? change.after[i] : change.before[i])
            (*entries)[change.keys[i]] = *value;
        else
            entries->erase(change.keys[i]);
    auto settings = std::make_shared<model::SceneSettings>(scene_.settings());
    settings->data = std::move(entries);
    scene_.settings_ = std::move(settings);
    delta.settingsChanged = true;
    return {};
}

void SceneWriter::refreshOwn(Slot slot) {
    const base::Affine own = base::toAffine(scene_.local(slot));
    const Slot parent = scene_.parent(slot);
    const base::Affine world = parent == kNoSlot ? own : scene_.world(parent) * own;
    scene_.world_.edit(slot) = world;
    const model::Item* item = sources_.library.item(scene_.item(slot));
    scene_.bounds_.edit(slot) = item != nullptr ? base::mapped(item->bounds, world) : base::Aabb{};
}

void SceneWriter::putInWorld(model::Scene& copy, const model::Library& library, Slot slot, const base::Affine& world) {
    const Slot parent = copy.parent(slot);
    const auto into = parent == kNoSlot ? std::optional(base::Affine{}) : base::inverse(copy.world(parent));
    if (into) copy.local_.edit(slot) = base::toTransform(*into * world);
    copy.world_.edit(slot) = world;
    const model::Item* item = library.item(copy.item(slot));
    copy.bounds_.edit(slot) = item != nullptr ? base::mapped(item->bounds, world) : base::Aabb{};
}

void SceneWriter::putDetail(model::Scene& copy, Slot slot, model::DetailPtr detail) {
    copy.detail_.edit(slot) = std::move(detail);
}

void SceneWriter::putItem(model::Scene& copy, const model::Library& library, Slot slot, base::Name item) {
    copy.label_.edit(slot).item = item;
    const model::Item* known = library.item(item);
    copy.bounds_.edit(slot) = known != nullptr ? base::mapped(known->bounds, copy.world(slot)) : base::Aabb{};
}

void SceneWriter::putGuise(model::Scene& copy, const std::string& guise) {
    auto settings = std::make_shared<model::SceneSettings>(copy.settings());
    settings->guise = guise;
    copy.settings_ = std::move(settings);
}

void SceneWriter::refreshBelow(Slot top, SceneDelta& delta) {
    refreshOwn(top);
    delta.moved.push_back(top);
    if (scene_.firstChild(top) == kNoSlot) return;
    for (Slot s : scene_.subtree(top)) {
        if (s == top) continue;
        refreshOwn(s);
        delta.moved.push_back(s);
    }
}

void SceneWriter::refreshItem(base::Name item, SceneDelta& delta) {
    for (Slot s = 0; s < scene_.slotEnd(); ++s) {
        if (!scene_.alive(s) || scene_.item(s) != item) continue;
        refreshOwn(s);
        delta.moved.push_back(s);
    }
}

// A slot below another moved one is reached through that one.
void SceneWriter::refreshMoved(const std::vector<Slot>& tops, SceneDelta& delta) {
    marks_.resize(scene_.slotEnd(), 0);
    ++round_;
    for (Slot s : tops) marks_[s] = round_;
    auto ancestorMarked = [&](Slot s) {
        for (s = scene_.parent(s); s != kNoSlot; s = scene_.parent(s))
            if (marks_[s] == round_) return true;
        return false;
    };
    for (Slot s : tops)
        if (!ancestorMarked(s)) refreshBelow(s, delta);
}

model::Scene buildScene(std::string name, std::shared_ptr<const base::NameTable> names, const model::Library& library,
                        const model::SceneSettings& settings, std::vector<model::ObjectRecord>& objects,
                        base::Progress& progress) {
    model::Scene scene(std::move(name), std::move(names));
    const Sources sources{library, nullptr, nullptr};
    SceneWriter writer(scene, sources);
    SceneDelta unheard;
    const auto shared = std::make_shared<const model::SceneSettings>(settings);
    (void)writer.applyRows(model::SetSettings{shared, shared}, Direction::Forward, unheard);
    unheard.created.reserve(objects.size());
    constexpr std::size_t kAtOnce = 4096;
    for (std::size_t i = 0; i < objects.size() && !progress.cancelled(); ++i) {
        objects[i].before = {};
        (void)writer.createRow(objects[i], unheard);
        if (i % kAtOnce == 0) progress.add(kBuildShare * kAtOnce / static_cast<double>(objects.size() + kAtOnce));
    }
    return scene;
}

model::Scene dataScene(std::string document, std::shared_ptr<const base::NameTable> names, model::DataEntries entries) {
    model::Scene scene(std::move(document), std::move(names));
    const model::Library none;
    const Sources sources{none, nullptr, {}};
    SceneWriter writer(scene, sources);
    auto settings = std::make_shared<model::SceneSettings>();
    settings->data = std::make_shared<const model::DataEntries>(std::move(entries));
    SceneDelta unheard;
    (void)writer.applyRows(model::SetSettings{settings, settings}, Direction::Forward, unheard);
    return scene;
}

}  // namespace edit
