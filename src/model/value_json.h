#pragma once
// Property values as JSON text. The one way there is.
#include <string>
#include <string_view>

#include "model/value.h"

namespace model {

/// `pointed`: a whole double keeps its point, so that it reads back as a double.
void appendJson(std::string& out, const Value& value, bool pointed = true);
void appendJson(std::string& out, const ValueMap& map);
/// One more member of an object, as text without braces: `"key":value` after those there are.
void appendMember(std::string& members, std::string_view key, const Value& value);

}  // namespace model
