#pragma once
// What this room calls by its short name.
#include "model/scene.h"

namespace rehearse {

using base::Vec3;
using model::Slot;

}  // namespace rehearse
