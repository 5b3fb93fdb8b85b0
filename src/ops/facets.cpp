#include "ops/facets.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "model/facets/body.h"
#include "model/facets/points.h"
#include "model/facets/zone.h"
#include "ops/array.h"
#include "ops/move.h"
#include "ops/names.h"
#include "query/collision.h"

namespace ops {

using base::Vec2;
using model::PlacePoint;
using model::PointSet;
using model::Zone;

namespace {

constexpr double kSmallestMetres = 0.01, kLargestMetres = 1e5;

bool usable(const Vec3& place) {
    return std::isfinite(place.x) && std::isfinite(place.y) && std::isfinite(place.z) && glm::length(place) < 1e7;
}

base::Affine intoOwner(const model::Scene& scene, Slot slot) {
    return base::inverse(scene.world(slot)).value_or(base::Affine{});
}

Status noPoints(const model::Scene& scene, Slot s) {
    return fail(ErrorCode::Refused, fmt::format("“{}” has no points.", scene.nameText(s)));
}

/// Changes the points of an object that has some.
Status changePoints(edit::Draft& draft, ObjectId id, const std::function<Status(Slot, PointSet&)>& change) {
    return changeDetails(draft, {&id, 1}, [&](Slot s, model::Detail& detail) -> Status {
        if (!detail.get<model::PointSet>()) return noPoints(draft.scene(), s);
        return change(s, detail.edit<PointSet>());
    });
}

/// What a facet says of itself cannot be, whoever sets it.
template <class Facet>
Status checked(const std::optional<Facet>& facet) {
    return facet ? Facet::type().check(&*facet) : Status{};
}

}  // namespace

Result<ObjectId> addBare(edit::Draft& draft, const std::string& name, const Vec3& at, ObjectId parent,
                         const std::function<void(const base::Affine& world, model::Detail&)>& fill) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (!usable(at)) return fail(ErrorCode::BadInput, "There is no such place.");
    model::ObjectRecord made;
    made.id = draft.session().random().nextId();
    made.parent = parent;
    made.local.position = at;
    base::Affine world = base::toAffine(made.local);
    if (parent) {
        const Slot slot = draft.scene().find(parent);
        if (slot == kNoSlot) return fail(ErrorCode::NotFound, "The group to draw into is gone.");
        made.local = base::toTransform(intoOwner(draft.scene(), slot) * world);
        world = draft.scene().world(slot) * base::toAffine(made.local);
    }
    made.name = draft.session().intern(draft.freeNames().next(name));
    model::Detail detail;
    fill(world, detail);
    if (!detail.empty()) made.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (Status created = draft.create({&made, 1}); !created) return tl::unexpected(created.error());
    return made.id;
}

bool isNothingBut(const model::Scene& scene, Slot slot, const model::FacetType& type) {
    const model::DetailPtr& detail = scene.detail(slot);
    if (!detail || detail->facets.find(type) == nullptr) return false;
    model::Detail rest = *detail;
    rest.facets.drop(type);
    return rest.empty() && !scene.item(slot) && !scene.kind(slot) && scene.firstChild(slot) == kNoSlot;
}

Status changeDetails(edit::Draft& draft, std::span<const ObjectId> ids, const ChangeDetail& change) {
    if (!draft.state()) return draft.state();
    if (Status free = refuseProtected(draft.scene(), ids, "changed"); !free) return free;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot s = draft.scene().find(id);
        const model::DetailPtr& now = draft.scene().detail(s);
        model::Detail detail = now ? *now : model::Detail{};
        if (Status changed = change(s, detail); !changed) return changed;
        details.push_back(detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail)));
    }
    if (Status set = draft.setDetails(ids, details); !set) return set;
    return followRoutes(draft, ids);
}

Status setBody(edit::Draft& draft, std::span<const ObjectId> ids, const std::optional<model::Body>& body) {
    if (body && !(body->massKilograms >= 0 && body->massKilograms <= 1e9))
        return fail(ErrorCode::BadInput, fmt::format("A mass is from 0 to 1e9 kg, not {}.", body->massKilograms));
    for (int k = 0; body && k < 3; ++k)
        if (!(body->size[k] > 0 && body->size[k] <= kLargestMetres))
            return fail(ErrorCode::BadInput, fmt::format("A body is above 0 m large each way, not {}.", body->size[k]));
    return changeDetails(draft, ids, [&](Slot s, model::Detail& detail) -> Status {
        if (Status may = body ? mayHaveBody(draft, s, *body) : Status{}; !may) return may;
        detail.put(body);
        return {};
    });
}

