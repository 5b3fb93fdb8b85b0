#pragma once
// Berths: named places of items where other things go. One that is put there belongs to what has the berth.
#include <optional>
#include <vector>

#include "ops/objects.h"

namespace ops {

/// A berth of an object, in the world.
struct Berth {
    base::ObjectId holder;
    std::string name;
    base::Vec3 at{0.0};
    base::Quat rotation{1, 0, 0, 0};
    base::Vec2 room{0.0};  ///< of an opening: what goes there is so wide and high, or nearly; 0: anything
};
/// Is an item of such bounds as large as the room that a berth has?
bool fits(const Berth& berth, const base::Aabb& bounds);
/// Those where nothing is yet, of objects and of the openings of solids, which take what is as large as they are;
/// objects that are neither hidden nor protected (what goes into one is from then on what its holder is), not `without`
/// and not below one of them. Cost: one look at each object.
std::vector<Berth> freeBerths(const model::Library& library, const model::Scene& scene,
                              std::span<const base::ObjectId> without = {});
/// The nearest within so many metres that takes what has such bounds; null: there is none.
const Berth* nearestBerth(const std::vector<Berth>& all, const base::Vec3& at, double metres, const base::Aabb& bounds);
/// The berth of that name; nothing: the object has none, or something is there.
std::optional<Berth> berthOf(const model::Library& library, const model::Scene& scene, base::ObjectId holder,
                             std::string_view name);
/// Puts an object there: its base point at the berth, turned as that is, as large as it was, and belonging to what has
/// the berth. Errors: Refused for what is protected, or for one that the berth is a part of; NotFound.
base::Status putInBerth(edit::Draft& draft, base::ObjectId id, const Berth& berth);
/// The pose in the world of an item whose base point is there.
base::Transform berthed(const model::Item& item, const Berth& berth, double size);

}  // namespace ops
