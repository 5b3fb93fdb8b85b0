#pragma once
// Objects as text for the clipboard: a small scene file, so that it can be pasted anywhere text can.
#include <span>
#include <string>
#include <vector>

#include "base/result.h"
#include "model/scene.h"

namespace io {

/// The objects and all below them; those at the top carry their world pose. `ids` must not be below one another.
std::string copyText(const model::Scene& scene, std::span<const base::ObjectId> ids);

/// The objects in such a text, parents first. Errors: BadInput when it is none, or damaged anywhere.
base::Result<std::vector<model::ObjectRecord>> parseCopyText(std::string_view text,
                                                             std::shared_ptr<base::NameTable> names);

}  // namespace io
