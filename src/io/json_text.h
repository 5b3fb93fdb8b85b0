#pragma once
// Small JSON in and out, for this room's sources only: duplicate keys refused, errors with their line.
#include <nlohmann/json.hpp>
#include <string>

#include "base/math.h"
#include "base/result.h"
#include "model/value.h"

namespace io {

using Json = nlohmann::ordered_json;

/// Errors: BadInput naming file, line and what was expected; duplicate keys; nesting beyond 64.
base::Result<Json> parseJson(std::string_view text, const std::string& file);

/// The object in a file of ours, which says of what format it is and version 1. Errors: those of parseJson; BadInput;
/// Unsupported for a newer version.
base::Result<Json> readOurs(std::string_view text, const std::string& file, std::string_view format);

/// An object's members, or any value, as properties hold it. Null becomes empty text.
model::ValueMap toValues(const Json& object);

inline Json toJson(const base::Vec3& v) {
    return Json::array({v.x, v.y, v.z});
}

}  // namespace io
