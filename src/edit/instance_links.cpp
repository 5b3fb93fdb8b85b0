#include "edit/instance_links.h"
#include "edit/names.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>

namespace edit {

using base::innerOf;

model::ObjectRecord asInside(model::ObjectRecord r, ObjectId instance) {
    r.id = innerOf(instance, r.id);
    const model::TreePlace place = asInside(model::TreePlace{r.parent, r.before}, instance);
    r.parent = place.parent;
    r.before = place.before;
    return r;
}

model::TreePlace asInside(const model::TreePlace& place, ObjectId instance) {
    model::TreePlace inside;
    if (place.parent && place.parent != instance) inside.parent = innerOf(instance, place.parent);
    if (place.before) inside.before = innerOf(instance, place.before);
    return inside;
}

const model::PrefabLink& InstanceLinks::seen(ObjectId instance) const {
    auto place = links_.find(instance);
    return place != links_.end() ? place->second : *scene_.detail(scene_.find(instance))->prefab;
}

model::PrefabLink& InstanceLinks::link(ObjectId instance) {
    auto place = links_.find(instance);
    if (place == links_.end()) place = links_.emplace(instance, seen(instance)).first;
    return place->second;
}

namespace {

model::ObjectRecord* addedIn(model::PrefabLink& link, ObjectId inner) {
    auto place = std::find_if(link.added.begin(), link.added.end(), [&](const auto& r) { return r.id == inner; });
    return place == link.added.end() ? nullptr : &*place;
}

}  // namespace

template <class Use>
void InstanceLinks::within(model::PrefabLink& link, ObjectId instance, Slot at, const Use& use) {
    model::ObjectRecord* further = nullptr;
    for (Slot s = at; s != kNoSlot && scene_.id(s) != instance; s = scene_.parent(s)) {
        if (!scene_.detail(s) || !scene_.detail(s)->prefab) continue;
        if (model::ObjectRecord* r = addedIn(link, innerOf(instance, scene_.id(s))))
            if (r->detail && r->detail->prefab) further = r;
    }
    if (further == nullptr) return use(link, instance);
    auto inner = std::make_shared<model::PrefabLink>(*further->detail->prefab);
    within(*inner, base::joined(instance, further->id), at, use);
    model::Detail detail = *further->detail;
    detail.prefab.link = std::move(inner);
    further->detail = std::make_shared<const model::Detail>(std::move(detail));
}

base::Status InstanceLinks::change(ObjectId outermost, ObjectId id, const model::PartSet& parts,
                                   const std::function<void(model::ObjectRecord&)>& modify) {
    const Slot slot = scene_.find(id);
    base::Status done;
    within(outermost, scene_.parent(slot), [&](model::PrefabLink& changed, ObjectId instance) {
        const ObjectId inner = innerOf(instance, id);
        if (model::ObjectRecord* added = addedIn(changed, inner)) {
            modify(*added);
            return model::takeLinksInside(added->detail, scene_, scene_.find(instance));
        }
        auto before = model::unchanged(changed, definitions_, inner);
        if (!before) {
            done = base::fail(base::ErrorCode::NotFound, "The definition does not hold this object any more.");
            return;
        }
        model::ObjectRecord now = scene_.record(slot);
        const model::PrefabFacet linked = now.detail ? now.detail->prefab : model::PrefabFacet{};
        modify(now);
        model::takeLinksInside(now.detail, scene_, scene_.find(instance));
        if (!((now.detail ? now.detail->prefab : model::PrefabFacet{}) == linked)) {
            done = base::fail(base::ErrorCode::Refused,
                              fmt::format("“{}” is an instance inside a prefab: change its link in the definition.",
                                          scene_.nameText(slot)));
            return;
        }
        before->id = inner;
        model::put(changed, model::differenceOf(*before, now, parts), parts);
    });
    return done;
}

void InstanceLinks::add(ObjectId outermost, const model::ObjectRecord& record) {
    // What stands below another new one is not in the scene yet: it goes where that one went.
    Slot parent = scene_.find(record.parent);
    if (parent == kNoSlot) parent = scene_.find(newParents_[record.parent]);
    newParents_[record.id] = scene_.id(parent);
    within(outermost, parent, [&](model::PrefabLink& changed, ObjectId instance) {
        model::ObjectRecord r = asInside(record, instance);
        model::takeLinksInside(r.detail, scene_, scene_.find(instance));
        std::erase(changed.removed, r.id);  // one that comes back as what it was
        changed.added.push_back(std::move(r));
    });
}

void InstanceLinks::remove(ObjectId outermost, std::span<const ObjectId> ids) {
    struct Removal {
        Slot at = kNoSlot;
        std::unordered_set<ObjectId> tops, below;
    };
    std::unordered_map<ObjectId, Removal> removals;  // by the innermost link that holds the objects
    for (ObjectId id : ids) {
        const Slot slot = scene_.find(id);
        within(outermost, scene_.parent(slot), [&](model::PrefabLink&, ObjectId instance) {
            Removal& removal = removals[instance];
            removal.at = scene_.parent(slot);
            removal.tops.insert(innerOf(instance, id));
            for (Slot s : scene_.subtree(slot)) removal.below.insert(innerOf(instance, scene_.id(s)));
        });
    }
    for (auto& [holder, removal] : removals)
        within(outermost, removal.at,
               [&, &tops = removal.tops, &below = removal.below](model::PrefabLink& link, ObjectId) {
                   for (const auto& r : link.added) tops.erase(r.id);
                   std::erase_if(link.added, [&](const auto& r) { return below.contains(r.id); });
                   std::erase_if(link.changed, [&](const auto& d) { return below.contains(d.value.id); });
                   std::erase_if(link.removed, [&](ObjectId other) { return below.contains(other); });
                   link.removed.insert(link.removed.end(), tops.begin(), tops.end());
                   std::sort(link.removed.begin(), link.removed.end());
               });
}

std::vector<model::ObjectRecord> InstanceLinks::addedRecords(ObjectId outermost, ObjectId id) {
    std::vector<model::ObjectRecord> objects;
    const Slot slot = scene_.find(id);
    within(outermost, scene_.parent(slot), [&](model::PrefabLink& changed, ObjectId instance) {
        for (Slot s : scene_.subtree(slot)) {
            if (addedIn(changed, innerOf(instance, scene_.id(s))) == nullptr) continue;  // inside an added instance
            objects.push_back(scene_.record(s));
            objects.back().before = {};
        }
    });
    return objects;
}

base::Status InstanceLinks::moveInside(ObjectId outermost, ObjectId id, const model::TreePlace& place) {
    const Slot slot = scene_.find(id);
    ObjectId from, to;
    within(outermost, scene_.parent(slot), [&](model::PrefabLink&, ObjectId instance) { from = instance; });
    within(outermost, scene_.find(place.parent), [&](model::PrefabLink&, ObjectId instance) { to = instance; });
    if (from != to) {
        auto objects = addedRecords(outermost, id);
        if (!isAdded(outermost, id))
            return base::fail(
                base::ErrorCode::Refused,
                fmt::format("“{}” belongs to a prefab inside this one, and cannot leave it.", scene_.nameText(slot)));
        remove(outermost, {&id, 1});
        objects.front().parent = place.parent;
        objects.front().before = place.before;
        for (const model::ObjectRecord& r : objects) {
            newParents_[r.id] = place.parent;
            within(outermost, scene_.find(place.parent), [&](model::PrefabLink& changed, ObjectId instance) {
                changed.added.push_back(asInside(r, instance));
            });
        }
        return {};
    }
    within(outermost, scene_.parent(slot), [&](model::PrefabLink& changed, ObjectId instance) {
        const ObjectId inner = innerOf(instance, id);
        const model::TreePlace there = asInside(place, instance);
        if (model::ObjectRecord* added = addedIn(changed, inner)) {
            model::ObjectRecord moved = *added;
            moved.parent = there.parent;
            moved.before = there.before;
            std::erase_if(changed.added, [&](const auto& r) { return r.id == inner; });
            changed.added.push_back(std::move(moved));  // the last of its siblings, if it stands in front of none
            return;
        }
        model::Difference d;
        d.parts = model::part::kPlace;
        d.value.id = inner;
        d.value.parent = there.parent;
        d.value.before = there.before;
        model::put(changed, std::move(d), model::part::kPlace);
    });
    return {};
}

void InstanceLinks::takeBack(ObjectId id, const model::PartSet& parts) {
    const Slot slot = scene_.find(id), around = scene_.instanceAround(slot);
    if (around == kNoSlot) return;
    const ObjectId outermost = scene_.id(around);
    const auto says = [&](const model::PrefabLink& held, ObjectId instance) {
        return std::any_of(held.changed.begin(), held.changed.end(), [&](const model::Difference& d) {
            return d.value.id == innerOf(instance, id) && d.parts.meets(parts);
        });
    };
    const bool any = !seen(outermost).added.empty() || says(seen(outermost), outermost);
    if (!any) return;
    within(outermost, scene_.parent(slot), [&](model::PrefabLink& changed, ObjectId instance) {
        model::Difference nothing;
        nothing.value.id = innerOf(instance, id);
        model::put(changed, std::move(nothing), parts);
    });
}

bool InstanceLinks::isAdded(ObjectId outermost, ObjectId id) {
    bool added = false;
    within(outermost, scene_.parent(scene_.find(id)), [&](model::PrefabLink& changed, ObjectId instance) {
        added = addedIn(changed, innerOf(instance, id)) != nullptr;
    });
    return added;
}

std::vector<ObjectId> InstanceLinks::ids() const {
    std::vector<ObjectId> all;
    for (const auto& [id, link] : links_) all.push_back(id);
    return all;
}

std::vector<model::DetailPtr> InstanceLinks::details() const {
    std::vector<model::DetailPtr> all;
    for (const auto& [id, link] : links_) {
        model::Detail detail = *scene_.detail(scene_.find(id));
        detail.prefab.link = std::make_shared<const model::PrefabLink>(link);
        all.push_back(std::make_shared<const model::Detail>(std::move(detail)));
    }
    return all;
}

}  // namespace edit
