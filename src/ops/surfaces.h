#pragma once
// The designer's verbs on surfaces: the project's library of them, and what each slot of an object shows. Errors as in
// ops/facets.h.
#include "model/facets/surfaces.h"
#include "ops/facets.h"

namespace ops {

/// Adds or replaces a surface of the project. Errors: BadInput for a name or number that cannot be.
base::Status putSurface(edit::Draft& draft, const model::Surface& surface);
/// Objects that show it show it as missing until it is back. Errors: NotFound.
base::Status removeSurface(edit::Draft& draft, std::string name);

/// What a slot may take. Errors: NotFound for an object without such a slot, or a surface that is not there; Refused
/// for a tint or an image that the kind does not allow.
base::Status setSlot(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string slot,
                     const std::function<void(model::SlotSurface&)>& change);
/// The slot is as its mesh has it again.
base::Status clearSlot(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string slot);
/// What a slot of an object shows; none of its own: `slot` alone.
model::SlotSurface slotOf(const model::Scene& scene, model::Slot object, const std::string& slot);
/// May images lie on this slot of an object of that kind? Null: of none.
bool takesImage(const model::Kind* kind, std::string_view slot);

/// The same surfaces for a mesh with other slots: those of the same name, then what is left in order.
model::Surfaces mappedSurfaces(const model::Surfaces& given, const std::vector<std::string>& from,
                               const std::vector<std::string>& to);
/// Others get the surfaces of `from`: slots of the same name, then those that are left in their order.
base::Status copySurfaces(edit::Draft& draft, base::ObjectId from, std::span<const base::ObjectId> to);

/// Objects that show a surface, or an image, by its name.
Ids showing(const model::Scene& scene, std::string_view surface);

}  // namespace ops
