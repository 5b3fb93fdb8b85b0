#pragma once
// One facet as JSON text, as object lines have it after its key.
#include <memory>
#include <string>

#include "base/result.h"
#include "model/facet.h"

namespace io {

std::string facetJson(const model::FacetType& type, const void* facet);
/// The same the other way. Errors: BadInput naming what was not understood, where.
base::Result<std::shared_ptr<void>> facetFromJson(const model::FacetType& type, const std::string& text);

}  // namespace io
