#pragma once
// Is what a glTF document says of the type that glTF 2.0 gives it? The library that reads it lets much through. For
// this room's sources.
#include "io/json_text.h"

namespace io {

/// What is of another type, or is missing: "meshes[0].primitives is no list". Empty: nothing.
std::string wrongInGltf(const Json& document);

}  // namespace io
