#pragma once
// Making one scene what another one is: for files that others have written.
#include "edit/draft.h"

namespace edit {

/// Writes what makes the draft's document what `like` is, so that its file would be the same byte for byte. Objects are
/// the same when their ids are; only what differs is written. Errors: those of writing it.
base::Status become(Draft& draft, const model::Scene& like);

}  // namespace edit
