#pragma once
// What JSON Schema says of a facet, made from what the facet says of itself. docs/formats holds the same: a test
// compares them, and writes them when it is asked to.
#include "model/facet.h"

namespace io {

/// As the value of a member of a scene's line.
model::ValueMap facetSchema(const model::FacetType& type);

}  // namespace io
