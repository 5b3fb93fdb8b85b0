#include "io/damage.h"

#include <fmt/format.h>

namespace io {

std::string toText(const Damage& damage) {
    if (damage.message.starts_with(damage.file + ":")) return damage.message;  // it says where by itself
    std::string text = damage.file;
    if (damage.line > 0) text += fmt::format(":{}", damage.line);
    if (!damage.key.empty()) text += fmt::format(": {}", damage.key);
    return text + ": " + damage.message;
}

Damage damageOf(const std::string& file, std::string problem) {
    const std::size_t colon = problem.find(": ");
    if (colon == std::string::npos) return {file, 0, "", std::move(problem)};
    return {file, 0, problem.substr(0, colon), problem.substr(colon + 2)};
}

}  // namespace io
