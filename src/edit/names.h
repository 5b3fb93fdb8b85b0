#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/result.h"
#include "model/scene.h"

namespace edit {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;
using model::kNoSlot;
using model::Slot;

}  // namespace edit
