// What an object holds: poses, labels, flags, facets, written to the row, to what an instance says differs, or to the
// definition that is edited in place.
#include <fmt/format.h>

#include <cmath>

#include "edit/draft.h"
#include "edit/instance_links.h"
#include "edit/names.h"

namespace edit {

namespace {

/// What `get` gives for each object, into `out`. Errors: NotFound for the first that is not there.
template <class T, class Get>
Status gather(const model::Scene& scene, std::span<const ObjectId> ids, std::vector<T>& out, Get get) {
    out.reserve(ids.size());
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) return Draft::noObject(id);
        out.push_back(get(slot));
    }
    return {};
}

bool isUsable(const base::Transform& t) {
    return base::isFinite(t.position) && base::isFinite(t.rotation) && base::isFinite(t.scale) &&
           std::abs(glm::length(t.rotation) - 1.0) < 1e-3;
}

/// A value as the definition has it that is edited at `instance`.
template <class Value>
const Value& inDefinitionTerms(const Value& value, const model::Scene&, Slot) {
    return value;
}
model::DetailPtr inDefinitionTerms(model::DetailPtr value, const model::Scene& scene, Slot instance) {
    model::takeLinksInside(value, scene, instance);
    return value;
}

}  // namespace

template <class T>
Status Draft::writeOver(T change) {
    const bool here = !sets_.empty() && sets_.back().scene == open_->scene.name();
    T* last = here ? std::get_if<T>(&sets_.back().changes.back()) : nullptr;
    if (last == nullptr || sealed_ || last->ids != change.ids) return write(std::move(change));
    if (Status on = goOn(change.ids.size()); !on) return on;
    SceneDelta delta;
    delta.scene = open_->scene.name();
    if (Status done = open_->writer.apply(change, Direction::Forward, delta); !done) return done;
    last->after = std::move(change.after);
    session_.tell(std::move(delta));
    return {};
}

/// `own` writes rows that the scene holds, `again` the same verb in a definition; `modify` makes the change to one
/// record, of which `parts` become differences.
template <class Value, class Own, class Again, class Modify>
Status Draft::routed(std::span<const ObjectId> ids, std::span<const Value> values, const model::PartSet& parts,
                     const Own& own, const Again& again, const Modify& modify) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    const std::vector<Slot> slots = scene.find(ids);
    std::vector<Route> routes;
    routes.reserve(ids.size());
    bool allOwn = true;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (slots[i] == kNoSlot) return noObject(ids[i]);
        routes.push_back(routeOf(slots[i]));
        allOwn = allOwn && routes.back().to == Route::To::Own;
    }
    if (allOwn) return own(ids, values);

    std::vector<ObjectId> ownIds, innerIds;
    std::vector<Value> ownValues, innerValues;
    InstanceLinks links(scene, session_.definitions());
    ObjectId edited;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (routes[i].to == Route::To::Own) {
            ownIds.push_back(ids[i]);
            ownValues.push_back(values[i]);
        } else if (routes[i].to == Route::To::Inside) {
            if (Status fits = links.change(routes[i].instance, ids[i], parts,
                                           [&](model::ObjectRecord& r) { modify(r, values[i]); });
                !fits)
                return fits;
        } else {
            edited = routes[i].instance;
            innerIds.push_back(base::innerOf(edited, ids[i]));
            innerValues.push_back(inDefinitionTerms(values[i], scene, scene.find(edited)));
            links.takeBack(ids[i], parts);
        }
    }
    std::vector<std::function<Status()>> writes;
    if (!ownIds.empty())
        writes.emplace_back([&] { return own(std::span<const ObjectId>(ownIds), std::span<const Value>(ownValues)); });
    if (edited)
        writes.emplace_back([&] {
            return inDefinition(edited, [&] {
                return again(std::span<const ObjectId>(innerIds), std::span<const Value>(innerValues));
            });
        });
    if (!links.empty()) writes.emplace_back([&] { return writeDetails(links.ids(), links.details()); });
    return together(writes);
}

