#pragma once
// Solids as the geometry they follow from. Pure; any thread.
#include "model/facets/solid.h"
#include "shape/solid.h"

namespace query {

/// What the shape of a solid is made from. A piece that is not closed or has a hollow is replaced by its hull, one
/// without room is left out.
shape::SolidNumbers numbersOf(const model::Solid& solid);
shape::Opening openingOf(const model::SolidOpening& opening);
/// The convex pieces, openings cut.
shape::Pieces piecesOf(const model::Solid& solid);
shape::Mesh meshOf(const model::Solid& solid);

/// A plain solid of such pieces, dressed as `like`; its base comes to stand on the origin: `shift` is the way it went.
struct PlainSolid {
    model::Solid solid;
    base::Vec3 shift{0.0};
};
PlainSolid plainOf(const shape::Pieces& pieces, const model::Solid& like);

}  // namespace query
