#include "ops/solid_edit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/facets/surfaces.h"
#include "ops/names.h"
#include "ops/solid.h"
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

Status mayChange(edit::Draft& draft, std::span<const ObjectId> ids, std::string_view verb) {
    if (!draft.state()) return draft.state();
    for (ObjectId id : ids)
        if (auto solid = solidOf(draft.scene(), id); !solid) return tl::unexpected(solid.error());
    return refuseProtected(draft.scene(), ids, verb);
}

/// Too much, or nothing at all?
Status usablePieces(const model::Scene& scene, ObjectId id, const Pieces& pieces) {
    const std::string_view name = scene.nameText(scene.find(id));
    if (pieces.empty()) return fail(ErrorCode::Refused, fmt::format("Nothing of “{}” would be left.", name));
    const std::size_t faces = shape::faceCount(pieces);
    if (faces > Solid::kMostFaces)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” would have {} faces; a solid can have {}.", name, faces, Solid::kMostFaces));
    return {};
}

Status put(edit::Draft& draft, ObjectId id, const Solid& solid) {
    model::Detail detail = *draft.scene().detail(draft.scene().find(id));
    detail.put(solid);
    const model::DetailPtr after = std::make_shared<const model::Detail>(std::move(detail));
    return draft.setDetails({&id, 1}, {&after, 1});
}

/// A pose for something that stood at the origin of `local` and now stands `shift` (own axes) from there.
base::Transform shifted(base::Transform local, const Vec3& shift) {
    local.position = base::toAffine(local).point(shift);
    return local;
}

/// Makes it a plain solid of these pieces. It stands on its base again, unless something hangs on where it is.
Status putPieces(edit::Draft& draft, ObjectId id, const Pieces& pieces) {
    const model::Scene& scene = draft.scene();
    if (Status usable = usablePieces(scene, id, pieces); !usable) return usable;
    const Slot slot = scene.find(id);
    query::PlainSolid plain = query::plainOf(pieces, *scene.facet<Solid>(slot));
    const auto below = scene.subtree(slot);
    const bool alone = std::next(below.begin()) == below.end();
    if (!alone)
        for (model::SolidPiece& piece : plain.solid.pieces)
            for (Vec3& corner : piece.corners) corner += plain.shift;
    const base::Transform local = shifted(scene.local(slot), plain.shift);
    if (Status set = put(draft, id, plain.solid); !set) return set;
    return alone && plain.shift != Vec3(0.0) ? draft.setTransforms({&id, 1}, {&local, 1}) : Status{};
}

/// One more solid like another, of these pieces (in that one's axes).
Result<ObjectId> another(edit::Draft& draft, ObjectId like, const Pieces& pieces) {
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

/// A plane of the world in the axes of `world`.
Plane inOwn(const Plane& plane, const base::Affine& world) {
    const Vec3 normal = glm::transpose(world.linear) * plane.normal;
    const double size = glm::length(normal);
    return {normal / size, (plane.offset - glm::dot(plane.normal, world.translation)) / size};
}

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

Result<Pieces> piecesOf(const model::Scene& scene, ObjectId id) {
    auto solid = solidOf(scene, id);
    if (!solid) return tl::unexpected(solid.error());
    if ((*solid)->shape == Solid::Shape::Plane)
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” is a plane: it has no inside.", scene.nameText(scene.find(id))));
    return query::piecesOf(**solid);
}

Status keepAsPlain(edit::Draft& draft, std::span<const ObjectId> ids) {
    if (Status may = mayChange(draft, ids, "made plain"); !may) return may;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        if (Status set = putPieces(draft, id, *pieces); !set) return set;
    }
    return {};
}

Result<Ids> clip(edit::Draft& draft, std::span<const ObjectId> ids, const Plane& plane, const ClipKeeps& keeps) {
    if (Status may = mayChange(draft, ids, "clipped"); !may) return tl::unexpected(may.error());
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
            auto made = another(draft, cut.id, cut.halves.before);
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
    if (Status may = mayChange(draft, {&id, 1}, "split"); !may) return may;
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    auto halves =
        shape::cut(*pieces, inOwn(plane, draft.scene().world(draft.scene().find(id))), shape::freeTag(*pieces));
    if (halves.before.empty() || halves.behind.empty()) return fail(ErrorCode::Refused, "The plane misses it.");
    for (Convex& piece : halves.before) halves.behind.push_back(std::move(piece));
    return putPieces(draft, id, halves.behind);
}

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
    if (Status may = mayChange(draft, {&id, 1}, "opened"); !may) return may;
    if (auto pieces = piecesOf(draft.scene(), id); !pieces) return tl::unexpected(pieces.error());
    Solid solid = *draft.scene().facet<Solid>(draft.scene().find(id));
    if (Status changed = change(solid); !changed) return changed;
    if (Status usable = usablePieces(draft.scene(), id, query::piecesOf(solid)); !usable) return usable;
    return put(draft, id, solid);
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

