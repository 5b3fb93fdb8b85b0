#include "ops/berths.h"

#include <fmt/format.h>

#include <unordered_map>
#include <unordered_set>

#include "model/facets/solid.h"
#include "ops/names.h"
#include "query/solids.h"

namespace ops {
namespace {

/// Nearer than this, metres, something that belongs to the holder is in the berth.
constexpr double kTaken = 1e-3;

/// Where in its own axes a thing's base point is.
base::Vec3 basePointOf(const model::Library& library, const model::Scene& scene, Slot s) {
    const model::Item* item = library.item(scene.item(s));
    return item != nullptr ? item->landingPoint() : base::Vec3(0.0);
}

bool isTaken(const model::Library& library, const model::Scene& scene, Slot holder, const base::Vec3& at,
             const std::unordered_set<Slot>& without) {
    for (Slot s = scene.firstChild(holder); s != kNoSlot; s = scene.nextSibling(s))
        if (!without.contains(s) && glm::length(scene.world(s).point(basePointOf(library, scene, s)) - at) < kTaken)
            return true;
    return false;
}

/// The turn of an object in the world, without its sizes.
base::Quat turnOf(const base::Affine& world) {
    base::Mat3 turn = world.linear;
    for (int k = 0; k < 3; ++k) {
        const double length = glm::length(turn[k]);
        if (!(length > 1e-12)) return {1, 0, 0, 0};
        turn[k] /= length;
    }
    if (glm::determinant(turn) < 0) turn[0] = -turn[0];
    return glm::normalize(glm::quat_cast(turn));
}

/// The openings of a solid: in the middle of what they go through, facing as the face does.
void addOpenings(const model::Library& library, const model::Scene& scene, Slot s,
                 const std::unordered_set<Slot>& without, std::vector<Berth>& all) {
    const model::Solid* solid = scene.facet<model::Solid>(s);
    if (solid == nullptr || solid->openings.empty()) return;
    const shape::Pieces whole = shape::wholePieces(query::numbersOf(*solid));
    const base::Affine& world = scene.world(s);
    for (const model::SolidOpening& o : solid->openings) {
        const base::Affine frame = shape::frameOf(query::openingOf(o));
        const base::Vec3 middle = frame.point({0, o.height / 2, 0});
        const double deep = o.depth > 0 ? o.depth : shape::thicknessAt(whole, middle, o.facing).value_or(0);
        const base::Vec3 at = world.point(frame.point({0, 0, -deep / 2}));
        if (isTaken(library, scene, s, at, without)) continue;
        // What is there looks out of the face: the front of an item is its -z.
        const base::Quat turn = turnOf(world * frame) * glm::angleAxis(base::kPi, base::Vec3(0, 1, 0));
        all.push_back({scene.id(s), o.name, at, turn, {o.width, o.height}});
    }
}

void addBerths(const model::Library& library, const model::Scene& scene, Slot s,
               const std::unordered_set<Slot>& without, std::vector<Berth>& all) {
    addOpenings(library, scene, s, without, all);
    const model::Item* item = library.item(scene.item(s));
    if (item == nullptr || item->berths.empty()) return;
    const base::Affine& world = scene.world(s);
    const base::Quat turn = turnOf(world);
    for (const model::ItemPlace& place : item->berths) {
        const base::Vec3 at = world.point(place.at);
        if (!isTaken(library, scene, s, at, without))
            all.push_back({scene.id(s), place.name, at, turn * model::turnOf(place), {}});
    }
}

}  // namespace

std::vector<Berth> freeBerths(const model::Library& library, const model::Scene& scene,
                              std::span<const ObjectId> without) {
    std::vector<Berth> all;
    std::unordered_set<std::string_view> holders;
    for (const model::Item& item : library.items())
        if (!item.berths.empty()) holders.insert(item.name);
    std::unordered_map<base::Name, bool> holds;  // each item is looked up once
    const auto isHolder = [&](Slot s) {
        if (const auto* solid = scene.facet<model::Solid>(s); solid != nullptr && !solid->openings.empty()) return true;
        const auto [place, isNew] = holds.try_emplace(scene.item(s), false);
        if (isNew) place->second = holders.contains(scene.itemText(s));
        return place->second;
    };
    std::unordered_set<Slot> left;
    for (const ObjectId id : without)
        for (Slot s : scene.subtree(scene.find(id))) left.insert(s);
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (scene.alive(s) && isHolder(s) && !left.contains(s) && !scene.protectedInTree(s) && !scene.hiddenInTree(s))
            addBerths(library, scene, s, left, all);
    return all;
}

bool fits(const Berth& berth, const base::Aabb& bounds) {
    if (berth.room == base::Vec2(0.0)) return true;
    const base::Vec3 size = bounds.size();
    const double wide = std::max(size.x, size.z);
    return std::abs(wide - berth.room.x) <= 0.2 * berth.room.x && std::abs(size.y - berth.room.y) <= 0.2 * berth.room.y;
}

const Berth* nearestBerth(const std::vector<Berth>& all, const base::Vec3& at, double metres,
                          const base::Aabb& bounds) {
    const Berth* nearest = nullptr;
    for (const Berth& berth : all)
        if (!fits(berth, bounds)) {
        } else if (const double away = glm::length(berth.at - at); away <= metres)
            metres = away, nearest = &berth;
    return nearest;
}

std::optional<Berth> berthOf(const model::Library& library, const model::Scene& scene, ObjectId holder,
                             std::string_view name) {
    const Slot s = scene.find(holder);
    if (s == kNoSlot) return std::nullopt;
    std::vector<Berth> all;
    addBerths(library, scene, s, {}, all);
    for (const Berth& berth : all)
        if (berth.name == name) return berth;
    return std::nullopt;
}

base::Transform berthed(const model::Item& item, const Berth& berth, double size) {
    return landing(item, berth.at, berth.rotation, size);
}

Status putInBerth(edit::Draft& draft, ObjectId id, const Berth& berth) {
    if (!draft.state()) return draft.state();
    if (Status free = refuseMoving(draft.scene(), {&id, 1}, "moved"); !free) return free;
    const model::Scene& scene = draft.scene();
    const Slot s = scene.find(id), holder = scene.find(berth.holder);
    if (holder == kNoSlot) return fail(ErrorCode::NotFound, "What has the berth is gone.");
    if (scene.isWithin(holder, s))
        return fail(ErrorCode::Refused, fmt::format("“{}” cannot go into a berth of its own.", scene.nameText(s)));
    const auto inverse = base::inverse(scene.world(holder));
    if (!inverse) return fail(ErrorCode::Refused, "What has the berth has no usable size.");
    base::Vec3 size, own;
    for (int k = 0; k < 3; ++k) {
        size[k] = glm::length(scene.world(s).linear[k]);
        own[k] = glm::length(scene.world(holder).linear[k]);
    }
    const base::Vec3 point = basePointOf(draft.session().library(), scene, s);
    base::Transform local;
    local.rotation = glm::normalize(glm::inverse(turnOf(scene.world(holder))) * berth.rotation);
    local.scale = size / glm::max(own, base::Vec3(1e-12));
    local.position = inverse->point(berth.at) - local.rotation * (local.scale * point);
    const model::TreePlace place{berth.holder, {}};
    if (scene.parent(s) != holder)
        if (Status moved = draft.moveInTree({&id, 1}, {&place, 1}); !moved) return moved;
    return draft.setTransforms({&id, 1}, {&local, 1});
}

}  // namespace ops
