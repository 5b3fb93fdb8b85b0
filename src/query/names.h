#pragma once
// What this room calls by its short name.
#include "model/scene.h"

namespace query {

using model::Slot;

}  // namespace query
