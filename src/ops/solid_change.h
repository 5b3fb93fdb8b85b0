#pragma once
// What all verbs on solids begin and end with. For the sources of ops/solid_edit.h.
#include <string_view>

#include "edit/draft.h"
#include "model/facets/solid.h"
#include "query/solids.h"

namespace ops {

/// Are they all solids, and may they be changed? Errors: NotFound; Refused for what is protected or no solid.
base::Status mayChangeSolids(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string_view verb);
/// Errors: Refused when nothing would be left, or more faces than a solid can have.
base::Status usablePieces(const model::Scene& scene, base::ObjectId id, const shape::Pieces& pieces);
/// The facet of an object that has one.
base::Status putSolid(edit::Draft& draft, base::ObjectId id, const model::Solid& solid);
/// A pose for something that stood at the origin of `local` and now stands `shift` (own axes) from there.
base::Transform shifted(base::Transform local, const base::Vec3& shift);
/// Does nothing lie below it, that would go along when its origin moves?
bool standsAlone(const model::Scene& scene, base::ObjectId id);
/// Makes it a plain solid of these pieces. It stands on its base again, unless something hangs on where it is.
base::Status putPieces(edit::Draft& draft, base::ObjectId id, const shape::Pieces& pieces);
/// One more solid like another, of these pieces (in that one's axes).
base::Result<base::ObjectId> addPieces(edit::Draft& draft, base::ObjectId like, const shape::Pieces& pieces);

}  // namespace ops
