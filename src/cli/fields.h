#pragma once
// Things that are described by their fields, as `KEY=VALUE` and as JSON.
#include "cli/opened.h"
#include "model/facet.h"

namespace cli {

/// "key=value", in the order in which they are given. Errors: BadInput naming what was expected.
base::Status setFields(const model::Fields& fields, void* thing, const std::vector<std::string>& values);
void tellFields(const model::Fields& fields, const void* thing, bool asJson, const Streams& io);

}  // namespace cli
