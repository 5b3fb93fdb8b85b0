#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/result.h"
#include "io/json_text.h"
#include "model/scene.h"

namespace cli {

using base::ErrorCode;
using base::ObjectId;
using base::Result;
using base::Status;
using io::Json;
using model::kNoSlot;
using model::Slot;

}  // namespace cli
