// The faces, edges and corners of solids: found, moved, pulled out, set in.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "ops/names.h"
#include "ops/solid.h"
#include "ops/solid_change.h"
#include "ops/solid_edit.h"

namespace ops {

using model::Solid;
using shape::Convex;
using shape::Pieces;
using shape::Plane;

namespace {

constexpr double kSameSpot = 1e-6;  // metres: places nearer than this are one

bool isAt(const Vec3& a, const Vec3& b) {
    return glm::length(a - b) <= kSameSpot;
}

bool liesOn(const Convex& piece, const shape::ConvexFace& face, const SolidPart& part) {
    if (face.tag != part.tag) return false;
    const Plane plane = shape::planeOf(piece, face);
    return glm::dot(plane.normal, part.plane.normal) > 1 - 1e-9 &&
           std::abs(plane.offset - part.plane.offset) <= kSameSpot;
}

bool isOnEdge(const Vec3& p, const SolidPart& edge) {
    const Vec3 along = edge.to - edge.from;
    const double length = glm::length(along), t = glm::dot(p - edge.from, along) / length;
    return t >= -kSameSpot && t <= length + kSameSpot && isAt(p, edge.from + along * (t / length));
}

double distanceTo(const Vec3& p, const Vec3& a, const Vec3& b) {
    const Vec3 along = b - a;
    const double t = std::clamp(glm::dot(p - a, along) / glm::dot(along, along), 0.0, 1.0);
    return glm::length(p - (a + along * t));
}

Status hollowed(const Vec3& at) {
    return fail(
        ErrorCode::Refused,
        fmt::format("It would be hollow at {:.2f}, {:.2f}, {:.2f}: a piece bulges outwards only.", at.x, at.y, at.z));
}

/// A piece whose corners moved, convex again. Errors: Refused when it would be hollow or empty.
Result<Convex> reshaped(const Convex& before, const std::vector<Vec3>& corners, int otherTag) {
    Convex after = before;
    after.corners = corners;
    if (shape::wellFormed(after)) return after;
    auto hull = shape::hullOf(corners, before, otherTag);
    if (!hull) return fail(ErrorCode::Refused, "A piece would have no room inside.");
    for (const Vec3& corner : corners) {
        double outmost = -1e300;
        for (const shape::ConvexFace& face : hull->faces)
            outmost = std::max(outmost, shape::planeOf(*hull, face).height(corner));
        if (outmost < -kSameSpot) return tl::unexpected(hollowed(corner).error());
    }
    // Turned inside out, its hull is a piece, but no face is where it was.
    if (shape::volumeOf(after) <= 0) return fail(ErrorCode::Refused, "A piece would be turned inside out.");
    return std::move(*hull);
}

}  // namespace

std::vector<Vec3> cornersOf(const Pieces& pieces, const SolidPart& part) {
    std::vector<Vec3> all;
    auto add = [&](const Vec3& p) {
        if (std::none_of(all.begin(), all.end(), [&](const Vec3& q) { return isAt(p, q); })) all.push_back(p);
    };
    for (const Convex& piece : pieces) {
        if (part.kind == SolidPart::Kind::Face)
            for (const shape::ConvexFace& face : piece.faces)
                for (std::uint32_t i : liesOn(piece, face, part) ? face.loop : std::vector<std::uint32_t>{})
                    add(piece.corners[i]);
        else
            for (const Vec3& corner : piece.corners)
                if (part.kind == SolidPart::Kind::Corner ? isAt(corner, part.from) : isOnEdge(corner, part))
                    add(corner);
    }
    return all;
}

Result<SolidPart> faceTowards(const Pieces& pieces, const Vec3& direction) {
    std::optional<SolidPart> best;
    double score = std::cos(base::radians(30)), furthest = -1e300;
    const Vec3 way = glm::normalize(direction);
    for (const Convex& piece : pieces)
        for (const shape::ConvexFace& face : piece.faces) {
            const Plane plane = shape::planeOf(piece, face);
            const double turn = glm::dot(plane.normal, way);
            const bool better = turn > score + 1e-9 || (turn > score - 1e-9 && plane.offset > furthest);
            if (turn < score - 1e-9 || !better) continue;
            score = std::max(score, turn);
            furthest = plane.offset;
            best = SolidPart{SolidPart::Kind::Face, face.tag, plane, {}, {}};
        }
    if (!best) return fail(ErrorCode::NotFound, "No face of it looks that way.");
    return *best;
}

Vec3 middleOf(const Pieces& pieces, const SolidPart& part) {
    const std::vector<Vec3> corners = cornersOf(pieces, part);
    base::Aabb box;
    for (const Vec3& c : corners) box.add(c);
    return box.empty() ? part.from : box.centre();
}

std::optional<SolidPart> partAt(const Pieces& pieces, const base::Ray& ray, double near) {
    std::optional<SolidPart> best;
    double nearest = 1e300;
    const Convex* piece = nullptr;
    for (const Convex& one : pieces) {
        const auto entered = shape::enter(one, ray);
        if (!entered || entered->distance >= nearest) continue;
        nearest = entered->distance;
        piece = &one;
        best = SolidPart{SolidPart::Kind::Face, entered->face->tag, shape::planeOf(one, *entered->face), {}, {}};
    }
    if (!best) return best;
    const Vec3 hit = ray.at(nearest);
    double away = near;
    // A corner wins over an edge that ends in it.
    std::optional<SolidPart> part;
    for (const Vec3& corner : piece->corners)
        if (const double d = glm::length(corner - hit); d < away) {
            away = d;
            part = SolidPart{SolidPart::Kind::Corner, 0, {}, corner, corner};
        }
    if (part) return part;
    for (const shape::ConvexFace& face : piece->faces)
        for (std::size_t k = 0; k < face.loop.size(); ++k) {
            const Vec3 &a = piece->corners[face.loop[k]], &b = piece->corners[face.loop[(k + 1) % face.loop.size()]];
            if (const double d = distanceTo(hit, a, b); d < away) {
                away = d;
                part = SolidPart{SolidPart::Kind::Edge, 0, {}, a, b};
            }
        }
    return part ? part : best;
}

Result<Pieces> movedParts(const Pieces& pieces, std::span<const SolidPart> parts, const Vec3& by) {
    std::vector<Vec3> moving;
    for (const SolidPart& part : parts) {
        const std::vector<Vec3> corners = cornersOf(pieces, part);
        if (corners.empty()) return fail(ErrorCode::NotFound, "The part is not there any more.");
        moving.insert(moving.end(), corners.begin(), corners.end());
    }
    Pieces after = pieces;
    std::vector<bool> changed(pieces.size(), false);
    const int tag = shape::freeTag(pieces);
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        std::vector<Vec3> corners = pieces[i].corners;
        for (Vec3& corner : corners)
            if (std::any_of(moving.begin(), moving.end(), [&](const Vec3& m) { return isAt(m, corner); })) {
                corner += by;
                changed[i] = true;
            }
        if (!changed[i]) continue;
        auto made = reshaped(pieces[i], corners, tag);
        if (!made) return tl::unexpected(made.error());
        after[i] = std::move(*made);
    }
    for (std::size_t i = 0; i < after.size(); ++i)
        for (std::size_t k = 0; k < after.size(); ++k) {
            if (i == k || !changed[i] || (changed[k] && k < i)) continue;
            const auto both = shape::within(after[i], after[k], 0);
            if (both && shape::volumeOf(*both) > 1e-9)
                return fail(ErrorCode::Refused, "It would enter another piece of the solid.");
        }
    return after;
}

