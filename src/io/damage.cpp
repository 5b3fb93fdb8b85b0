#include "io/damage.h"

#include <fmt/format.h>

namespace io {

std::string toText(const Damage& damage) {
    std::string text = damage.file;
    if (damage.line > 0) text += fmt::format(":{}", damage.line);
    if (!damage.key.empty()) text += fmt::format(": {}", damage.key);
    return text + ": " + damage.message;
}

}  // namespace io
