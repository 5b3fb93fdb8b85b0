// Objects made, removed and put elsewhere in the tree, in the scene and inside instances.
#include <fmt/format.h>

#include <map>
#include <unordered_set>

#include "edit/draft.h"
#include "edit/instance_links.h"
#include "edit/names.h"

namespace edit {

Status Draft::create(std::span<const model::ObjectRecord> objects) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::unordered_map<ObjectId, Route> routes;
    std::vector<model::ObjectRecord> own, inner;
    InstanceLinks links(scene, session_.definitions());
    ObjectId edited;
    std::size_t made = objects.size();
    for (const model::ObjectRecord& r : objects)
        if (r.detail && r.detail->prefab) made += model::expandedCount(*r.detail->prefab, session_.definitions());
    if (Status on = goOn(0, made); !on) return on;
    if (session_.sources_.objects() + made > model::kMostObjects)
        return fail(ErrorCode::Refused, fmt::format("That would make {} objects in all: at most {} can be shown.",
                                                    session_.sources_.objects() + made, model::kMostObjects));
    for (const model::ObjectRecord& r : objects) {
        noteName(r.name);
        if (Status fine = refuseCircle(r.detail); !fine) return fine;
        if (Status on = goOn(); !on) return on;
        Route route;
        if (auto place = routes.find(r.parent); place != routes.end())
            route = place->second;
        else if (r.parent)
            route = routeBelow(scene.find(r.parent));
        routes[r.id] = route;
        if (route.to == Route::To::Own) {
            own.push_back(r);
        } else if (route.to == Route::To::Inside) {
            links.add(route.instance, r);
        } else {
            edited = route.instance;
            inner.push_back(asInside(r, edited));
            model::takeLinksInside(inner.back().detail, scene, scene.find(edited));
        }
    }
    std::vector<std::function<Status()>> writes;
    if (!own.empty()) writes.emplace_back([&] { return write(model::Existence{true, std::move(own)}); });
    if (edited) writes.emplace_back([&] { return inDefinition(edited, [&] { return create(inner); }); });
    if (!links.empty()) writes.emplace_back([&] { return writeDetails(links.ids(), links.details()); });
    return together(writes);
}

Status Draft::remove(std::span<const ObjectId> ids) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    std::unordered_set<Slot> tops;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (slot == kNoSlot) return noObject(id);
        tops.insert(slot);
    }
    std::vector<ObjectId> own, inner;
    std::map<ObjectId, std::vector<ObjectId>> inside;
    ObjectId edited;
    std::unordered_set<Slot> done;
    for (ObjectId id : ids) {
        const Slot top = scene.find(id);
        if (!done.insert(top).second) continue;  // named twice
        bool below = false;
        for (Slot s = scene.parent(top); s != kNoSlot && !below; s = scene.parent(s)) below = tops.contains(s);
        if (below) continue;
        if (Status on = goOn(); !on) return on;
        const Route route = routeOf(top);
        if (route.to == Route::To::Own) own.push_back(id);
        if (route.to == Route::To::Inside) inside[route.instance].push_back(id);
        if (route.to == Route::To::Definition) {
            edited = route.instance;
            inner.push_back(base::innerOf(edited, id));
        }
    }
    InstanceLinks links(scene, session_.definitions());
    for (const auto& [instance, held] : inside) links.remove(instance, held);
    std::vector<std::function<Status()>> writes;
    if (!own.empty()) writes.emplace_back([&] { return writeRemoval(own); });
    if (edited) writes.emplace_back([&] { return inDefinition(edited, [&] { return remove(inner); }); });
    if (!links.empty()) writes.emplace_back([&] { return writeDetails(links.ids(), links.details()); });
    return together(writes);
}

Status Draft::writeRemoval(const std::vector<ObjectId>& tops) {
    if (Status on = goOn(tops.size()); !on) return on;
    const model::Scene& scene = open_->scene;
    std::vector<Slot> order;
    for (ObjectId id : tops) {
        const auto all = scene.ownSubtree(scene.find(id));
        order.insert(order.end(), all.begin(), all.end());
    }
    model::Existence change{false, std::vector<model::ObjectRecord>(order.size())};
    SceneDelta delta;
    delta.scene = scene.name();
    delta.treeChanged = true;
    for (std::size_t i = order.size(); i-- > 0;) {
        change.objects[i] = scene.record(order[i]);
        (void)open_->writer.remove(change.objects[i].id, delta);
    }
    note(std::move(change), std::move(delta));
    return {};
}

