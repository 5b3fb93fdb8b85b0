#pragma once
// What this room calls by its short name.
#include "base/id.h"
#include "base/result.h"

namespace model {

using base::ErrorCode;
using base::fail;
using base::ObjectId;

}  // namespace model