Status mayHaveBody(edit::Draft& draft, Slot slot, const model::Body& body) {
    using Role = model::Body::Role;
    const model::Kind* kind = draft.session().library().kind(draft.scene().kind(slot));
    if (body.role != Role::Loose || kind == nullptr || kind->isMoved) return {};
    return fail(ErrorCode::Refused,
                fmt::format("“{}” is of the kind {}, which physics does not move: its body cannot be loose.",
                            draft.scene().nameText(slot), kind->name));
}

Status setPoints(edit::Draft& draft, ObjectId id, const std::optional<PointSet>& points) {
    if (Status fine = checked(points); !fine) return fine;
    return changeDetails(draft, {&id, 1}, [&](Slot, model::Detail& detail) -> Status {
        detail.put(points);
        return {};
    });
}

Vec3 pointInWorld(const model::Scene& scene, Slot slot, const PlacePoint& point) {
    const bool stays = scene.facet<model::PointSet>(slot) && scene.facet<model::PointSet>(slot)->stays;
    return stays ? point.at : scene.world(slot).point(point.at);
}

Vec3 pointInOwner(const model::Scene& scene, Slot slot, const Vec3& world) {
    const bool stays = scene.facet<model::PointSet>(slot) && scene.facet<model::PointSet>(slot)->stays;
    return stays ? world : intoOwner(scene, slot).point(world);
}

Status addPoint(edit::Draft& draft, ObjectId id, const Vec3& world) {
    if (!usable(world)) return fail(ErrorCode::BadInput, "There is no such place.");
    return changeDetails(draft, {&id, 1}, [&](Slot s, model::Detail& detail) -> Status {
        PointSet& set = detail.edit<PointSet>();
        if (set.points.size() >= PointSet::kMost)
            return fail(ErrorCode::BadInput, fmt::format("An object can have up to {} points.", PointSet::kMost));
        PlacePoint point;
        const base::NumberedName last = base::splitNumber(set.points.empty() ? "" : set.points.back().name);
        if (last.number >= 0) point.name = last.stem + std::to_string(last.number + 1);
        point.at = set.stays ? world : intoOwner(draft.scene(), s).point(world);
        set.points.push_back(std::move(point));
        return {};
    });
}

Status movePoint(edit::Draft& draft, ObjectId id, std::size_t index, const Vec3& world) {
    if (!usable(world)) return fail(ErrorCode::BadInput, "There is no such place.");
    return changePoints(draft, id, [&](Slot s, PointSet& set) -> Status {
        if (index >= set.points.size()) return fail(ErrorCode::NotFound, "There is no such point.");
        set.points[index].at = pointInOwner(draft.scene(), s, world);
        return {};
    });
}

Status removePoints(edit::Draft& draft, ObjectId id, std::vector<std::size_t> which) {
    return changePoints(draft, id, [&](Slot, PointSet& set) -> Status {
        std::sort(which.begin(), which.end(), std::greater<>());
        which.erase(std::unique(which.begin(), which.end()), which.end());
        if (!which.empty() && which.front() >= set.points.size())
            return fail(ErrorCode::NotFound, "There is no such point.");
        for (std::size_t i : which) set.points.erase(set.points.begin() + static_cast<std::ptrdiff_t>(i));
        return {};
    });
}

Status reorderPoint(edit::Draft& draft, ObjectId id, std::size_t from, std::size_t to) {
    return changePoints(draft, id, [&](Slot, PointSet& set) -> Status {
        if (from >= set.points.size() || to > set.points.size())
            return fail(ErrorCode::NotFound, "There is no such point.");
        PlacePoint point = std::move(set.points[from]);
        set.points.erase(set.points.begin() + static_cast<std::ptrdiff_t>(from));
        set.points.insert(set.points.begin() + static_cast<std::ptrdiff_t>(to > from ? to - 1 : to), std::move(point));
        return {};
    });
}