namespace {

/// A side of a box that goes along its normal: the box has another size, and stays one with its openings.
std::optional<std::pair<Solid, Vec3>> resizedBox(const Solid& solid, std::span<const SolidPart> parts, const Vec3& by) {
    if ((solid.shape != Solid::Shape::Box && solid.shape != Solid::Shape::Wall) || parts.size() != 1 ||
        parts[0].kind != SolidPart::Kind::Face || parts[0].tag > 5)
        return std::nullopt;
    const Vec3& normal = parts[0].plane.normal;
    const double metres = glm::dot(by, normal);
    if (glm::length(by - normal * metres) > 1e-9) return std::nullopt;
    base::Aabb box{{-solid.size.x / 2, 0, -solid.size.z / 2}, {solid.size.x / 2, solid.size.y, solid.size.z / 2}};
    for (int k = 0; k < 3; ++k) {
        if (normal[k] > 1 - 1e-9) box.high[k] += metres;
        if (normal[k] < -1 + 1e-9) box.low[k] -= metres;
        if (box.high[k] - box.low[k] < 0.001) return std::nullopt;
    }
    Solid made = solid;
    made.size = box.size();
    const Vec3 shift = box.baseCentre();
    for (model::SolidOpening& opening : made.openings) opening.at -= shift;
    return std::pair(made, shift);
}

Status putResized(edit::Draft& draft, ObjectId id, const Solid& solid, const Vec3& shift) {
    if (Status usable = usableSolid(solid); !usable) return usable;
    const base::Transform local = shifted(draft.scene().local(draft.scene().find(id)), shift);
    if (Status set = putSolid(draft, id, solid); !set) return set;
    return draft.setTransforms({&id, 1}, {&local, 1});
}

}  // namespace

