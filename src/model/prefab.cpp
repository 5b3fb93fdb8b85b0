#include "model/prefab.h"

#include <algorithm>
#include <list>
#include <unordered_set>

#include "model/names.h"
#include "model/property.h"

namespace model {

namespace {

bool sameRecord(const ObjectRecord& a, const ObjectRecord& b) {
    return a.id == b.id && a.parent == b.parent && a.before == b.before && a.local == b.local && a.name == b.name &&
           a.kind == b.kind && a.item == b.item && a.flags == b.flags && sameDetail(a.detail, b.detail);
}

const Detail& detailOf(const ObjectRecord& r) {
    static const Detail none;
    return r.detail ? *r.detail : none;
}

DetailPtr shared(Detail detail) {
    return detail.empty() ? nullptr : std::make_shared<const Detail>(std::move(detail));
}

auto placeOf(PrefabLink& link, ObjectId id) {
    return std::lower_bound(link.changed.begin(), link.changed.end(), id,
                            [](const Difference& d, ObjectId i) { return d.value.id < i; });
}

/// The objects of a link while differences are applied.
struct Nodes {
    std::vector<ObjectRecord> all;
    std::unordered_map<ObjectId, std::size_t> index;

    void add(ObjectRecord r) {
        if (index.try_emplace(r.id, all.size()).second) all.push_back(std::move(r));
    }
    ObjectRecord* find(ObjectId id) {
        auto place = index.find(id);
        return place == index.end() ? nullptr : &all[place->second];
    }
};

/// The definition's objects and those that the link adds, not what lies inside added instances.
Nodes baseNodes(const PrefabLink& link, const Definitions& definitions) {
    Nodes nodes;
    if (auto place = definitions.find(link.of); place != definitions.end())
        for (ObjectRecord& r : contents(*place->second)) nodes.add(std::move(r));
    for (const ObjectRecord& r : link.added) nodes.add(r);
    return nodes;
}

/// What lies inside the instances that a link adds, after each of them. An object of the definition that is still
/// there keeps its id.
std::vector<ObjectRecord> withAddedInstances(std::vector<ObjectRecord> objects, const PrefabLink& link,
                                             const Definitions& definitions) {
    std::unordered_set<ObjectId> added, there;
    for (const ObjectRecord& r : link.added)
        if (r.detail && r.detail->prefab) added.insert(r.id);
    if (added.empty()) return objects;
    for (const ObjectRecord& r : objects) there.insert(r.id);
    std::vector<ObjectRecord> all;
    for (ObjectRecord& r : objects) {
        const ObjectId instance = r.id;
        const PrefabFacet inner = added.contains(instance) ? r.detail->prefab : PrefabFacet{};
        all.push_back(std::move(r));
        if (!inner) continue;
        for (ObjectRecord one : contents(*inner, definitions)) {
            one.id = base::joined(instance, one.id);
            one.parent = one.parent ? base::joined(instance, one.parent) : instance;
            if (there.insert(one.id).second) all.push_back(std::move(one));
        }
    }
    return all;
}

/// In tree order below zero; what was removed, or cannot be reached, is left out. What was `placed` elsewhere, and what
/// stands in front of another, finds its place among the others' siblings.
std::vector<ObjectRecord> inTreeOrder(Nodes& nodes, const std::vector<ObjectId>& removed,
                                      const std::unordered_set<ObjectId>& moved) {
    using Siblings = std::list<std::size_t>;
    std::unordered_map<ObjectId, Siblings> below;
    std::unordered_map<ObjectId, Siblings::iterator> stands;
    std::vector<std::size_t> placed;
    const auto put = [&](std::size_t i, Siblings& siblings, Siblings::iterator at) {
        stands[nodes.all[i].id] = siblings.insert(at, i);
    };
    for (std::size_t i = 0; i < nodes.all.size(); ++i) {
        Siblings& siblings = below[nodes.all[i].parent];
        if (nodes.all[i].before || moved.contains(nodes.all[i].id))
            placed.push_back(i);
        else
            put(i, siblings, siblings.end());
    }
    for (std::size_t i : placed) {
        Siblings& siblings = below[nodes.all[i].parent];
        const auto next = stands.find(nodes.all[i].before);
        const bool sibling = next != stands.end() && nodes.all[*next->second].parent == nodes.all[i].parent;
        put(i, siblings, sibling ? next->second : siblings.end());
    }
    const std::unordered_set<ObjectId> gone(removed.begin(), removed.end());
    std::vector<ObjectRecord> result;
    std::vector<std::size_t> stack;
    auto push = [&](ObjectId parent) {
        if (auto place = below.find(parent); place != below.end())
            stack.insert(stack.end(), place->second.rbegin(), place->second.rend());
    };
    push({});
    while (!stack.empty()) {
        ObjectRecord& r = nodes.all[stack.back()];
        stack.pop_back();
        if (gone.contains(r.id)) continue;
        r.before = {};
        push(r.id);
        result.push_back(std::move(r));
    }
    return result;
}

}  // namespace

bool operator==(const PrefabFacet& a, const PrefabFacet& b) {
    return a.link == b.link || (a.link && b.link && *a.link == *b.link);
}
bool operator==(const Difference& a, const Difference& b) {
    return a.parts == b.parts && a.goneProperties == b.goneProperties && sameRecord(a.value, b.value);
}
bool operator==(const PrefabLink& a, const PrefabLink& b) {
    return a.of == b.of && a.changed == b.changed && a.removed == b.removed && a.unknownKeys == b.unknownKeys &&
           std::equal(a.added.begin(), a.added.end(), b.added.begin(), b.added.end(), sameRecord);
}

std::string definitionKey(ObjectId prefab) {
    return "#" + base::toText(prefab);
}

ObjectId prefabOf(std::string_view key) {
    if (key.empty() || key.front() != '#') return {};
    return base::parseObjectId(key.substr(1)).value_or(ObjectId{});
}

std::vector<ObjectRecord> contents(const Scene& definition) {
    std::vector<ObjectRecord> all;
    all.reserve(definition.objectCount());
    for (Slot s : definition.subtree(kNoSlot)) {
        all.push_back(definition.record(s));
        all.back().before = {};
    }
    return all;
}

std::vector<ObjectRecord> contents(const PrefabLink& link, const Definitions& definitions) {
    Nodes nodes = baseNodes(link, definitions);
    bool sameTree = link.added.empty() && link.removed.empty();
    std::unordered_set<ObjectId> moved;
    for (const Difference& d : link.changed) {
        ObjectRecord* r = nodes.find(d.value.id);
        if (r == nullptr) continue;
        apply(d, *r);
        if (d.parts.has(part::kPlace)) moved.insert(r->id);
    }
    if (sameTree && moved.empty()) return std::move(nodes.all);
    return withAddedInstances(inTreeOrder(nodes, link.removed, moved), link, definitions);
}

std::optional<ObjectRecord> unchanged(const PrefabLink& link, const Definitions& definitions, ObjectId inner) {
    if (auto place = definitions.find(link.of); place != definitions.end())
        if (const Slot s = place->second->find(inner); s != kNoSlot) return place->second->record(s);
    for (const ObjectRecord& r : link.added)
        if (r.id == inner) return r;
    return std::nullopt;
}

Difference differenceOf(const ObjectRecord& before, const ObjectRecord& now, const PartSet& asked) {
    Difference d;
    d.value.id = before.id;
    auto compare = [&](std::uint32_t which, const auto& a, const auto& b, auto& out) {
        if (!asked.has(which) || a == b) return;
        out = b;
        d.parts.add(which);
    };
    compare(part::kPosition, before.local.position, now.local.position, d.value.local.position);
    compare(part::kRotation, before.local.rotation, now.local.rotation, d.value.local.rotation);
    compare(part::kSize, before.local.scale, now.local.scale, d.value.local.scale);
    compare(part::kName, before.name, now.name, d.value.name);
    compare(part::kKind, before.kind, now.kind, d.value.kind);
    compare(part::kItem, before.item, now.item, d.value.item);
    compare(part::kFlags, before.flags, now.flags, d.value.flags);
    const bool moved = before.parent != now.parent || before.before != now.before;
    if (asked.has(part::kPlace) && moved) {
        d.parts.add(part::kPlace);
        d.value.parent = now.parent;
        d.value.before = now.before;
    }
    const Detail &was = detailOf(before), &is = detailOf(now);
    Detail changed;
    for (const FacetType* type : asked.facets()) {
        if (sameFacet(*type, was.facets, is.facets)) continue;
        changed.facets.take(*type, is.facets);
        d.parts.add(*type);
    }
    if (asked.has(part::kProperties)) {
        for (const auto& [key, value] : is.properties)
            if (const Value* old = valueOf(was.properties, key); old == nullptr || !(*old == value))
                changed.properties.emplace_back(key, value);
        for (const auto& [key, value] : was.properties)
            if (valueOf(is.properties, key) == nullptr) d.goneProperties.push_back(key);
        if (!changed.properties.empty() || !d.goneProperties.empty()) d.parts.add(part::kProperties);
    }
    d.value.detail = shared(std::move(changed));
    return d;
}

void apply(const Difference& d, ObjectRecord& r) {
    auto take = [&](std::uint32_t which, const auto& from, auto& to) {
        if (d.parts.has(which)) to = from;
    };
    take(part::kPosition, d.value.local.position, r.local.position);
    take(part::kRotation, d.value.local.rotation, r.local.rotation);
    take(part::kSize, d.value.local.scale, r.local.scale);
    take(part::kName, d.value.name, r.name);
    take(part::kKind, d.value.kind, r.kind);
    take(part::kItem, d.value.item, r.item);
    take(part::kFlags, d.value.flags, r.flags);
    take(part::kPlace, d.value.parent, r.parent);
    take(part::kPlace, d.value.before, r.before);
    if (!d.parts.has(part::kProperties) && d.parts.facets().empty()) return;
    Detail detail = detailOf(r);
    const Detail& from = detailOf(d.value);
    for (const FacetType* type : d.parts.facets()) detail.facets.take(*type, from.facets);
    if (d.parts.has(part::kProperties)) {
        for (const auto& [key, value] : from.properties) setValue(detail.properties, key, value);
        for (const std::string& key : d.goneProperties)
            std::erase_if(detail.properties, [&](const auto& p) { return p.first == key; });
    }
    r.detail = shared(std::move(detail));
}

void put(PrefabLink& link, Difference difference, const PartSet& asked) {
    auto place = placeOf(link, difference.value.id);
    const bool held = place != link.changed.end() && place->value.id == difference.value.id;
    if (!held) {
        if (!difference.parts.empty()) link.changed.insert(place, std::move(difference));
        return;
    }
    Difference old = *place;  // what it says of other parts stays
    old.parts = old.parts.without(asked);
    Difference both;
    both.value.id = old.value.id;
    both.parts = old.parts.with(difference.parts);
    both.goneProperties = asked.has(part::kProperties) ? difference.goneProperties : old.goneProperties;
    apply(old, both.value);
    apply(difference, both.value);
    if (!both.parts.empty())
        *place = std::move(both);
    else
        link.changed.erase(place);
}

namespace {

void eachLinkOf(DetailPtr& detail, const std::function<void(ObjectId&)>& visit) {
    if (!detail || !hasObjectLink(*detail)) return;
    Detail other = *detail;
    if (eachObjectLink(other, visit)) detail = std::make_shared<const Detail>(std::move(other));
}

}  // namespace

void takeLinksInside(DetailPtr& detail, const Scene& scene, Slot instance) {
    eachLinkOf(detail, [&](ObjectId& to) {
        const Slot s = scene.find(to);
        if (s != kNoSlot && s != instance && scene.isWithin(s, instance)) to = base::innerOf(scene.id(instance), to);
    });
}

void takeLinksOut(DetailPtr& detail, ObjectId instance, const std::function<bool(ObjectId)>& inside) {
    eachLinkOf(detail, [&](ObjectId& to) {
        if (inside(to)) to = base::joined(instance, to);
    });
}

ObjectRecord ownRecord(const Scene& scene, Slot slot, const Definitions& definitions) {
    ObjectRecord r = scene.record(slot);
    if (!scene.isInstance(slot) || scene.instanceAround(slot) == kNoSlot) return r;
    Detail detail = *r.detail;
    detail.prefab.link = std::make_shared<const PrefabLink>(gatherLink(scene, slot, detail.prefab->of, definitions));
    r.detail = std::make_shared<const Detail>(std::move(detail));
    return r;
}

PrefabLink gatherLink(const Scene& scene, Slot instance, ObjectId prefab, const Definitions& definitions) {
    PrefabLink link;
    link.of = prefab;
    Nodes nodes = baseNodes(link, definitions);
    const ObjectId id = scene.id(instance);
    std::unordered_set<ObjectId> there;
    std::unordered_set<Slot> skipped;  // what lies inside added instances
    for (Slot s : scene.subtree(instance)) {
        if (s == instance) continue;
        const Slot parent = scene.parent(s);
        if (skipped.contains(parent)) {
            skipped.insert(s);
            continue;
        }
        const ObjectId inner = base::innerOf(id, scene.id(s));
        const ObjectId above = parent == instance ? ObjectId{} : base::innerOf(id, scene.id(parent));
        if (const ObjectRecord* before = nodes.find(inner)) {
            there.insert(inner);
            ObjectRecord now = scene.record(s);
            takeLinksInside(now.detail, scene, instance);
            Difference d = differenceOf(*before, now, PartSet::all().without(part::kPlace));
            if (before->parent != above) {
                d.parts.add(part::kPlace);
                d.value.parent = above;
            }
            put(link, std::move(d), PartSet::all());
            continue;
        }
        ObjectRecord r = scene.record(s);
        if (scene.isInstance(s)) {
            skipped.insert(s);
            Detail detail = *r.detail;
            detail.prefab.link =
                std::make_shared<const PrefabLink>(gatherLink(scene, s, detail.prefab->of, definitions));
            r.detail = std::make_shared<const Detail>(std::move(detail));
        }
        takeLinksInside(r.detail, scene, instance);
        r.id = inner;
        r.parent = above;
        r.before = {};
        link.added.push_back(std::move(r));
    }
    for (const ObjectRecord& r : nodes.all)
        if (!there.contains(r.id) && (!r.parent || there.contains(r.parent))) link.removed.push_back(r.id);
    std::sort(link.removed.begin(), link.removed.end());
    return link;
}

std::vector<ObjectId> withoutTarget(const PrefabLink& link, const Definitions& definitions) {
    Nodes nodes = baseNodes(link, definitions);
    std::vector<ObjectId> gone;
    for (const Difference& d : link.changed)
        if (nodes.find(d.value.id) == nullptr) gone.push_back(d.value.id);
    for (ObjectId id : link.removed)
        if (nodes.find(id) == nullptr) gone.push_back(id);
    for (const ObjectRecord& r : link.added)
        if (r.parent && nodes.find(r.parent) == nullptr) gone.push_back(r.id);
    return gone;
}

namespace {

bool walk(const Definitions& definitions, ObjectId from, ObjectId to, std::unordered_set<ObjectId>& seen,
          std::vector<ObjectId>& way) {
    way.push_back(from);
    if (from == to) return true;
    auto place = definitions.find(from);
    if (place != definitions.end() && seen.insert(from).second) {
        std::unordered_set<ObjectId> inner;
        for (Slot s : place->second->ownSubtree(kNoSlot))
            if (place->second->isInstance(s)) prefabsOf(*place->second->detail(s)->prefab, inner);
        for (ObjectId prefab : inner)
            if (walk(definitions, prefab, to, seen, way)) return true;
    }
    way.pop_back();
    return false;
}

}  // namespace

void prefabsOf(const PrefabLink& link, std::unordered_set<ObjectId>& out) {
    out.insert(link.of);
    for (const ObjectRecord& r : link.added)
        if (r.detail && r.detail->prefab) prefabsOf(*r.detail->prefab, out);
}

std::vector<ObjectId> chain(const Definitions& definitions, ObjectId from, ObjectId to) {
    std::unordered_set<ObjectId> seen;
    std::vector<ObjectId> way;
    return walk(definitions, from, to, seen, way) ? way : std::vector<ObjectId>{};
}

std::size_t expandedCount(const PrefabLink& link, const Definitions& definitions) {
    const auto definition = definitions.find(link.of);
    std::size_t count = definition == definitions.end() ? 0 : definition->second->objectCount();
    for (const ObjectRecord& r : link.added)
        count += 1 + (r.detail && r.detail->prefab ? expandedCount(*r.detail->prefab, definitions) : 0);
    return count;
}

}  // namespace model