void placePoints(const model::Scene& scene, Slot slot, PointSet& set) {
    const base::Affine map = set.stays ? scene.world(slot) : intoOwner(scene, slot);
    for (PlacePoint& p : set.points) p.at = map.point(p.at);
}

Status setPointsStay(edit::Draft& draft, ObjectId id, bool stay) {
    return changePoints(draft, id, [&](Slot s, PointSet& set) -> Status {
        if (std::exchange(set.stays, stay) != stay) placePoints(draft.scene(), s, set);
        return {};
    });
}

Result<ObjectId> collectPoints(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    const Ids tops = topmost(scene, ids);
    if (tops.empty()) return fail(ErrorCode::NotFound, "Nothing is selected that could become points.");
    if (Status free = refuseProtected(scene, tops, "made a point"); !free) return tl::unexpected(free.error());
    Vec3 middle{0.0};
    for (ObjectId id : tops) middle += scene.world(scene.find(id)).translation / static_cast<double>(tops.size());
    PointSet set;
    for (ObjectId id : tops) {
        const Slot s = scene.find(id);
        PlacePoint point;
        point.name = scene.nameText(s);
        point.at = scene.world(s).translation - middle;
        const base::Transform pose = base::toTransform(scene.world(s));
        if (const double turn = base::toDegrees(pose.rotation).y; std::abs(turn) > 1e-9) point.turnDegrees = turn;
        set.points.push_back(std::move(point));
    }
    model::ObjectRecord owner;
    owner.id = draft.session().random().nextId();
    owner.name = draft.session().intern(draft.freeNames().next("Points"));
    owner.local.position = middle;
    model::Detail detail;
    detail.put(std::move(set));
    owner.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (Status made = draft.create({&owner, 1}); !made) return tl::unexpected(made.error());
    if (Status gone = remove(draft, tops); !gone) return tl::unexpected(gone.error());
    return owner.id;
}

Result<Ids> spreadPoints(edit::Draft& draft, ObjectId id, base::Name item) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, {&id, 1}, "changed"); !free) return tl::unexpected(free.error());
    const Slot s = scene.find(id);
    if (!scene.facet<model::PointSet>(s)) return tl::unexpected(noPoints(scene, s).error());
    edit::Session& session = draft.session();
    const PointSet set = *scene.facet<model::PointSet>(s);
    FreeNames& names = draft.freeNames();
    std::vector<model::ObjectRecord> objects;
    for (const PlacePoint& p : set.points) {
        Placement placement;
        placement.item = item;
        placement.position = pointInWorld(scene, s, p);
        placement.rotation = glm::angleAxis(base::radians(p.turnDegrees.value_or(0)), Vec3(0, 1, 0));
        model::ObjectRecord r;
        if (item) {
            auto made = placed(draft, placement, names);
            if (!made) return tl::unexpected(made.error());
            r = std::move(*made);
        } else {
            r.id = session.random().nextId();
            r.local.position = placement.position;
            r.local.rotation = placement.rotation;
            r.name = session.intern(names.next("Point"));
        }
        if (!p.name.empty()) r.name = session.intern(names.next(p.name));
        objects.push_back(std::move(r));
    }
    Ids made;
    for (const model::ObjectRecord& r : objects) made.push_back(r.id);
    if (Status done = draft.create(objects); !done) return tl::unexpected(done.error());
    const bool nothingElse = isNothingBut(scene, scene.find(id), PointSet::type());
    Status done = nothingElse ? remove(draft, {&id, 1}) : setPoints(draft, id, std::nullopt);
    if (!done) return tl::unexpected(done.error());
    return made;
}

Status setZone(edit::Draft& draft, std::span<const ObjectId> ids, const std::optional<Zone>& zone) {
    if (Status fine = checked(zone); !fine) return fine;
    return changeDetails(draft, ids, [&](Slot, model::Detail& detail) -> Status {
        detail.put(zone);
        return {};
    });
}

Result<ObjectId> addZone(edit::Draft& draft, const Zone& zone, const Vec3& at, ObjectId parent) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    if (Status fine = checked(std::optional(zone)); !fine) return tl::unexpected(fine.error());
    return addBare(draft, "Zone", at, parent, [&](const base::Affine&, model::Detail& detail) { detail.put(zone); });
}

