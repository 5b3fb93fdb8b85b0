#pragma once
// Copies in arrays follow what they are copies of.
#include "edit/draft.h"

namespace edit {

/// Part of every step, before it is kept: what it changed of the first object of an array, its copies become too. What
/// was different in a copy already, or is changed there by the same step, stays as it is; so do protected ones. Errors:
/// those of writing it.
base::Status followArrays(Draft& draft);

/// Is a copy in an array like its first object, but for name and pose?
bool isAlike(const model::Scene& scene, model::Slot original, model::Slot copy);
/// Makes it so; what lies below a copy that differs there is made anew. Errors: those of writing it.
base::Status makeAlike(Draft& draft, base::ObjectId original, base::ObjectId copy);

}  // namespace edit
