#include "query/solids.h"

namespace query {
namespace {

// Each names shapes in the same order; a room may not see the other.
static_assert(static_cast<int>(shape::SolidShape::Plain) == static_cast<int>(model::Solid::Shape::Plain));
static_assert(static_cast<int>(shape::SolidShape::Wall) == static_cast<int>(model::Solid::Shape::Wall));

std::optional<shape::Convex> convexOf(const model::SolidPiece& piece) {
    shape::Convex made;
    made.corners = piece.corners;
    for (const model::SolidPiece::Face& face : piece.faces) made.faces.push_back({face.loop, face.tag});
    if (shape::wellFormed(made)) return made;
    return shape::hullOf(piece.corners, {}, 0);
}

}  // namespace

shape::Opening openingOf(const model::SolidOpening& o) {
    return {static_cast<shape::Opening::Outline>(o.outline),
            o.at,
            o.facing,
            {o.width, o.height},
            o.rise,
            o.depth,
            o.corners};
}

shape::SolidNumbers numbersOf(const model::Solid& solid) {
    shape::SolidNumbers n;
    n.shape = static_cast<shape::SolidShape>(solid.shape);
    n.size = solid.size;
    n.parts = solid.parts;
    n.thickness = solid.thickness;
    n.startDegrees = solid.startDegrees;
    n.sweepDegrees = solid.sweepDegrees;
    n.rise = solid.rise;
    n.filled = solid.filled;
    n.top = solid.top;
    n.footprint = solid.footprint;
    if (solid.shape == model::Solid::Shape::Plain)
        for (const model::SolidPiece& piece : solid.pieces)
            if (auto made = convexOf(piece)) n.pieces.push_back(std::move(*made));
    for (const model::SolidOpening& opening : solid.openings) n.openings.push_back(openingOf(opening));
    for (const model::SolidFace& face : solid.faces)
        n.looks.push_back({face.tag,
                           face.slot,
                           static_cast<shape::FaceLook::Lies>(face.lies),
                           face.metres,
                           face.turnDegrees,
                           {face.across, face.down}});
    return n;
}

shape::Pieces piecesOf(const model::Solid& solid) {
    return shape::solidPieces(numbersOf(solid));
}

shape::Mesh meshOf(const model::Solid& solid) {
    return shape::solidMesh(numbersOf(solid));
}

PlainSolid plainOf(const shape::Pieces& pieces, const model::Solid& like) {
    PlainSolid made;
    made.solid.shape = model::Solid::Shape::Plain;
    made.solid.faces = like.faces;
    made.solid.unknown = like.unknown;
    const base::Aabb box = shape::boundsOf(pieces);
    made.shift = box.empty() ? base::Vec3(0.0) : box.baseCentre();
    made.solid.size = glm::max(box.size(), base::Vec3(1e-9));
    for (const shape::Convex& piece : pieces) {
        model::SolidPiece& kept = made.solid.pieces.emplace_back();
        for (const base::Vec3& corner : piece.corners) kept.corners.push_back(corner - made.shift);
        for (const shape::ConvexFace& face : piece.faces) kept.faces.push_back({face.tag, face.loop});
    }
    return made;
}

}  // namespace query
