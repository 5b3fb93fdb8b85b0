#pragma once
// Property values as JSON text. For this room and for those that print them.
#include <string>

#include "model/value.h"

namespace io {

void appendJson(std::string& out, const model::Value& value);
void appendJson(std::string& out, const model::ValueMap& map);

}  // namespace io
