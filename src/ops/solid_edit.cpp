#include "ops/solid_edit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "ops/names.h"
#include "ops/solid_change.h"
#include "ops/surfaces.h"

namespace ops {

using model::Solid;
using shape::Convex;
using shape::Pieces;
using shape::Plane;

namespace {

constexpr double kNear = 1e-6;  // metres: places nearer than this are one

Result<const Solid*> solidOf(const model::Scene& scene, ObjectId id) {
    const Slot slot = scene.find(id);
    if (slot == kNoSlot) return tl::unexpected(edit::Draft::noObject(id).error());
    const Solid* solid = scene.facet<Solid>(slot);
    if (solid == nullptr) return fail(ErrorCode::Refused, fmt::format("“{}” is no solid.", scene.nameText(slot)));
    return solid;
}

/// A plane of the world in the axes of `world`.
Plane inOwn(const Plane& plane, const base::Affine& world) {
    const Vec3 normal = glm::transpose(world.linear) * plane.normal;
    const double size = glm::length(normal);
    return {normal / size, (plane.offset - glm::dot(plane.normal, world.translation)) / size};
}

}  // namespace

Status mayChangeSolids(edit::Draft& draft, std::span<const ObjectId> ids, std::string_view verb) {
    if (!draft.state()) return draft.state();
    for (ObjectId id : ids)
        if (auto solid = solidOf(draft.scene(), id); !solid) return tl::unexpected(solid.error());
    return refuseProtected(draft.scene(), ids, verb);
}

Status usablePieces(const model::Scene& scene, ObjectId id, const Pieces& pieces) {
    const std::string_view name = scene.nameText(scene.find(id));
    if (pieces.empty()) return fail(ErrorCode::Refused, fmt::format("Nothing of “{}” would be left.", name));
    const std::size_t faces = shape::faceCount(pieces);
    if (faces > Solid::kMostFaces)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” would have {} faces; a solid can have {}.", name, faces, Solid::kMostFaces));
    return {};
}

Status putSolid(edit::Draft& draft, ObjectId id, const Solid& solid) {
    model::Detail detail = *draft.scene().detail(draft.scene().find(id));
    detail.put(solid);
    const model::DetailPtr after = std::make_shared<const model::Detail>(std::move(detail));
    return draft.setDetails({&id, 1}, {&after, 1});
}

base::Transform shifted(base::Transform local, const Vec3& shift) {
    local.position = base::toAffine(local).point(shift);
    return local;
}

bool standsAlone(const model::Scene& scene, ObjectId id) {
    const auto below = scene.subtree(scene.find(id));
    return std::next(below.begin()) == below.end();
}

Status putPieces(edit::Draft& draft, ObjectId id, const Pieces& pieces) {
    const model::Scene& scene = draft.scene();
    if (Status usable = usablePieces(scene, id, pieces); !usable) return usable;
    const Slot slot = scene.find(id);
    query::PlainSolid plain = query::plainOf(pieces, *scene.facet<Solid>(slot));
    const bool alone = standsAlone(scene, id);
    if (!alone)
        for (model::SolidPiece& piece : plain.solid.pieces)
            for (Vec3& corner : piece.corners) corner += plain.shift;
    const base::Transform local = shifted(scene.local(slot), plain.shift);
    if (Status set = putSolid(draft, id, plain.solid); !set) return set;
    return alone && plain.shift != Vec3(0.0) ? draft.setTransforms({&id, 1}, {&local, 1}) : Status{};
}

Result<ObjectId> addPieces(edit::Draft& draft, ObjectId like, const Pieces& pieces) {
    const model::Scene& scene = draft.scene();
    if (Status usable = usablePieces(scene, like, pieces); !usable) return tl::unexpected(usable.error());
    const Slot slot = scene.find(like);
    query::PlainSolid plain = query::plainOf(pieces, *scene.facet<Solid>(slot));
    model::ObjectRecord r = scene.record(slot);
    do r.id = draft.session().random().nextId();
    while (scene.find(r.id) != kNoSlot);
    r.before = {};
    r.name = draft.session().intern(draft.freeNames().next(scene.nameText(slot)));
    r.local = shifted(scene.local(slot), plain.shift);
    model::Detail detail = *scene.detail(slot);
    detail.put(plain.solid);
    r.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (Status made = draft.create({&r, 1}); !made) return tl::unexpected(made.error());
    return r.id;
}

Result<Pieces> piecesOf(const model::Scene& scene, ObjectId id) {
    auto solid = solidOf(scene, id);
    if (!solid) return tl::unexpected(solid.error());
    if ((*solid)->shape == Solid::Shape::Plane)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” is a plane: it has no inside.", scene.nameText(scene.find(id))));
    return query::piecesOf(**solid);
}

Status keepAsPlain(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (Status may = mayChangeSolids(draft, ids, "made plain"); !may) return may;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        if (Status set = putPieces(draft, id, *pieces); !set) return set;
    }
    return {};
}

