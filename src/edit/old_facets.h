#pragma once
// Facets as payloads up to version 8 have them. Frozen: nothing is written so any more. For decode.cpp.
#include <cstdint>
#include <functional>

#include "edit/byte_stream.h"
#include "model/prefab.h"

namespace edit {

/// Where the facets of one object begin, and what they were read with.
struct OldFacets {
    ByteReader& in;
    std::uint8_t version;
    std::uint8_t bits;  ///< which there are
    std::function<model::ValueMap()> map;
    std::function<model::PrefabLink()> link;
};
/// Throws MalformedBytes.
void readOldFacets(const OldFacets& old, model::Detail& out);
/// Which parts a difference names.
model::PartSet oldParts(std::uint64_t bits);

}  // namespace edit
