#pragma once
// What this room calls by its short name.
#include "base/result.h"

namespace io {

using base::ErrorCode;
using base::fail;
using base::Result;
using base::Status;

}  // namespace io