Result<Ids> clip(edit::Draft& draft, std::span<const ObjectId> ids, const Plane& plane, const ClipKeeps& keeps) {
    if (Status may = mayChangeSolids(draft, ids, "clipped"); !may) return tl::unexpected(may.error());
    if (!keeps.front && !keeps.behind) return fail(ErrorCode::Refused, "One half at least is to be kept.");
    if (!base::isFinite(plane.normal) || glm::length(plane.normal) < 0.5)
        return fail(ErrorCode::BadInput, "Three points in one line are no plane.");
    struct Cut {
        ObjectId id;
        shape::PieceHalves halves;
    };
    std::vector<Cut> cuts;
    bool any = false;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        const Plane own = inOwn(plane, draft.scene().world(draft.scene().find(id)));
        cuts.push_back({id, shape::cut(*pieces, own, shape::freeTag(*pieces))});
        any = any || (!cuts.back().halves.before.empty() && !cuts.back().halves.behind.empty());
    }
    if (!any)
        return fail(ErrorCode::Refused, ids.size() == 1 ? "The plane misses it." : "The plane meets none of them.");
    Ids left, gone;
    for (const Cut& cut : cuts) {
        const bool whole = cut.halves.before.empty() || cut.halves.behind.empty();
        const bool front = keeps.front && !cut.halves.before.empty();
        const bool behind = keeps.behind && !cut.halves.behind.empty();
        if (!front && !behind) {
            gone.push_back(cut.id);
            continue;
        }
        left.push_back(cut.id);
        if (whole) continue;  // it stays as it is, with its numbers
        if (front && behind) {
            auto made = addPieces(draft, cut.id, cut.halves.before);
            if (!made) return tl::unexpected(made.error());
            left.push_back(*made);
        }
        const Pieces& kept = behind ? cut.halves.behind : cut.halves.before;
        if (Status set = putPieces(draft, cut.id, kept); !set) return tl::unexpected(set.error());
    }
    if (left.empty()) return fail(ErrorCode::Refused, "Nothing would be left of them.");
    if (!gone.empty())
        if (Status removed = remove(draft, gone); !removed) return tl::unexpected(removed.error());
    return left;
}

Status split(edit::Draft& draft, ObjectId id, const Plane& plane) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, "split"); !may) return may;
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    auto halves =
        shape::cut(*pieces, inOwn(plane, draft.scene().world(draft.scene().find(id))), shape::freeTag(*pieces));
    if (halves.before.empty() || halves.behind.empty()) return fail(ErrorCode::Refused, "The plane misses it.");
    for (Convex& piece : halves.before) halves.behind.push_back(std::move(piece));
    return putPieces(draft, id, halves.behind);
}

Vec3 directionIn(const model::Scene& scene, ObjectId id, const Vec3& direction) {
    const Vec3 own = glm::transpose(scene.world(scene.find(id)).linear) * direction;
    return glm::length(own) > 1e-12 ? glm::normalize(own) : Vec3(0, 0, 1);
}

Status dressFace(edit::Draft& draft, ObjectId id, int tag, const std::optional<model::SolidFace>& face) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, "dressed"); !may) return may;
    Solid solid = *draft.scene().facet<Solid>(draft.scene().find(id));
    if (face && (face->slot.empty() || !(face->metres >= 0 && face->metres <= 1'000) ||
                 !std::isfinite(face->turnDegrees + face->across + face->down)))
        return fail(ErrorCode::BadInput, "A dressed face needs a slot, and tiles from 0 to 1000 m.");
    std::erase_if(solid.faces, [&](const model::SolidFace& known) { return known.tag == tag; });
    if (face) {
        solid.faces.push_back(*face);
        solid.faces.back().tag = tag;
        std::sort(solid.faces.begin(), solid.faces.end(),
                  [](const model::SolidFace& a, const model::SolidFace& b) { return a.tag < b.tag; });
    }
    return putSolid(draft, id, solid);
}

Status setFaceSurface(edit::Draft& draft, ObjectId id, int tag, const std::string& surface) {
    if (surface.empty()) return dressFace(draft, id, tag, std::nullopt);
    if (Status may = mayChangeSolids(draft, {&id, 1}, "dressed"); !may) return may;
    if (!draft.session().library().surfaces().contains(surface))
        return fail(ErrorCode::NotFound, fmt::format("There is no surface “{}”.", surface));
    model::SolidFace face;
    for (const model::SolidFace& known : draft.scene().facet<Solid>(draft.scene().find(id))->faces)
        if (known.tag == tag) face = known;
    face.slot = surface;
    if (Status set = dressFace(draft, id, tag, face); !set) return set;
    return setSlot(draft, {&id, 1}, surface, [&](model::SlotSurface& slot) { slot.surface = surface; });
}

}  // namespace ops
