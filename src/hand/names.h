#pragma once
// What this room calls by its short name.
#include "base/result.h"
#include "model/scene.h"
#include "model/value.h"

namespace hand {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;
using model::Slot;
using model::Value;
using model::ValueList;
using model::ValueMap;

}  // namespace hand
