// Solids with solids: taken out of one another, joined, hollowed, taken apart.
#include <fmt/format.h>

#include <algorithm>

#include "ops/names.h"
#include "ops/solid_change.h"
#include "ops/solid_edit.h"

namespace ops {

using model::Solid;
using shape::Convex;
using shape::Pieces;
using shape::Plane;

namespace {

/// Pieces of one solid in the axes of another.
Result<Pieces> piecesIn(const model::Scene& scene, ObjectId of, ObjectId in) {
    auto pieces = piecesOf(scene, of);
    if (!pieces) return pieces;
    const auto into = base::inverse(scene.world(scene.find(in)));
    if (!into) return fail(ErrorCode::Refused, "What has no size has no inside.");
    return shape::mapped(std::move(*pieces), *into * scene.world(scene.find(of)));
}

/// Tags of others must not mean faces of this one.
void moveTags(Pieces& pieces, int by) {
    for (Convex& piece : pieces)
        for (shape::ConvexFace& face : piece.faces) face.tag += by;
}

}  // namespace

Status subtract(edit::Draft& draft, std::span<const ObjectId> ids, std::span<const ObjectId> tools) {
    if (Status may = mayChangeSolids(draft, ids, "cut"); !may) return may;
    if (ids.empty() || tools.empty()) return fail(ErrorCode::NotFound, "Something is to be taken out of something.");
    bool any = false;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        const double before = shape::volumeOf(*pieces);
        const int tag = shape::freeTag(*pieces);
        for (ObjectId tool : tools) {
            if (tool == id) return fail(ErrorCode::BadInput, "A solid cannot be taken out of itself.");
            auto other = piecesIn(draft.scene(), tool, id);
            if (!other) return tl::unexpected(other.error());
            pieces = shape::without(*pieces, *other, tag);
        }
        if (before - shape::volumeOf(*pieces) < 1e-9) continue;
        any = true;
        if (Status set = putPieces(draft, id, *pieces); !set) return set;
    }
    return any ? Status{} : fail(ErrorCode::Refused, "They do not enter one another: nothing is taken out.");
}

Result<ObjectId> join(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (Status may = mayChangeSolids(draft, ids, "joined"); !may) return tl::unexpected(may.error());
    if (ids.size() < 2) return fail(ErrorCode::NotFound, "Two solids or more are joined.");
    auto pieces = piecesOf(draft.scene(), ids[0]);
    if (!pieces) return tl::unexpected(pieces.error());
    for (ObjectId id : ids.subspan(1)) {
        auto other = piecesIn(draft.scene(), id, ids[0]);
        if (!other) return tl::unexpected(other.error());
        moveTags(*other, shape::freeTag(*pieces));
        pieces = shape::together(*pieces, *other);
    }
    if (Status set = putPieces(draft, ids[0], *pieces); !set) return tl::unexpected(set.error());
    if (Status gone = remove(draft, ids.subspan(1)); !gone) return tl::unexpected(gone.error());
    return ids[0];
}

Result<ObjectId> intersect(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (Status may = mayChangeSolids(draft, ids, "intersected"); !may) return tl::unexpected(may.error());
    if (ids.size() < 2) return fail(ErrorCode::NotFound, "Two solids or more are intersected.");
    auto pieces = piecesOf(draft.scene(), ids[0]);
    if (!pieces) return tl::unexpected(pieces.error());
    for (ObjectId id : ids.subspan(1)) {
        auto other = piecesIn(draft.scene(), id, ids[0]);
        if (!other) return tl::unexpected(other.error());
        pieces = shape::within(*pieces, *other, shape::freeTag(*pieces));
        if (pieces->empty()) return fail(ErrorCode::Refused, "They have nothing in common.");
    }
    if (Status set = putPieces(draft, ids[0], *pieces); !set) return tl::unexpected(set.error());
    if (Status gone = remove(draft, ids.subspan(1)); !gone) return tl::unexpected(gone.error());
    return ids[0];
}