DrawnZone drawnZone(std::span<const Vec3> corners, double height) {
    DrawnZone drawn;
    drawn.zone.shape = Zone::Shape::Polygon;
    base::Aabb box;
    for (const Vec3& c : corners) box.add(c);
    drawn.at = box.baseCentre();
    for (const Vec3& c : corners) drawn.zone.corners.emplace_back(c.x - drawn.at.x, c.z - drawn.at.z);
    drawn.zone.size = Vec3(std::max(box.size().x, kSmallestMetres), std::max(height, kSmallestMetres),
                           std::max(box.size().z, kSmallestMetres));
    return drawn;
}

std::vector<ZoneGrip> zoneGrips(const model::Scene& scene, Slot slot) {
    std::vector<ZoneGrip> grips;
    const auto& detail = scene.detail(slot);
    if (!detail || !detail->get<model::Zone>() || !base::inverse(scene.world(slot))) return grips;
    const Zone& zone = *detail->get<model::Zone>();
    const base::Affine& world = scene.world(slot);
    auto add = [&](int axis, int way, const Vec3& local) {
        grips.push_back(
            {axis, way, -1, world.point(local), glm::normalize(world.linear[axis]) * static_cast<double>(way)});
    };
    const Vec3 half = zone.size / 2.0;
    if (zone.shape == Zone::Shape::Sphere) {
        for (int axis = 0; axis < 3; ++axis)
            for (int way : {-1, 1}) {
                Vec3 at{0.0};
                at[axis] = half.x * way;
                add(axis, way, at);
            }
        return grips;
    }
    if (zone.shape == Zone::Shape::Box) {
        for (int axis : {0, 2})
            for (int way : {-1, 1}) {
                Vec3 at(0, half.y, 0);
                at[axis] = half[axis] * way;
                add(axis, way, at);
            }
        add(1, -1, Vec3(0.0));
    }
    add(1, 1, Vec3(0, zone.size.y, 0));
    for (std::size_t i = 0; zone.shape == Zone::Shape::Polygon && i < zone.corners.size(); ++i)
        grips.push_back(
            {0, 1, static_cast<int>(i), world.point(Vec3(zone.corners[i].x, 0, zone.corners[i].y)), Vec3(0.0)});
    return grips;
}

PulledZone pulledZone(const model::Scene& scene, Slot slot, const ZoneGrip& grip, const Vec3& to, double stepMetres) {
    PulledZone pulled{*scene.facet<model::Zone>(slot), scene.local(slot)};
    Zone& zone = pulled.zone;
    const Vec3 local = intoOwner(scene, slot).point(to);
    auto length = [&](double metres) {
        return std::clamp(snapped(metres, stepMetres), std::max(kSmallestMetres, stepMetres), kLargestMetres);
    };
    if (grip.corner >= 0) {
        auto& corner = zone.corners[static_cast<std::size_t>(grip.corner)];
        const Vec2 before = corner;
        corner = {std::clamp(snapped(local.x, stepMetres), -kLargestMetres, kLargestMetres),
                  std::clamp(snapped(local.z, stepMetres), -kLargestMetres, kLargestMetres)};
        if (!checked(std::optional(zone))) corner = before;
        return pulled;
    }
    if (zone.shape == Zone::Shape::Sphere) {
        zone.size = Vec3(length(2 * std::abs(local[grip.axis])));
        return pulled;
    }
    if (grip.axis == 1 && grip.way > 0) {
        zone.size.y = length(local.y);
        return pulled;
    }
    // The side across stays: the object goes half the way along, or down with its base.
    const double was = zone.size[grip.axis];
    zone.size[grip.axis] = length(grip.axis == 1 ? was - local.y : was / 2 + grip.way * local[grip.axis]);
    Vec3 shift{0.0};
    shift[grip.axis] = grip.axis == 1 ? was - zone.size.y : grip.way * (zone.size[grip.axis] - was) / 2;
    pulled.local.position += base::toAffine(scene.local(slot)).linear * shift;
    return pulled;
}

bool isInZone(const model::Scene& scene, Slot slot, const Vec3& world) {
    const auto& detail = scene.detail(slot);
    const auto into = base::inverse(scene.world(slot));
    if (!detail || !detail->get<model::Zone>() || !into) return false;
    return model::isInside(*detail->get<model::Zone>(), into->point(world));
}

}  // namespace ops
