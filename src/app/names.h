#pragma once
// What this room calls by its short name.
#include "base/result.h"
#include "model/scene.h"

namespace app {

using base::Status;
using model::kNoSlot;
using model::Slot;

}  // namespace app