namespace {

/// A body round the origin that reaches `metres` far along every way that a face looks, and no less any other way.
Convex reachOf(const Pieces& pieces, double metres) {
    Convex made = shape::boxOf({Vec3(-2 * metres), Vec3(2 * metres)});
    for (const shape::FacePolygon& face : shape::outsideOf(pieces))
        for (double way : {1.0, -1.0})
            if (auto halves = shape::cut(made, {face.normal * way, metres}, 0); halves.behind)
                made = std::move(*halves.behind);
    return made;
}

/// Of one convex piece: behind each of its faces.
Pieces insideOfOne(const Convex& piece, double metres) {
    std::optional<Convex> inside = piece;
    for (const shape::ConvexFace& face : piece.faces) {
        Plane plane = shape::planeOf(piece, face);
        plane.offset -= metres;
        if (inside) inside = shape::cut(*inside, plane, 0).behind;
    }
    return inside ? Pieces{std::move(*inside)} : Pieces{};
}

/// What of pieces is further than so many metres, straight in, from every face. Where nothing is of them, grown by that
/// reach, is taken out (erosion: Serra, Image Analysis and Mathematical Morphology, 1982).
Result<Pieces> insideOf(const Pieces& pieces, double metres) {
    const Pieces whole = shape::mended(pieces);
    if (whole.size() == 1) return insideOfOne(whole[0], metres);
    const Convex reach = reachOf(pieces, metres);
    constexpr std::size_t kMostCorners = 100;
    if (reach.corners.size() > kMostCorners)
        return fail(ErrorCode::Refused, "What is round and made of several pieces is not hollowed.");
    base::Aabb around = shape::boundsOf(pieces);
    around.low -= Vec3(3 * metres);
    around.high += Vec3(3 * metres);
    const Pieces box = {shape::boxOf(around)};
    Pieces left = pieces;
    for (const Convex& outside : shape::mended(shape::without(box, pieces, 0))) {
        std::vector<Vec3> grown;
        for (const Vec3& corner : outside.corners)
            for (const Vec3& by : reach.corners) grown.push_back(corner + by);
        if (const auto tool = shape::hullOf(grown, {}, 0)) left = shape::without(left, {&*tool, 1}, 0);
        if (shape::faceCount(left) > 20 * Solid::kMostFaces)
            return fail(ErrorCode::Refused, "It is made of too much for a shell to be found.");
    }
    return left;
}

}  // namespace

Status hollow(edit::Draft& draft, std::span<const ObjectId> ids, double thickness) {
    if (Status may = mayChangeSolids(draft, ids, "hollowed"); !may) return may;
    if (!(thickness >= 0.001 && thickness <= 10'000))
        return fail(ErrorCode::BadInput, "A shell is from 1 mm to 10 km thick.");
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        auto inside = insideOf(*pieces, thickness);
        if (!inside) return tl::unexpected(inside.error());
        if (inside->empty() || shape::volumeOf(*inside) < 1e-9)
            return fail(ErrorCode::Refused, fmt::format("“{}” is not thicker than its shell would be.",
                                                        draft.scene().nameText(draft.scene().find(id))));
        const int tag = shape::freeTag(*pieces);
        const Pieces shell = shape::without(*pieces, shape::mended(std::move(*inside)), tag);
        if (Status set = putPieces(draft, id, shape::mended(shell)); !set) return set;
    }
    return {};
}

Result<Ids> takePiecesApart(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (Status may = mayChangeSolids(draft, ids, "taken apart"); !may) return tl::unexpected(may.error());
    Ids all;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        all.push_back(id);
        if (pieces->size() < 2) continue;
        for (const Convex& piece : std::span(*pieces).subspan(1)) {
            auto made = addPieces(draft, id, {piece});
            if (!made) return tl::unexpected(made.error());
            all.push_back(*made);
        }
        if (Status set = putPieces(draft, id, {pieces->front()}); !set) return tl::unexpected(set.error());
    }
    if (all.size() == ids.size()) return fail(ErrorCode::Refused, "It is one piece already.");
    return all;
}

Status mergePieces(edit::Draft& draft, ObjectId id) {
    if (Status may = mayChangeSolids(draft, {&id, 1}, "merged"); !may) return may;
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    const Pieces fewer = shape::mended(*pieces);
    if (fewer.size() == pieces->size())
        return fail(ErrorCode::Refused, "No two of its pieces make a convex one together.");
    return putPieces(draft, id, fewer);
}

}  // namespace ops
