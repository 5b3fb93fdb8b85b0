#include "hand/enter.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <algorithm>
#include <cstring>

#include "base/text.h"
#include "hand/names.h"
#include "io/json_text.h"

namespace hand {
namespace {

using io::Json;

/// The sign at which a line ends in a text.
std::string lineEndOf(std::string_view text) {
    const std::size_t at = text.find('\n');
    return at != std::string_view::npos && at > 0 && text[at - 1] == '\r' ? "\r\n" : "\n";
}

/// A line without the spaces round it, and without its end.
std::string_view plainLine(std::string_view line) {
    if (line.ends_with('\r')) line.remove_suffix(1);
    return base::trimmed(line);
}

/// What stands in front of the first sign of the line that `at` is in.
std::string indentAt(std::string_view text, std::size_t at) {
    const std::size_t line = at == 0 ? 0 : text.rfind('\n', at - 1) + 1;
    const std::size_t first = std::min(text.find_first_not_of(" \t", line), text.size());
    return std::string(text.substr(line, first - line));
}

/// Finds where a value of a JSON text stands; the text is known to be sound.
class JsonPlaces {
  public:
    explicit JsonPlaces(std::string_view text) : text_(text) {}
    /// From its first sign to behind its last.
    std::optional<std::pair<std::size_t, std::size_t>> find(const std::vector<std::string>& way) {
        at_ = 0;
        for (const std::string& step : way) {
            space();
            if (at_ >= text_.size() || !(text_[at_] == '{' ? intoMember(step) : text_[at_] == '[' && intoPlace(step)))
                return std::nullopt;
        }
        space();
        const std::size_t from = at_;
        skip();
        return std::pair(from, at_);
    }