Status Draft::moveInTree(std::span<const ObjectId> ids, std::span<const model::TreePlace> places) {
    if (!state_) return state_;
    const model::Scene& scene = open_->scene;
    bool allOwn = true;
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = scene.find(ids[i]);
        allOwn = allOwn && (slot == kNoSlot || routeOf(slot).to == Route::To::Own) &&
                 routeBelow(scene.find(places[i].parent)).to == Route::To::Own;
    }
    if (allOwn) return writeMoves(ids, places);
    std::vector<std::function<Status()>> writes;
    for (std::size_t i = 0; i < ids.size(); ++i)
        writes.emplace_back([this, id = ids[i], place = places[i]] { return moveOne(id, place); });
    return together(writes);
}

Status Draft::moveOne(ObjectId id, const model::TreePlace& place) {
    const model::Scene& scene = open_->scene;
    const Slot slot = scene.find(id), parent = scene.find(place.parent);
    if (slot == kNoSlot) return noObject(id);
    if (place.parent && parent == kNoSlot) return noObject(place.parent);
    if (parent != kNoSlot && scene.isWithin(parent, slot))
        return fail(ErrorCode::BadInput, fmt::format("“{}” cannot be put below itself.", scene.nameText(slot)));
    const Route from = routeOf(slot), to = routeBelow(parent);
    if (from == to && from.to == Route::To::Own) return writeMoves({&id, 1}, {&place, 1});
    if (from == to && from.to == Route::To::Definition)
        return inDefinition(from.instance, [&] {
            const ObjectId inner = base::innerOf(from.instance, id);
            const model::TreePlace there = asInside(place, from.instance);
            return moveInTree({&inner, 1}, {&there, 1});
        });
    InstanceLinks links(scene, session_.definitions());
    if (from == to) {
        if (Status moved = links.moveInside(from.instance, id, place); !moved) return moved;
        return writeDetails(links.ids(), links.details());
    }
    if (from.to == Route::To::Own && to.to == Route::To::Inside) {
        for (Slot s : scene.ownSubtree(slot)) {
            model::ObjectRecord r = scene.record(s);
            r.before = {};
            if (s == slot) {
                r.parent = place.parent;
                r.before = place.before;
            }
            links.add(to.instance, r);
        }
        return together(
            {[&] { return writeRemoval({id}); }, [&] { return writeDetails(links.ids(), links.details()); }});
    }
    const Slot instance = from.to == Route::To::Own ? scene.find(to.instance) : scene.find(from.instance);
    if (from.to == Route::To::Inside && to.to == Route::To::Own && links.isAdded(from.instance, id)) {
        auto objects = links.addedRecords(from.instance, id);
        objects.front().parent = place.parent;
        objects.front().before = place.before;
        links.remove(from.instance, {&id, 1});
        return together({[&] { return writeDetails(links.ids(), links.details()); },
                         [&] {
                             return write(model::Existence{true, std::move(objects)});
                         }});
    }
    return fail(ErrorCode::Refused,
                fmt::format("“{}” belongs to the prefab of “{}”, and cannot leave it: copy it, or take that apart.",
                            scene.nameText(slot), scene.nameText(instance)));
}

Status Draft::writeMoves(std::span<const ObjectId> ids, std::span<const model::TreePlace> places) {
    if (Status on = goOn(ids.size()); !on) return on;
    const model::Scene& scene = open_->scene;
    model::MoveInTree done;
    SceneDelta delta;
    delta.scene = scene.name();
    for (std::size_t i = 0; i < ids.size(); ++i) {
        const Slot slot = scene.find(ids[i]);
        model::MoveInTree row{{ids[i]}, {{}}, {places[i]}};
        if (slot != kNoSlot) {
            const model::ObjectRecord now = scene.record(slot);
            row.before[0] = {now.parent, now.before};
        }
        if (Status moved = open_->writer.apply(row, Direction::Forward, delta); !moved) {
            (void)open_->writer.apply(done, Direction::Backward, delta);
            return moved;
        }
        done.ids.push_back(ids[i]);
        done.before.push_back(row.before[0]);
        done.after.push_back(places[i]);
    }
    note(std::move(done), std::move(delta));
    return {};
}

}  // namespace edit