Vec3 directionIn(const model::Scene& scene, ObjectId id, const Vec3& direction) {
    const Vec3 own = glm::transpose(scene.world(scene.find(id)).linear) * direction;
    return glm::length(own) > 1e-12 ? glm::normalize(own) : Vec3(0, 0, 1);
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

Status subtract(edit::Draft& draft, std::span<const ObjectId> ids, std::span<const ObjectId> tools) {
    if (Status may = mayChange(draft, ids, "cut"); !may) return may;
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
    if (Status may = mayChange(draft, ids, "joined"); !may) return tl::unexpected(may.error());
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
    if (Status may = mayChange(draft, ids, "intersected"); !may) return tl::unexpected(may.error());
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
    if (Status may = mayChange(draft, ids, "hollowed"); !may) return may;
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
    if (Status may = mayChange(draft, ids, "taken apart"); !may) return tl::unexpected(may.error());
    Ids all;
    for (ObjectId id : ids) {
        auto pieces = piecesOf(draft.scene(), id);
        if (!pieces) return tl::unexpected(pieces.error());
        all.push_back(id);
        if (pieces->size() < 2) continue;
        for (const Convex& piece : std::span(*pieces).subspan(1)) {
            auto made = another(draft, id, {piece});
            if (!made) return tl::unexpected(made.error());
            all.push_back(*made);
        }
        if (Status set = putPieces(draft, id, {pieces->front()}); !set) return tl::unexpected(set.error());
    }
    if (all.size() == ids.size()) return fail(ErrorCode::Refused, "It is one piece already.");
    return all;
}

Status mergePieces(edit::Draft& draft, ObjectId id) {
    if (Status may = mayChange(draft, {&id, 1}, "merged"); !may) return may;
    auto pieces = piecesOf(draft.scene(), id);
    if (!pieces) return tl::unexpected(pieces.error());
    const Pieces fewer = shape::mended(*pieces);
    if (fewer.size() == pieces->size())
        return fail(ErrorCode::Refused, "No two of its pieces make a convex one together.");
    return putPieces(draft, id, fewer);
}

namespace {

bool isAt(const Vec3& a, const Vec3& b) {
    return glm::length(a - b) <= kNear;
}

bool liesOn(const Convex& piece, const shape::ConvexFace& face, const SolidPart& part) {
    if (face.tag != part.tag) return false;
    const Plane plane = shape::planeOf(piece, face);
    return glm::dot(plane.normal, part.plane.normal) > 1 - 1e-9 && std::abs(plane.offset - part.plane.offset) <= kNear;
}

bool isOnEdge(const Vec3& p, const SolidPart& edge) {
    const Vec3 along = edge.to - edge.from;
    const double length = glm::length(along), t = glm::dot(p - edge.from, along) / length;
    return t >= -kNear && t <= length + kNear && isAt(p, edge.from + along * (t / length));
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
        if (outmost < -kNear) return tl::unexpected(hollowed(corner).error());
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
    if (Status set = put(draft, id, solid); !set) return set;
    return draft.setTransforms({&id, 1}, {&local, 1});
}

}  // namespace

Result<std::vector<SolidPart>> moveParts(edit::Draft& draft, ObjectId id, std::span<const SolidPart> parts,
                                         const Vec3& by) {
    if (Status may = mayChange(draft, {&id, 1}, "pulled"); !may) return tl::unexpected(may.error());
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
    const auto below = draft.scene().subtree(slot);
    const bool alone = std::next(below.begin()) == below.end();
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
    if (Status may = mayChange(draft, {&id, 1}, verb); !may) return tl::unexpected(may.error());
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

Status dressFace(edit::Draft& draft, ObjectId id, int tag, const std::optional<model::SolidFace>& face) {
    if (Status may = mayChange(draft, {&id, 1}, "dressed"); !may) return may;
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
    return put(draft, id, solid);
}

Status setFaceSurface(edit::Draft& draft, ObjectId id, int tag, const std::string& surface) {
    if (surface.empty()) return dressFace(draft, id, tag, std::nullopt);
    if (Status may = mayChange(draft, {&id, 1}, "dressed"); !may) return may;
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
