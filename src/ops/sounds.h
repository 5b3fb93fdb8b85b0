#pragma once
// The designer's verbs on sounds.
#include "model/facets/sound.h"
#include "ops/objects.h"

namespace ops {

/// A new object that a file of media is heard from, named after it, at a place in the world. Errors: BadInput for no
/// file; NotFound when the group it is to lie in is gone.
base::Result<base::ObjectId> addSound(edit::Draft& draft, const std::string& file, const base::Vec3& at,
                                      base::ObjectId parent = {});

}  // namespace ops
