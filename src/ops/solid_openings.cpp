// The openings of solids.
#include <fmt/format.h>

#include "ops/names.h"
#include "ops/solid_change.h"
#include "ops/solid_edit.h"

namespace ops {

using model::Solid;
using shape::Convex;
using shape::Pieces;
using shape::Plane;

namespace {

Status usableOpening(const Solid& solid, const model::SolidOpening& opening, const Pieces& whole) {
    if (!(opening.width > 0.001 && opening.height > 0.001 && opening.width <= 10'000 && opening.height <= 10'000))
        return fail(ErrorCode::BadInput, "An opening is from 1 mm to 10 km wide and high.");
    if (!base::isFinite(opening.at) || !base::isFinite(opening.facing) || glm::length(opening.facing) < 1e-9)
        return fail(ErrorCode::BadInput, "An opening lies on a face, at a place.");
    if (opening.outline == model::SolidOpening::Outline::Drawn &&
        !shape::convexParts(shape::outlineOf(query::openingOf(opening))))
        return fail(ErrorCode::BadInput, "An opening needs three corners or more, and sides that do not cross.");
    const Pieces hole = shape::holeOf(query::openingOf(opening), whole);
    if (hole.empty() || shape::within(whole, hole, 0).empty())
        return fail(ErrorCode::BadInput, "There is nothing of the solid where it would be cut.");
    if (solid.openings.size() > 200) return fail(ErrorCode::Refused, "A solid can have up to 200 openings.");
    return {};
}

/// Changes a solid whose openings must all be usable afterwards.
Status changeOpenings(edit::Draft& draft, ObjectId id, const std::function<Status(Solid&)>& change) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, "opened"); !may) return may;
    if (auto pieces = piecesOf(draft.scene(), id); !pieces) return tl::unexpected(pieces.error());
    Solid solid = *draft.scene().facet<Solid>(draft.scene().find(id));
    if (Status changed = change(solid); !changed) return changed;
    if (Status usable = usablePieces(draft.scene(), id, query::piecesOf(solid)); !usable) return usable;
    return putSolid(draft, id, solid);
}

Status noOpening(std::size_t which) {
    return fail(ErrorCode::NotFound, fmt::format("There is no opening {}.", which + 1));
}

Pieces wholeOf(const Solid& solid) {
    return shape::wholePieces(query::numbersOf(solid));
}

}  // namespace

Result<std::size_t> addOpening(edit::Draft& draft, ObjectId id, model::SolidOpening opening) {
    std::size_t number = 0;
    Status added = changeOpenings(draft, id, [&](Solid& solid) -> Status {
        if (Status usable = usableOpening(solid, opening, wholeOf(solid)); !usable) return usable;
        number = solid.openings.size();
        if (opening.name.empty()) opening.name = fmt::format("Opening {}", number + 1);
        solid.openings.push_back(std::move(opening));
        return {};
    });
    if (!added) return tl::unexpected(added.error());
    return number;
}

model::SolidOpening openingAt(const model::Scene& scene, ObjectId id, const Vec3& place, const Vec3& normal) {
    model::SolidOpening opening;
    const auto into = base::inverse(scene.world(scene.find(id)));
    opening.at = into ? into->point(place) : Vec3(0.0);
    opening.facing = directionIn(scene, id, normal);
    return opening;
}

Status setOpening(edit::Draft& draft, ObjectId id, std::size_t which, const model::SolidOpening& opening) {
    return changeOpenings(draft, id, [&](Solid& solid) -> Status {
        if (which >= solid.openings.size()) return noOpening(which);
        if (Status usable = usableOpening(solid, opening, wholeOf(solid)); !usable) return usable;
        solid.openings[which] = opening;
        return {};
    });
}

Status removeOpening(edit::Draft& draft, ObjectId id, std::size_t which) {
    return changeOpenings(draft, id, [&](Solid& solid) -> Status {
        if (which >= solid.openings.size()) return noOpening(which);
        solid.openings.erase(solid.openings.begin() + static_cast<std::ptrdiff_t>(which));
        // Those behind it move up; so do the tags of how their faces are dressed.
        const int tag = shape::kOpeningTag + static_cast<int>(which);
        std::erase_if(solid.faces, [&](const model::SolidFace& face) { return face.tag == tag; });
        for (model::SolidFace& face : solid.faces)
            if (face.tag > tag && face.tag < shape::kOpeningTag + 1000) --face.tag;
        return {};
    });
}

Status repeatOpening(edit::Draft& draft, ObjectId id, std::size_t which, int count, const Vec3& apart) {
    if (count < 1 || count > 200 || !base::isFinite(apart) || glm::length(apart) < 0.001)
        return fail(ErrorCode::BadInput, "An opening is repeated 1 to 200 times, 1 mm or more apart.");
    return changeOpenings(draft, id, [&](Solid& solid) -> Status {
        if (which >= solid.openings.size()) return noOpening(which);
        const Pieces whole = wholeOf(solid);
        for (int i = 1; i <= count; ++i) {
            model::SolidOpening next = solid.openings[which];
            next.at += apart * static_cast<double>(i);
            next.name = fmt::format("Opening {}", solid.openings.size() + 1);
            if (Status usable = usableOpening(solid, next, whole); !usable) return usable;
            solid.openings.push_back(std::move(next));
        }
        return {};
    });
}

}  // namespace ops
