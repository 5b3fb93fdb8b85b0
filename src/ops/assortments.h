#pragma once
// The designer's verbs on mixes and sets of pieces, which a project keeps by name.
#include <string>

#include "model/assortment.h"
#include "ops/objects.h"

namespace ops {

/// Adds or replaces one. Errors: BadInput for a name or a share that cannot be; NotFound for an item that is not there.
base::Status putMix(edit::Draft& draft, const model::Mix& mix);
base::Status putSet(edit::Draft& draft, const model::PieceSet& set);
/// Errors: NotFound.
base::Status removeMix(edit::Draft& draft, const std::string& name);
base::Status removeSet(edit::Draft& draft, const std::string& name);

/// A mix from texts like "reed-clump-1=3". Errors: BadInput.
base::Result<model::Mix> parseMix(const std::string& name, std::span<const std::string> shares);

/// An item of a mix by chance, those that are there; empty: none is.
std::string drawFrom(const model::Library& library, const model::Mix& mix, base::Random& random);

/// Makes each object of an item of a mix, by chance. Gives how many became another than they were. Errors: as
/// replaceItem; NotFound for the mix.
base::Result<std::size_t> remake(edit::Draft& draft, std::span<const base::ObjectId> ids, const std::string& mix,
                                 std::uint64_t seed);

}  // namespace ops
