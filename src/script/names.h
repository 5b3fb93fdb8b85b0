#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/math.h"
#include "model/scene.h"

namespace script {

using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

}  // namespace script
