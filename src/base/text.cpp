#include "base/text.h"

#include <fmt/format.h>
#include <utf8proc.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <cstdlib>

namespace base {
namespace {

char lower(char c) {
    return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c;
}

/// Of ASCII alone: most names, and quick to compare.
bool isPlain(std::string_view text) {
    return std::none_of(text.begin(), text.end(), [](char c) { return static_cast<unsigned char>(c) > 127; });
}

bool goesOn(std::string_view text, std::size_t at) {
    return at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0) == 0x80;
}
/// Where the next character begins.
std::size_t after(std::string_view text, std::size_t at) {
    while (goesOn(text, ++at)) {
    }
    return at;
}

template <class Same>
bool fits(std::string_view pattern, std::string_view text, const Same& same) {
    std::size_t p = 0, t = 0, starP = std::string_view::npos, starT = 0;
    while (t < text.size()) {
        if (p < pattern.size() && pattern[p] == '*') {
            starP = p++;
            starT = t;
        } else if (p < pattern.size() && pattern[p] == '?') {
            ++p;
            t = after(text, t);
        } else if (p < pattern.size() && same(pattern[p], text[t])) {
            ++p;
            ++t;
        } else if (starP != std::string_view::npos) {
            p = starP + 1;
            t = starT = after(text, starT);
        } else {
            return false;
        }
    }
    while (p < pattern.size() && pattern[p] == '*') ++p;
    return p == pattern.size();
}

}  // namespace

void appendShortest(std::string& out, double value) {
    char buffer[32];
    auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
    out.append(buffer, end);
}

std::string shortest(double value) {
    std::string out;
    appendShortest(out, value);
    return out;
}

std::string fixed(double value, int decimals) {
    std::string text = fmt::format("{:.{}f}", value, decimals);
    if (text.front() == '-' && text.find_first_not_of("-0.") == std::string::npos) text.erase(0, 1);
    return text;
}

bool matchesWildcard(std::string_view pattern, std::string_view text, Letters letters) {
    const auto exactly = [](char a, char b) { return a == b; };
    if (letters == Letters::AsWritten) return fits(pattern, text, exactly);
    if (isPlain(pattern) && isPlain(text))
        return fits(pattern, text, [](char a, char b) { return lower(a) == lower(b); });
    return fits(lowered(pattern), lowered(text), exactly);
}

bool sameFolded(std::string_view a, std::string_view b) {
    if (isPlain(a) && isPlain(b)) return a.size() == b.size() && containsFolded(a, b);
    return lowered(a) == lowered(b);
}

bool containsFolded(std::string_view text, std::string_view part) {
    if (!isPlain(text) || !isPlain(part)) return lowered(text).find(lowered(part)) != std::string::npos;
    if (part.size() > text.size()) return false;
    for (std::size_t i = 0; i + part.size() <= text.size(); ++i) {
        std::size_t k = 0;
        while (k < part.size() && lower(text[i + k]) == lower(part[k])) ++k;
        if (k == part.size()) return true;
    }
    return false;
}

std::string lowered(std::string_view text) {
    std::string out(text);
    if (!isPlain(text)) {
        utf8proc_uint8_t* folded = nullptr;
        const auto n = utf8proc_map(reinterpret_cast<const utf8proc_uint8_t*>(text.data()),
                                    static_cast<utf8proc_ssize_t>(text.size()), &folded,
                                    static_cast<utf8proc_option_t>(UTF8PROC_CASEFOLD | UTF8PROC_COMPOSE));
        if (n >= 0) out.assign(reinterpret_cast<const char*>(folded), static_cast<std::size_t>(n));
        std::free(folded);
        if (n >= 0) return out;
    }
    for (char& c : out) c = lower(c);
    return out;
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && (text.front() == ' ' || text.front() == '\t')) text.remove_prefix(1);
    while (!text.empty() && (text.back() == ' ' || text.back() == '\t')) text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> split(std::string_view text, char at) {
    std::vector<std::string_view> parts;
    if (trimmed(text).empty()) return parts;
    for (std::size_t from = 0; from <= text.size();) {
        const std::size_t to = std::min(text.find(at, from), text.size());
        parts.push_back(trimmed(text.substr(from, to - from)));
        from = to + 1;
    }
    return parts;
}

std::vector<std::string> linesOf(std::string_view text) {
    std::vector<std::string> all;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        all.emplace_back(text.substr(at, end - at));
        at = end + 1;
    }
    return all;
}