  private:
    void space() {
        while (at_ < text_.size() && std::strchr(" \t\r\n", text_[at_]) != nullptr) ++at_;
    }
    void skipString() {
        for (++at_; at_ < text_.size() && text_[at_] != '"'; ++at_)
            if (text_[at_] == '\\') ++at_;
        ++at_;
    }
    void skip() {
        space();
        if (at_ >= text_.size()) return;
        if (text_[at_] == '"') return skipString();
        if (text_[at_] != '{' && text_[at_] != '[') {
            while (at_ < text_.size() && std::strchr(",]} \t\r\n", text_[at_]) == nullptr) ++at_;
            return;
        }
        int depth = 0;
        do {
            const char c = text_[at_];
            if (c == '"') {
                skipString();
                continue;
            }
            depth += c == '{' || c == '[' ? 1 : c == '}' || c == ']' ? -1 : 0;
            ++at_;
        } while (depth > 0 && at_ < text_.size());
    }
    bool intoMember(const std::string& name) {
        for (++at_; at_ < text_.size();) {
            space();
            if (text_[at_] != '"') return false;
            const std::size_t from = at_;
            skipString();
            const Json key = Json::parse(text_.substr(from, at_ - from), nullptr, false);
            space();
            ++at_;  // the colon
            if (key == name) return true;
            skip();
            space();
            if (at_ >= text_.size() || text_[at_++] != ',') return false;
        }
        return false;
    }
    bool intoPlace(const std::string& number) {
        std::size_t index = 0;
        for (const char c : number) {
            if (c < '0' || c > '9') return false;
            index = index * 10 + static_cast<std::size_t>(c - '0');
        }
        ++at_;
        for (std::size_t i = 0; i < index; ++i) {
            skip();
            space();
            if (at_ >= text_.size() || text_[at_++] != ',') return false;
        }
        space();
        return at_ < text_.size() && text_[at_] != ']';
    }
    std::string_view text_;
    std::size_t at_ = 0;
};

Result<std::string> intoJson(const std::string& text, const Enter& enter, const std::string& value) {
    auto all = io::parseJson(text, enter.file);
    if (!all) return tl::unexpected(all.error());
    std::vector<std::string> way;
    const auto noList = [&] {
        return fail(ErrorCode::BadInput, fmt::format("{}: there is no list at “{}”.", enter.file, enter.at));
    };
    if (!enter.at.empty() && enter.at.front() != '/') return noList();
    for (const std::string_view step : base::split(std::string_view(enter.at), '/')) {
        std::string plain(step);
        for (const auto& [from, to] : {std::pair("~1", "/"), std::pair("~0", "~")})
            for (std::size_t i = plain.find(from); i != std::string::npos; i = plain.find(from, i + 1))
                plain.replace(i, 2, to);
        way.push_back(std::move(plain));
    }
    if (!way.empty()) way.erase(way.begin());
    const auto place = JsonPlaces(text).find(way);
    if (!place) return noList();
    const Json list =
        Json::parse(std::string_view(text).substr(place->first, place->second - place->first), nullptr, false);
    if (!list.is_array()) return noList();
    for (const Json& one : list)
        if (one == value) return text;
    std::string entry;
    base::appendJsonString(entry, value);
    if (list.empty()) return text.substr(0, place->first + 1) + entry + text.substr(place->first + 1);
    const std::size_t close = place->second - 1;
    // After the last one, on a line of its own where that has one.
    std::size_t end = close;
    while (std::strchr(" \t\r\n", text[end - 1]) != nullptr) --end;
    const bool ownLine = text.substr(end, close - end).find('\n') != std::string::npos;
    const std::string gap = ownLine ? lineEndOf(text) + indentAt(text, end) : " ";
    return text.substr(0, end) + "," + gap + entry + text.substr(end);
}

/// The ">" at which a tag that begins at `from`, or before, ends; the text's end: nowhere.
std::size_t tagEnd(const std::string& text, std::size_t from) {
    char quote = 0;
    for (std::size_t i = from; i < text.size(); ++i) {
        const char c = text[i];
        if (quote == 0 && c == '>') return i;
        if (quote != 0)
            quote = c == quote ? '\0' : quote;
        else if (c == '"' || c == '\'')
            quote = c;
    }
    return text.size();
}

Result<std::string> intoXml(const std::string& text, const Enter& enter, const std::string& value) {
    const auto wrong = [&](const std::string& why) { return fail(ErrorCode::BadInput, enter.file + ": " + why); };
    pugi::xml_document document;
    const auto parsed = document.load_buffer(text.data(), text.size(), pugi::parse_full, pugi::encoding_utf8);
    if (!parsed) return wrong(fmt::format("{}.", parsed.description()));
    const std::size_t space = enter.at.find(' ');
    if (space == std::string::npos)
        return wrong("“at” does not say which element is added: “game/levels level@file” was expected.");
    const std::string way = enter.at.substr(0, space);
    std::string element = enter.at.substr(space + 1), attribute;
    if (const std::size_t at = element.find('@'); at != std::string::npos) {
        attribute = element.substr(at + 1);
        element.resize(at);
    }
    const pugi::xml_node list = document.first_element_by_path(way.c_str());
    if (!list) return wrong(fmt::format("there is no element “{}”.", way));
    pugi::xml_node last;
    for (const pugi::xml_node one : list.children(element.c_str())) {
        const char* held = attribute.empty() ? one.text().get() : one.attribute(attribute.c_str()).value();
        if (held == value) return text;
        last = one;
    }
    pugi::xml_document made;
    pugi::xml_node node = made.append_child(element.c_str());
    if (attribute.empty())
        node.text().set(value.c_str());
    else
        node.append_attribute(attribute.c_str()).set_value(value.c_str());
    std::string entry;
    struct Writer : pugi::xml_writer {
        std::string& to;
        explicit Writer(std::string& into) : to(into) {}
        void write(const void* data, std::size_t size) override { to.append(static_cast<const char*>(data), size); }
    } writer(entry);
    node.print(writer, "", pugi::format_raw, pugi::encoding_utf8);
    const std::string line = lineEndOf(text);
    const auto offset = static_cast<std::size_t>(list.offset_debug());  // of its name
    const std::size_t open = tagEnd(text, offset);
    if (open >= text.size()) return wrong("it ends in the middle of an element.");
    const std::string own = indentAt(text, offset);
    if (text[open - 1] == '/')  // <levels/>
        return text.substr(0, open - 1) + ">" + line + own + "  " + entry + line + own + "</" + list.name() + ">" +
               text.substr(open + 1);
    std::size_t at = open + 1;
    std::string indent = own + "  ";
    if (last) {
        // Behind the last of its sort: the sibling's own text is found by where the next one begins, or the list ends.
        indent = indentAt(text, static_cast<std::size_t>(last.offset_debug()));
        const auto from = static_cast<std::size_t>(last.offset_debug()) - 1;
        at = from;
        int depth = 0;
        do {
            const std::size_t tag = text.find('<', at);
            if (tag == std::string::npos) return wrong("it ends in the middle of an element.");
            if (text.compare(tag, 4, "<!--") == 0) {
                at = text.find("-->", tag) + 3;
                continue;
            }
            if (text.compare(tag, 9, "<![CDATA[") == 0) {
                at = text.find("]]>", tag) + 3;
                continue;
            }
            const std::size_t end = tagEnd(text, tag);
            if (end >= text.size()) return wrong("it ends in the middle of an element.");
            if (text[tag + 1] == '/')
                --depth;
            else if (text[end - 1] != '/' && text[tag + 1] != '?')
                ++depth;
            at = end + 1;
        } while (depth > 0);
    }
    return text.substr(0, at) + line + indent + entry + text.substr(at);
}

Result<std::string> intoIni(const std::string& text, const Enter& enter, const std::string& value) {
    const std::size_t space = enter.at.rfind(' ');
    const std::string section = space == std::string::npos ? "" : enter.at.substr(0, space);
    std::string key = space == std::string::npos ? enter.at : enter.at.substr(space + 1);
    const bool ownLines = key.ends_with("[]");
    if (ownLines) key.resize(key.size() - 2);
    const std::string line = lineEndOf(text);
    bool within = section.empty(), found = within;
    std::size_t sectionEnd = 0;  // behind the last line of it that says something
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        const std::string_view plain = plainLine(std::string_view(text).substr(from, to - from));
        const std::size_t start = from;
        from = to + 1;
        if (plain.starts_with('[')) {
            within = plain == "[" + section + "]";
            found = found || within;
        }
        if (!within || plain.empty()) continue;
        sectionEnd = std::min(from, text.size());
        const std::size_t equals = plain.find('=');
        if (plain.front() == ';' || plain.front() == '#' || equals == std::string_view::npos ||
            base::trimmed(plain.substr(0, equals)) != key)
            continue;
        const std::string_view held = base::trimmed(plain.substr(equals + 1));
        if (ownLines) {
            if (held == value) return text;
            continue;
        }
        for (const std::string_view one : base::split(held, ','))
            if (one == value) return text;
        std::size_t end = to;
        while (end > start && std::strchr(" \t\r", text[end - 1]) != nullptr) --end;
        return text.substr(0, end) + (held.empty() ? (text[end - 1] == '=' ? " " : "") : ", ") + value +
               text.substr(end);
    }
    if (!found) return fail(ErrorCode::BadInput, fmt::format("{}: there is no section [{}].", enter.file, section));
    const std::string entry = key + " = " + value;
    const bool open = sectionEnd > 0 && text[sectionEnd - 1] != '\n';
    return text.substr(0, sectionEnd) + (open ? line : "") + entry + (open ? "" : line) + text.substr(sectionEnd);
}

Result<std::string> intoText(const std::string& text, const Enter& enter, const std::string& value) {
    std::optional<std::size_t> mark;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        const std::string_view plain = plainLine(std::string_view(text).substr(from, to - from));
        if (plain == value) return text;
        if (!mark && !enter.at.empty() && plain == base::trimmed(enter.at)) mark = from;
        from = to + 1;
    }
    if (!mark)
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: no line says “{}”, before which it would go.", enter.file, enter.at));
    return text.substr(0, *mark) + indentAt(text, *mark) + value + lineEndOf(text) + text.substr(*mark);
}

}  // namespace

Result<std::string> entered(const std::string& text, const Enter& enter, const std::string& value) {
    if (value.find_first_of("\r\n") != std::string::npos)
        return fail(ErrorCode::BadInput, enter.file + ": what is entered has more than one line.");
    constexpr std::string_view kMark = "\xEF\xBB\xBF";  // stays in front
    if (text.starts_with(kMark)) {
        auto rest = entered(text.substr(kMark.size()), enter, value);
        return rest ? std::string(kMark) + *rest : rest;
    }
    switch (enter.as) {
        case Enter::As::Json: return intoJson(text, enter, value);
        case Enter::As::Xml: return intoXml(text, enter, value);
        case Enter::As::Ini: return intoIni(text, enter, value);
        case Enter::As::Text: return intoText(text, enter, value);
    }
    return text;
}

}  // namespace hand
