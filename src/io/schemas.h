#pragma once
// The published JSON Schemas, as docs/formats has them.
#include <map>
#include <string>

namespace io {

/// By what they are of: "project", "kind", "records", "scene", "surfaces", "checks".
const std::map<std::string, std::string>& schemas();

}  // namespace io
