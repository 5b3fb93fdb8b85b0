#pragma once
// Small JSON in and out: duplicate keys refused, errors with their line. Scenes have readers of their own.
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

/// As text, on one line unless `indent` is given; what is no UTF-8 in it is replaced.
std::string toText(const Json& json, int indent = -1);

/// For files that people write: what fits on a line stands on one.
std::string toReadable(const Json& json);

/// A property’s value, or what an object has of them.
Json toJson(const model::Value& value);
inline Json toJson(const base::Vec3& v) {
    return Json::array({v.x, v.y, v.z});
}

}  // namespace io
