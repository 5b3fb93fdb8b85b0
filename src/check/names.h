#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/math.h"
#include "base/result.h"
#include "model/scene.h"

namespace check {

using base::ObjectId;
using base::Status;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

}  // namespace check
