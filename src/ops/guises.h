#pragma once
// The designer's verbs on guises: named looks of the whole scene, kept in the project.
#include <string>

#include "ops/objects.h"

namespace ops {

/// Adds or replaces one. Errors: BadInput for a name that cannot be; NotFound for an item, a surface or a kind that is
/// not there.
base::Status putGuise(edit::Draft& draft, const model::Guise& guise);
/// Scenes that are shown in it follow. Loads every scene. Errors: NotFound; BadInput for a name that is in use.
base::Status renameGuise(edit::Draft& draft, std::string from, std::string to);
/// Scenes that are shown in it are shown as they are. Loads every scene. Errors: NotFound.
base::Status removeGuise(edit::Draft& draft, std::string name);

}  // namespace ops
