#pragma once
// The designer's verbs on what solids are made of: clip, open, subtract, join, hollow, and pull their faces, edges and
// corners. What is left is always convex pieces, closed; a verb that would leave anything else refuses and says why.
// Errors of all: NotFound; Refused for what is protected or no solid, or would be hollow, empty or too much; BadInput.
#include "model/facets/solid.h"
#include "ops/objects.h"
#include "query/solids.h"

namespace ops {

/// A solid's pieces in its own axes, openings cut. Errors: also Refused for a plane, which has no inside.
base::Result<shape::Pieces> piecesOf(const model::Scene& scene, base::ObjectId id);

/// Its numbers go; it is kept as its faces.
base::Status keepAsPlain(edit::Draft& draft, std::span<const base::ObjectId> ids);

/// A plane of the world cuts solids; what is kept of each. `front`: the side its normal looks to.
struct ClipKeeps {
    bool front = true, behind = true;
};
/// A solid keeps its name behind the plane, or wherever it is alone; the other half gets the next number. What the
/// plane misses stays as it is, or goes when its side is not kept. Gives all that are left. Errors: also Refused when
/// the plane meets none of them, or nothing would be kept.
base::Result<Ids> clip(edit::Draft& draft, std::span<const base::ObjectId> ids, const shape::Plane& plane,
                       const ClipKeeps& keeps);
/// The same, but both halves stay one object.
base::Status split(edit::Draft& draft, base::ObjectId id, const shape::Plane& plane);

/// Cuts an opening; it stays a part of the solid. Gives its number. Errors: also BadInput when it misses the solid.
base::Result<std::size_t> addOpening(edit::Draft& draft, base::ObjectId id, model::SolidOpening opening);
/// One on the face of a solid at a place of the world, that looks `normal`wards there: its sill's middle. The sides of
/// what is on level ground are upright.
model::SolidOpening openingAt(const model::Scene& scene, base::ObjectId id, const base::Vec3& place,
                              const base::Vec3& normal);
base::Status setOpening(edit::Draft& draft, base::ObjectId id, std::size_t which, const model::SolidOpening& opening);
base::Status removeOpening(edit::Draft& draft, base::ObjectId id, std::size_t which);
/// `count` more of an opening, each `apart` (own axes, metres) from the one before.
base::Status repeatOpening(edit::Draft& draft, base::ObjectId id, std::size_t which, int count,
                           const base::Vec3& apart);

/// Takes what lies in `tools` out of `ids`; the tools stay.
base::Status subtract(edit::Draft& draft, std::span<const base::ObjectId> ids, std::span<const base::ObjectId> tools);
/// Makes several one: the first of them takes the others up. Gives it.
base::Result<base::ObjectId> join(edit::Draft& draft, std::span<const base::ObjectId> ids);
/// What all of them have in common, in the first; the others go. Gives it.
base::Result<base::ObjectId> intersect(edit::Draft& draft, std::span<const base::ObjectId> ids);
/// A shell so thick, measured straight in from each face.
base::Status hollow(edit::Draft& draft, std::span<const base::ObjectId> ids, double thickness);
/// A solid of each piece; gives them.
base::Result<Ids> takePiecesApart(edit::Draft& draft, std::span<const base::ObjectId> ids);
/// Pieces that make a convex one together become one.
base::Status mergePieces(edit::Draft& draft, base::ObjectId id);

/// A face, an edge or a corner of a solid, own axes: by where it is, so that it is found in all pieces that have it.
struct SolidPart {
    enum class Kind { Face, Edge, Corner } kind = Kind::Face;
    int tag = 0;                    ///< of a face
    shape::Plane plane;             ///< of a face
    base::Vec3 from{0.0}, to{0.0};  ///< of an edge; a corner is at `from`
    friend bool operator==(const SolidPart& a, const SolidPart& b) {
        return a.kind == b.kind && a.tag == b.tag && a.plane.normal == b.plane.normal &&
               a.plane.offset == b.plane.offset && a.from == b.from && a.to == b.to;
    }
};
/// Where corners of a part are, own axes; none: it is not there any more.
std::vector<base::Vec3> cornersOf(const shape::Pieces& pieces, const SolidPart& part);
/// The outermost face that looks in a direction (own axes), or nearly. Errors: NotFound: there is none.
base::Result<SolidPart> faceTowards(const shape::Pieces& pieces, const base::Vec3& direction);
/// A direction of the world in the axes of a solid, unit length.
base::Vec3 directionIn(const model::Scene& scene, base::ObjectId id, const base::Vec3& direction);
/// The middle of it, own axes.
base::Vec3 middleOf(const shape::Pieces& pieces, const SolidPart& part);
/// What of the pieces a ray (own axes) meets first: the corner or edge within `near` metres of there, else the face.
std::optional<SolidPart> partAt(const shape::Pieces& pieces, const base::Ray& ray, double near);
/// The pieces once parts were moved by `by`. Errors: Refused when one would be hollow or empty, or enter another.
base::Result<shape::Pieces> movedParts(const shape::Pieces& pieces, std::span<const SolidPart> parts,
                                       const base::Vec3& by);
/// By `by` in own axes. Gives the parts where they are now.
base::Result<std::vector<SolidPart>> moveParts(edit::Draft& draft, base::ObjectId id, std::span<const SolidPart> parts,
                                               const base::Vec3& by);
/// A face pulled out by `metres` makes a new piece; below 0: it goes in, and what lay there is gone. Gives the face
/// where it is now.
base::Result<SolidPart> extrude(edit::Draft& draft, base::ObjectId id, const SolidPart& face, double metres);
/// A smaller face within a face, `metres` from its edges; the pieces below are cut along it. Gives the smaller one.
base::Result<SolidPart> inset(edit::Draft& draft, base::ObjectId id, const SolidPart& face, double metres);

/// How the faces with a tag are dressed. Nothing: as the rest of it.
base::Status dressFace(edit::Draft& draft, base::ObjectId id, int tag, const std::optional<model::SolidFace>& face);
/// A surface of the project on the faces with a tag; empty: as the rest of it.
base::Status setFaceSurface(edit::Draft& draft, base::ObjectId id, int tag, const std::string& surface);

}  // namespace ops