Result<std::vector<SolidPart>> moveParts(edit::Draft& draft, ObjectId id, std::span<const SolidPart> parts,
                                         const Vec3& by) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, "pulled"); !may) return tl::unexpected(may.error());
    if (!base::isFinite(by) || glm::length(by) > 10'000)
        return fail(ErrorCode::BadInput, "A part is moved by 10 km at most.");
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    auto after = movedParts(*pieces, parts, by);
    if (!after) return tl::unexpected(after.error());
    // What it stands on may come to lie elsewhere: parts follow.
    const Slot slot = draft.scene().find(id);
    const auto before = base::inverse(base::toAffine(draft.scene().local(slot)));
    const base::Affine was = base::toAffine(draft.scene().local(slot));
    const bool alone = standsAlone(draft.scene(), id);
    const auto box = alone ? resizedBox(*draft.scene().facet<Solid>(slot), parts, by) : std::nullopt;
    const Status set = box ? putResized(draft, id, box->first, box->second) : putPieces(draft, id, *after);
    if (!set) return tl::unexpected(set.error());
    const auto into = base::inverse(base::toAffine(draft.scene().local(draft.scene().find(id))));
    const Vec3 shift = before && into ? into->point(was.point(Vec3(0.0))) : Vec3(0.0);
    std::vector<SolidPart> moved(parts.begin(), parts.end());
    for (SolidPart& part : moved) {
        part.from += by + shift;
        part.to += by + shift;
        part.plane.offset += glm::dot(part.plane.normal, by + shift);
    }
    return moved;
}

namespace {

/// A verb on one face: what it makes of the pieces, and where the face is then.
Result<SolidPart> onFace(edit::Draft& draft, ObjectId id, const SolidPart& face, std::string_view verb,
                         const std::function<Result<Pieces>(const Pieces&, SolidPart&)>& make) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, verb); !may) return tl::unexpected(may.error());
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    if (face.kind != SolidPart::Kind::Face || cornersOf(*pieces, face).empty())
        return fail(ErrorCode::NotFound, "The face is not there any more.");
    SolidPart after = face;
    auto made = make(*pieces, after);
    if (!made) return tl::unexpected(made.error());
    const base::Affine was = base::toAffine(draft.scene().local(draft.scene().find(id)));
    if (Status set = putPieces(draft, id, *made); !set) return tl::unexpected(set.error());
    if (const auto into = base::inverse(base::toAffine(draft.scene().local(draft.scene().find(id)))))
        after.plane.offset += glm::dot(after.plane.normal, into->point(was.point(Vec3(0.0))));
    return after;
}

