#pragma once
// The designer's verbs on outfits: named sets of what objects of a kind have. Who wears one follows when it changes,
// but for what differs from it, which is the object's own.
#include <string>

#include "ops/objects.h"

namespace ops {

/// Objects wear an outfit of their kind, and have all that it says; what they had of another one goes. Empty: they wear
/// none, and stay as they are. Errors: NotFound for a kind without it; Refused for what is protected.
base::Status wear(edit::Draft& draft, std::span<const base::ObjectId> ids, std::string outfit);
/// A record that is to be made wears it from the start. Errors: NotFound.
base::Status dressRecord(edit::Session& session, model::ObjectRecord& record, const std::string& outfit);
/// What an object has, as an outfit of that name. Without `withItem` any variation fits.
model::Outfit outfitOf(const edit::Session& session, const model::Scene& scene, model::Slot slot, std::string name,
                       bool withItem);
/// Puts it among those of a kind, in place of one of that name. Loads every scene. Gives how many objects followed.
/// Errors: NotFound for a kind, an item or a surface; BadInput for a name or a value that cannot be.
base::Result<std::size_t> putOutfit(edit::Draft& draft, std::string kind, const model::Outfit& outfit);
/// What wears it stays as it is and wears none. Errors: NotFound; Refused for one that a kind inherits.
base::Status removeOutfit(edit::Draft& draft, std::string kind, std::string name);
/// What of an object differs from what it wears: labels of properties, "surface NAME", "item", "tint".
std::vector<std::string> outfitDifferences(const edit::Session& session, const model::Scene& scene, model::Slot slot);
/// What an object wears, as its kind has it; null: nothing, or one that is not there.
const model::Outfit* wornOutfit(const model::Library& library, const model::Scene& scene, model::Slot slot);

}  // namespace ops