Status Draft::setTransforms(std::span<const ObjectId> ids, std::span<const base::Transform> values) {
    for (std::size_t i = 0; state_ && i < ids.size(); ++i) {
        if (isUsable(values[i])) continue;
        const Slot slot = open_->scene.find(ids[i]);
        if (slot == kNoSlot) return noObject(ids[i]);
        return fail(ErrorCode::BadInput,
                    fmt::format("“{}” cannot be put there: that is not a usable pose.", open_->scene.nameText(slot)));
    }
    return routed(
        ids, values, model::part::kPose, [&](auto i, auto v) { return writeTransforms(i, v); },
        [&](auto i, auto v) { return setTransforms(i, v); },
        [](model::ObjectRecord& r, const base::Transform& t) { r.local = t; });
}

Status Draft::writeTransforms(std::span<const ObjectId> ids, std::span<const base::Transform> values) {
    model::SetTransforms change;
    change.ids.assign(ids.begin(), ids.end());
    change.after.assign(values.begin(), values.end());
    change.before.reserve(ids.size());
    for (const Slot slot : open_->scene.find(ids)) change.before.push_back(open_->scene.local(slot));
    return writeOver(std::move(change));
}

Status Draft::setLabels(model::LabelField field, std::span<const ObjectId> ids, std::span<const base::Name> values) {
    using model::LabelField;
    if (state_ && field == LabelField::Name)
        for (base::Name name : values) noteName(name);
    const std::uint32_t parts = field == LabelField::Name   ? model::part::kName
                                : field == LabelField::Kind ? model::part::kKind
                                                            : model::part::kItem;
    auto own = [&](std::span<const ObjectId> some, std::span<const base::Name> after) {
        model::SetLabels change{field, {some.begin(), some.end()}, {}, {after.begin(), after.end()}};
        const model::Scene& scene = open_->scene;
        Status known = gather(scene, some, change.before, [&](Slot s) {
            if (field == LabelField::Name) return scene.nameOf(s);
            return field == LabelField::Kind ? scene.kind(s) : scene.item(s);
        });
        return known ? write(std::move(change)) : known;
    };
    return routed(
        ids, values, parts, own, [&](auto i, auto v) { return setLabels(field, i, v); },
        [&](model::ObjectRecord& r, base::Name v) {
            (field == LabelField::Name ? r.name : field == LabelField::Kind ? r.kind : r.item) = v;
        });
}

Status Draft::setFlags(std::span<const ObjectId> ids, std::span<const std::uint8_t> values) {
    auto own = [&](std::span<const ObjectId> some, std::span<const std::uint8_t> after) {
        model::SetFlags change{{some.begin(), some.end()}, {}, {after.begin(), after.end()}};
        Status known = gather(open_->scene, some, change.before, [&](Slot s) { return open_->scene.flagsOf(s); });
        return known ? write(std::move(change)) : known;
    };
    return routed(
        ids, values, model::part::kFlags, own, [&](auto i, auto v) { return setFlags(i, v); },
        [](model::ObjectRecord& r, std::uint8_t v) { r.flags = v; });
}

Status Draft::setDetails(std::span<const ObjectId> ids, std::span<const model::DetailPtr> values) {
    for (const model::DetailPtr& value : values)
        if (Status fine = refuseCircle(value); !fine) return fine;
    return routed(
        ids, values, model::PartSet::detail(), [&](auto i, auto v) { return writeDetails(i, v); },
        [&](auto i, auto v) { return setDetails(i, v); },
        [](model::ObjectRecord& r, const model::DetailPtr& v) { r.detail = v; });
}

Status Draft::writeDetails(std::span<const ObjectId> ids, std::span<const model::DetailPtr> values) {
    if (!state_) return state_;
    model::SetDetails change{{ids.begin(), ids.end()}, {}, {values.begin(), values.end()}};
    if (Status known = gather(open_->scene, ids, change.before, [&](Slot s) { return open_->scene.detail(s); }); !known)
        return known;
    return writeOver(std::move(change));
}

}  // namespace edit