std::vector<std::vector<Vec3>> polygonsOf(const Pieces& pieces, const SolidPart& part) {
    std::vector<std::vector<Vec3>> all;
    for (const Convex& piece : pieces)
        for (const shape::ConvexFace& face : piece.faces)
            if (liesOn(piece, face, part)) {
                std::vector<Vec3>& one = all.emplace_back();
                for (std::uint32_t i : face.loop) one.push_back(piece.corners[i]);
            }
    return all;
}

/// A prism on a polygon, drawn out by `by`; its far end has `tag`.
Convex drawnOut(const std::vector<Vec3>& polygon, const Vec3& by, int tag, int sides) {
    Convex made;
    const auto n = static_cast<std::uint32_t>(polygon.size());
    made.corners = polygon;
    for (const Vec3& p : polygon) made.corners.push_back(p + by);
    shape::ConvexFace near{{}, sides}, far{{}, tag};
    for (std::uint32_t i = 0; i < n; ++i) {
        near.loop.push_back(n - 1 - i);
        far.loop.push_back(n + i);
        made.faces.push_back({{i, (i + 1) % n, n + (i + 1) % n, n + i}, sides});
    }
    made.faces.push_back(near);
    made.faces.push_back(far);
    if (shape::volumeOf(made) < 0)
        for (shape::ConvexFace& face : made.faces) std::reverse(face.loop.begin(), face.loop.end());
    return made;
}

}  // namespace

Result<SolidPart> extrude(edit::Draft& draft, ObjectId id, const SolidPart& face, double metres) {
    if (!(std::abs(metres) >= 0.001 && std::abs(metres) <= 10'000))
        return fail(ErrorCode::BadInput, "A face is pulled by 1 mm to 10 km.");
    return onFace(draft, id, face, "pulled", [&](const Pieces& pieces, SolidPart& after) -> Result<Pieces> {
        const int sides = shape::freeTag(pieces);
        const Vec3 by = face.plane.normal * metres;
        Pieces prisms;
        for (const auto& polygon : polygonsOf(pieces, face)) prisms.push_back(drawnOut(polygon, by, face.tag, sides));
        after.plane.offset += metres;
        if (metres < 0) return shape::without(pieces, prisms, sides);
        // Where it meets the solid again it ends.
        return shape::together(pieces, prisms);
    });
}

Result<SolidPart> inset(edit::Draft& draft, ObjectId id, const SolidPart& face, double metres) {
    if (!(metres >= 0.001 && metres <= 10'000))
        return fail(ErrorCode::BadInput, "A smaller face lies 1 mm to 10 km inside the edges.");
    return onFace(draft, id, face, "cut", [&](const Pieces& pieces, SolidPart& after) -> Result<Pieces> {
        after.tag = shape::freeTag(pieces);
        Pieces all;
        bool any = false;
        for (const Convex& piece : pieces) {
            std::optional<Convex> rest = piece;
            const shape::ConvexFace* on = nullptr;
            for (const shape::ConvexFace& one : piece.faces)
                if (liesOn(piece, one, face)) on = &one;
            for (std::size_t k = 0; on != nullptr && rest && k < on->loop.size(); ++k) {
                const Vec3 &a = piece.corners[on->loop[k]], &b = piece.corners[on->loop[(k + 1) % on->loop.size()]];
                const Vec3 out = glm::normalize(glm::cross(b - a, face.plane.normal));
                shape::Halves halves = shape::cut(*rest, shape::planeThrough(a - out * metres, out), after.tag + 1);
                if (halves.before) all.push_back(std::move(*halves.before));
                rest = std::move(halves.behind);
            }
            if (!rest) return fail(ErrorCode::Refused, "The face is not wide enough for a smaller one in it.");
            if (on != nullptr)
                for (shape::ConvexFace& one : rest->faces)
                    if (liesOn(*rest, one, face)) {
                        one.tag = after.tag;
                        any = true;
                    }
            all.push_back(std::move(*rest));
        }
        if (!any) return fail(ErrorCode::Refused, "The face is not wide enough for a smaller one in it.");
        return all;
    });
}

}  // namespace ops
