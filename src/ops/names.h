#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/math.h"
#include "base/result.h"
#include "model/property.h"
#include "model/scene.h"
#include "model/value.h"

namespace ops {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;
using base::Status;
using base::Vec3;
using model::kNoSlot;
using model::Property;
using model::Slot;
using model::Value;
using model::ValueMap;

}  // namespace ops
