#pragma once
// The designer's verbs on facets: bodies, points and zones. Each writes through a draft, or refuses before anything is
// touched: NotFound, Refused for what is protected, BadInput for what cannot be.
#include <functional>

#include "model/facets/body.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "ops/objects.h"

namespace ops {

/// Changes the facets of objects. `change` may refuse.
using ChangeDetail = std::function<base::Status(model::Slot, model::Detail&)>;
base::Status changeDetails(edit::Draft& draft, std::span<const base::ObjectId> ids, const ChangeDetail& change);

/// A new object that is nothing but facets, level at a place in the world. `fill` gives them, and is told where its own
/// axes are. Errors: NotFound when the group it is to lie in is gone.
base::Result<base::ObjectId> addBare(edit::Draft& draft, const std::string& name, const base::Vec3& at,
                                     base::ObjectId parent,
                                     const std::function<void(const base::Affine& world, model::Detail&)>& fill);
/// Has an object only this facet: no item, no kind, no properties, nothing below it?
bool isNothingBut(const model::Scene& scene, model::Slot slot, const model::FacetType& type);

/// Nothing: without a body. Refused for a loose one whose kind is not moved by physics.
base::Status setBody(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::optional<model::Body>& body);
/// May an object have this body? Errors: Refused.
base::Status mayHaveBody(edit::Draft& draft, model::Slot slot, const model::Body& body);

/// Errors: also more than 100,000 points, or a place that is none.
base::Status setPoints(edit::Draft& draft, base::ObjectId id, const std::optional<model::PointSet>& points);
/// Where a point is in the world, and back.
base::Vec3 pointInWorld(const model::Scene& scene, model::Slot slot, const model::PlacePoint& point);
base::Vec3 pointInOwner(const model::Scene& scene, model::Slot slot, const base::Vec3& world);
/// One more, at its end; named after the last one ("Stop 3" after "Stop 2").
base::Status addPoint(edit::Draft& draft, base::ObjectId id, const base::Vec3& world);
base::Status movePoint(edit::Draft& draft, base::ObjectId id, std::size_t index, const base::Vec3& world);
base::Status removePoints(edit::Draft& draft, base::ObjectId id, std::vector<std::size_t> which);
/// In front of the one that is `to` now.
base::Status reorderPoint(edit::Draft& draft, base::ObjectId id, std::size_t from, std::size_t to);
/// The points stay where they are in the world, or go with their owner; nothing moves now.
/// Points whose `stays` was just turned, to the same places in its terms.
void placePoints(const model::Scene& scene, model::Slot slot, model::PointSet& set);
base::Status setPointsStay(edit::Draft& draft, base::ObjectId id, bool stay);
/// Objects become the points of a new one, in order, with their names and turns; they go. Gives the new object.
base::Result<base::ObjectId> collectPoints(edit::Draft& draft, std::span<const base::ObjectId> ids);
/// And back: an object of `item` (none: a bare one) at each point, turned and named as that is; the points go, and
/// their owner too when it is nothing else. Gives the objects.
base::Result<Ids> spreadPoints(edit::Draft& draft, base::ObjectId id, base::Name item);

/// Errors: also sizes of nothing or beyond 100 km, polygons of under three corners or that cross themselves.
base::Status setZone(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::optional<model::Zone>& zone);
/// A new object with a zone whose base stands at `at`.
base::Result<base::ObjectId> addZone(edit::Draft& draft, const model::Zone& zone, const base::Vec3& at,
                                     base::ObjectId parent);
/// A polygon through corners on the ground, `height` metres high, as a zone and the place it stands at: the lowest.
struct DrawnZone {
    model::Zone zone;
    base::Vec3 at{0.0};
};
DrawnZone drawnZone(std::span<const base::Vec3> corners, double height);

/// What of a zone can be pulled: a side of a box, the shell of a sphere, a corner or the top of a polygon.
struct ZoneGrip {
    int axis = 0, way = 1;  ///< of a box; a polygon's top is axis 1
    int corner = -1;        ///< of a polygon; -1: none
    base::Vec3 at{0.0};     ///< world
    base::Vec3 along{0.0};  ///< unit length, world; zero: anywhere on the level plane through it
    friend bool operator==(const ZoneGrip&, const ZoneGrip&) = default;
};
std::vector<ZoneGrip> zoneGrips(const model::Scene& scene, model::Slot slot);
/// The zone and the object's pose once a grip was pulled to `to` (world); the other side stays where it is.
struct PulledZone {
    model::Zone zone;
    base::Transform local;
    friend bool operator==(const PulledZone&, const PulledZone&) = default;
};
PulledZone pulledZone(const model::Scene& scene, model::Slot slot, const ZoneGrip& grip, const base::Vec3& to,
                      double stepMetres);
/// Is a point of the world within the zone?
bool isInZone(const model::Scene& scene, model::Slot slot, const base::Vec3& world);

}  // namespace ops