NumberedName splitNumber(std::string_view name) {
    std::size_t digits = name.size();
    while (digits > 0 && name[digits - 1] >= '0' && name[digits - 1] <= '9') --digits;
    NumberedName result{std::string(name), -1};
    if (digits == name.size() || name.size() - digits > 8) return result;
    std::from_chars(name.data() + digits, name.data() + name.size(), result.number);
    result.stem = std::string(name.substr(0, digits));
    return result;
}

bool isValidUtf8(std::string_view s) {
    for (std::size_t i = 0; i < s.size();) {
        const auto c = static_cast<unsigned char>(s[i]);
        if (c < 0x80) {
            ++i;
            continue;
        }
        const std::size_t length = c >= 0xF0 ? 4 : c >= 0xE0 ? 3 : 2;
        if (c < 0xC2 || c > 0xF4 || i + length > s.size()) return false;
        std::uint32_t code = c & (0x7Fu >> length);
        for (std::size_t k = 1; k < length; ++k) {
            const auto next = static_cast<unsigned char>(s[i + k]);
            if ((next & 0xC0) != 0x80) return false;
            code = (code << 6) | (next & 0x3Fu);
        }
        static constexpr std::uint32_t kLeast[] = {0, 0, 0x80, 0x800, 0x10000};
        if (code < kLeast[length] || code > 0x10FFFF || (code >= 0xD800 && code <= 0xDFFF)) return false;
        i += length;
    }
    return true;
}

std::pair<char32_t, std::size_t> codePointAt(std::string_view s, std::size_t at) {
    const auto c = static_cast<unsigned char>(s[at]);
    if (c < 0x80) return {c, 1};
    const std::size_t length = c >= 0xF0 ? 4 : c >= 0xE0 ? 3 : 2;
    if (!isValidUtf8(s.substr(at, length)) || at + length > s.size()) return {0xFFFD, 1};
    char32_t code = c & (0x7Fu >> length);
    for (std::size_t k = 1; k < length; ++k) code = (code << 6) | (static_cast<unsigned char>(s[at + k]) & 0x3Fu);
    return {code, length};
}

namespace {

bool isControl(char32_t c) {
    const bool turnsWriting = (c >= 0x202A && c <= 0x202E) || (c >= 0x2066 && c <= 0x2069);
    return (c < 0x20 && c != '\t' && c != '\n') || (c >= 0x7F && c < 0xA0) || turnsWriting;
}

bool isPrintableAscii(std::string_view text) {
    for (char c : text)
        if (c < 0x20 || c == 0x7F) return false;
    return true;
}

}  // namespace

bool hasControl(std::string_view text) {
    if (isPrintableAscii(text)) return false;
    for (std::size_t i = 0; i < text.size();) {
        const auto [code, length] = codePointAt(text, i);
        if (isControl(code)) return true;
        i += length;
    }
    return false;
}

std::string forTerminal(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto [code, length] = codePointAt(text, i);
        if (code == 0xFFFD && length == 1)
            out += "\\ufffd";
        else if (isControl(code))
            out += fmt::format("\\u{:04x}", static_cast<unsigned>(code));
        else
            out += text.substr(i, length);
        i += length;
    }
    return out;
}

std::string withoutControl(std::string_view text) {
    if (isPrintableAscii(text)) return std::string(text);
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto [code, length] = codePointAt(text, i);
        if (!isControl(code) && (code != 0xFFFD || length > 1)) out += text.substr(i, length);
        i += length;
    }
    return out;
}

void appendJsonString(std::string& out, std::string_view text) {
    out += '"';
    for (char c : text) {
        switch (c) {
            case '"': out += "\\\""; break;
            case '\\': out += "\\\\"; break;
            case '\n': out += "\\n"; break;
            case '\r': out += "\\r"; break;
            case '\t': out += "\\t"; break;
            default:
                if (static_cast<unsigned char>(c) < 0x20)
                    out += fmt::format("\\u{:04x}", static_cast<unsigned>(c));
                else
                    out += c;
        }
    }
    out += '"';
}

int matchRank(std::string_view text, std::string_view query) {
    if (query.empty()) return 0;
    for (std::size_t i = 0; i + query.size() <= text.size(); ++i) {
        if (!containsFolded(text.substr(i, query.size()), query)) continue;
        if (i == 0) return 0;
        if (text[i - 1] == ' ' || text[i - 1] == '-' || text[i - 1] == ',') return 1;
    }
    return containsFolded(text, query) ? 2 : -1;
}

}  // namespace base
