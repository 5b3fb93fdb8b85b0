#include "base/id.h"

#include <charconv>

namespace base {

std::string toText(ObjectId id) {
    static constexpr char kDigits[] = "0123456789abcdef";
    std::string text(16, '0');
    for (int i = 15; i >= 0; --i) {
        text[static_cast<std::size_t>(i)] = kDigits[id.value & 15];
        id.value >>= 4;
    }
    return text;
}

std::optional<ObjectId> parseObjectId(std::string_view text) {
    if (text.size() != 16) return std::nullopt;
    ObjectId id;
    auto [end, error] = std::from_chars(text.data(), text.data() + 16, id.value, 16);
    if (error != std::errc{} || end != text.data() + 16 || !id) return std::nullopt;
    for (char c : text)
        if (c >= 'A' && c <= 'F') return std::nullopt;
    return id;
}

}  // namespace base
