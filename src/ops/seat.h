#pragma once
// Seating: putting objects down on what is below them, by true contact of their lowest points. A group goes down as
// one. Selected objects that stand on one another settle from the lowest up.
#include "ops/objects.h"
#include "query/settle.h"

namespace ops {

struct SeatOptions {
    bool tilt = false;                ///< lean with the slope under the base point first
    double sinkMetres = 0;            ///< how far into the support
    query::Way out = query::Way::Up;  ///< of what it lies in: on top of it, or below
    bool asSeen = false;              ///< what falls is what one sees of it, not what others bump into
    bool ontoSeen = false;            ///< so is what carries
};

/// What seating does to one object.
struct SeatDrop {
    base::ObjectId id;
    bool supported = false;  ///< something is below it
    double metres = 0;       ///< how far down; negative: up, out of what it was buried in
    base::Transform pose;    ///< its local pose when seated
};

/// What seating `ids` would do: one entry for each topmost object, lowest first. Hidden objects carry nothing.
/// `goesOn` is asked for each; false: there is no answer.
std::vector<SeatDrop> seatDrops(const model::Scene& scene, const query::SceneIndex& index,
                                std::span<const base::ObjectId> ids, const SeatOptions& options,
                                const std::function<bool()>& goesOn = {});

/// Does it. Gives what was done; those without support stay where they are. Errors: Refused if one is protected;
/// NotFound if nothing is selected, or nothing of it has anything below.
base::Result<std::vector<SeatDrop>> seat(edit::Draft& draft, const query::SceneIndex& index,
                                         std::span<const base::ObjectId> ids, const SeatOptions& options);

/// How far `top` is above what would carry it, as `index` knows them, metres; negative: below; nothing: nothing is
/// there. Up to `enough` it need not be exact.
std::optional<double> heightAboveSupport(const model::Scene& scene, const query::SceneIndex& index, model::Slot top,
                                         double enough = -query::kFarthestFall);

}  // namespace ops
