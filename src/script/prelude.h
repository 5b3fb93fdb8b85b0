#pragma once
// The part of what scripts see that is written in Lua.
#include "script/bindings.h"

namespace script {

/// Its text: takes a table of primitives; gives the metatables of vectors and turns, and the function that asks.
extern const char* const kPrelude;

}  // namespace script
