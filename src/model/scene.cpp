#include "model/scene.h"

#include "model/facets/solid.h"

namespace model {

Scene::Scene(std::string name, std::shared_ptr<const base::NameTable> names)
    : name_(std::move(name)), names_(std::move(names)), settings_(std::make_shared<SceneSettings>()) {
    buckets_.grow(1024);
}

std::size_t Scene::bucketOf(base::ObjectId id) const {
    const std::size_t mask = buckets_.size() - 1;
    std::size_t bucket = base::mixBits(id.value) & mask;
    while (buckets_[bucket] != 0 && id_[buckets_[bucket] - 1] != id) bucket = (bucket + 1) & mask;
    return bucket;
}

Slot Scene::find(base::ObjectId id) const {
    if (!id) return kNoSlot;
    const Slot held = buckets_[bucketOf(id)];
    return held != 0 ? held - 1 : kNoSlot;
}

std::vector<Slot> Scene::find(std::span<const base::ObjectId> ids) const {
    constexpr std::size_t kAhead = 16;
    const std::size_t mask = buckets_.size() - 1;
    const auto bucket = [&](std::size_t i) -> const Slot& { return buckets_[base::mixBits(ids[i].value) & mask]; };
    std::vector<Slot> slots;
    slots.reserve(ids.size());
    for (std::size_t i = 0; i < ids.size(); ++i) {
        if (i + 2 * kAhead < ids.size()) __builtin_prefetch(&bucket(i + 2 * kAhead));
        if (i + kAhead < ids.size())
            if (const Slot held = bucket(i + kAhead); held != 0) __builtin_prefetch(&id_[held - 1]);
        slots.push_back(find(ids[i]));
    }
    return slots;
}

void Scene::indexId(base::ObjectId id, Slot slot) {
    if ((count_ + 1) * 2 > buckets_.size()) {
        Column<Slot> larger;
        larger.grow(buckets_.size() * 2);
        std::swap(larger, buckets_);
        for (std::size_t i = 0; i < larger.size(); ++i)
            if (larger[i] != 0) buckets_.edit(bucketOf(id_[larger[i] - 1])) = larger[i];
    }
    buckets_.edit(bucketOf(id)) = slot + 1;
}

// Linear probing without tombstones: what follows the hole moves up (Knuth, TAOCP 3, 6.4, algorithm R).
void Scene::unindexId(base::ObjectId id) {
    const std::size_t mask = buckets_.size() - 1;
    std::size_t hole = bucketOf(id);
    std::size_t next = hole;
    for (;;) {
        next = (next + 1) & mask;
        const Slot held = buckets_[next];
        if (held == 0) break;
        const std::size_t home = base::mixBits(id_[held - 1].value) & mask;
        if (((next - home) & mask) < ((next - hole) & mask)) continue;
        buckets_.edit(hole) = held;
        hole = next;
    }
    buckets_.edit(hole) = 0;
}

Slot& Scene::rootEnd(Slot parent, bool first) {
    if (parent == kNoSlot) return first ? firstRoot_ : lastRoot_;
    Links& links = links_.edit(parent);
    return first ? links.firstChild : links.lastChild;
}

void Scene::link(Slot s, Slot parent, Slot before) {
    const Slot previous = before != kNoSlot ? links_[before].previous : lastChild(parent);
    Links& own = links_.edit(s);
    own.parent = parent;
    own.next = before;
    own.previous = previous;
    if (previous != kNoSlot)
        links_.edit(previous).next = s;
    else
        rootEnd(parent, true) = s;
    if (before != kNoSlot)
        links_.edit(before).previous = s;
    else
        rootEnd(parent, false) = s;
}

void Scene::unlink(Slot s) {
    const Links own = links_[s];
    if (own.previous != kNoSlot)
        links_.edit(own.previous).next = own.next;
    else
        rootEnd(own.parent, true) = own.next;
    if (own.next != kNoSlot)
        links_.edit(own.next).previous = own.previous;
    else
        rootEnd(own.parent, false) = own.previous;
}

bool Scene::hiddenInTree(Slot s) const {
    for (; s != kNoSlot; s = parent(s))
        if ((flagsOf(s) & flags::kHidden) != 0) return true;
    return false;
}

bool Scene::protectedInTree(Slot s) const {
    for (; s != kNoSlot; s = parent(s))
        if ((flagsOf(s) & flags::kProtected) != 0) return true;
    return false;
}

int Scene::depth(Slot s) const {
    int depth = -1;
    for (; s != kNoSlot; s = parent(s)) ++depth;
    return depth;
}

bool Scene::isWithin(Slot s, Slot ancestor) const {
    for (; s != kNoSlot; s = parent(s))
        if (s == ancestor) return true;
    return false;
}

ObjectRecord Scene::record(Slot s) const {
    const Label& label = label_[s];
    const Links& links = links_[s];
    ObjectRecord r;
    r.id = id_[s];
    if (links.parent != kNoSlot) r.parent = id_[links.parent];
    if (links.next != kNoSlot) r.before = id_[links.next];
    r.local = local_[s];
    r.name = label.name;
    r.kind = label.kind;
    if (!detail_[s] || !detail_[s]->get<Solid>()) r.item = label.item;  // a solid's item follows from it
    r.flags = label.flags;
    r.detail = detail_[s];
    return r;
}

template <class Into>
std::vector<Slot> Scene::walk(Slot top, const Into& into) const {
    std::vector<Slot> all;
    if (top == kNoSlot) all.reserve(count_);
    Slot s = top == kNoSlot ? firstRoot_ : top;
    while (s != kNoSlot) {
        all.push_back(s);
        if (links_[s].firstChild != kNoSlot && into(s)) {
            s = links_[s].firstChild;
            continue;
        }
        while (s != kNoSlot && s != top && links_[s].next == kNoSlot) s = links_[s].parent;
        if (s == kNoSlot || s == top) break;
        s = links_[s].next;
    }
    return all;
}

std::vector<Slot> Scene::subtree(Slot top) const {
    return walk(top, [](Slot) { return true; });
}

std::vector<Slot> Scene::ownSubtree(Slot top) const {
    return walk(top, [this](Slot s) { return !isInstance(s); });
}

Slot Scene::instanceAround(Slot s) const {
    Slot around = kNoSlot;
    for (s = parent(s); s != kNoSlot; s = parent(s))
        if (isInstance(s)) around = s;
    return around;
}

base::Aabb Scene::subtreeBounds(Slot top) const {
    if (top != kNoSlot && links_[top].firstChild == kNoSlot) return bounds_[top];
    base::Aabb box;
    for (Slot s : subtree(top)) box.add(bounds_[s]);
    return box;
}

}  // namespace model
