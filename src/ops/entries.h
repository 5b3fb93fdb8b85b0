#pragma once
// One entry of a document of project data that has a line for each.
#include <optional>
#include <string>

#include "edit/draft.h"

namespace ops {

/// Nothing: the entry goes. A new file gets its head.
base::Status putEntry(edit::Draft& draft, const std::string& document, const std::string& key,
                      std::optional<model::ValueMap> values);

}  // namespace ops
