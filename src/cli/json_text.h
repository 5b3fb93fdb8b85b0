#pragma once
// JSON as `mellow` writes it. For this room's sources.
#include <nlohmann/json.hpp>
#include <string>

namespace cli {

/// As text; what is no UTF-8 in it is replaced.
inline std::string dumped(const nlohmann::ordered_json& json) {
    return json.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

}  // namespace cli
