#include "io/json_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "base/text.h"
#include "io/names.h"
#include "model/value_json.h"

namespace io {
namespace {

int lineAt(std::string_view text, std::size_t byte) {
    return 1 + static_cast<int>(std::count(
                   text.begin(), text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size())), '\n'));
}

/// What of the library's words helps a designer: what was met, and what was expected.
std::string reason(std::string_view words) {
    const std::size_t dash = words.rfind(" - ");
    if (dash != std::string_view::npos) words.remove_prefix(dash + 3);
    words = words.substr(0, words.find("; last read"));
    return words.starts_with('[') ? "it cannot be read" : base::forTerminal(words);
}

}  // namespace

base::Result<Json> parseJson(std::string_view text, const std::string& file) {
    if (!base::isValidUtf8(text)) return fail(ErrorCode::BadInput, file + ": is not UTF-8 text.");
    if (const std::size_t nul = text.find('\0'); nul != std::string_view::npos)
        return fail(ErrorCode::BadInput, fmt::format("{}:{}: holds a zero byte.", file, lineAt(text, nul)));
    std::vector<std::set<std::string>> keys;
    std::string problem;
    auto watch = [&](int depth, Json::parse_event_t event, Json& parsed) {
        if (depth > 64 && problem.empty()) problem = "is nested more than 64 deep";
        if (event == Json::parse_event_t::object_start) keys.emplace_back();
        if (event == Json::parse_event_t::object_end) keys.pop_back();
        if (event == Json::parse_event_t::key && !keys.back().insert(parsed.get<std::string>()).second &&
            problem.empty())
            problem = fmt::format("has the key “{}” twice in one object", parsed.get<std::string>());
        const bool isText = event == Json::parse_event_t::key || event == Json::parse_event_t::value;
        if (isText && parsed.is_string() && problem.empty() && base::hasControl(parsed.get_ref<std::string&>()))
            problem = "holds control characters, which no text may have";
        return true;
    };
    try {
        Json value = Json::parse(text, watch);
        if (!problem.empty()) return base::fail(base::ErrorCode::BadInput, fmt::format("{}: {}.", file, problem));
        return value;
    } catch (const Json::parse_error& error) {
        return fail(ErrorCode::BadInput,
                    fmt::format("{}:{}: is not valid JSON: {}.", file, lineAt(text, error.byte), reason(error.what())));
    } catch (const Json::exception&) {
        return fail(ErrorCode::BadInput, file + ": holds a number that cannot be used.");
    }
}

base::Result<Json> readOurs(std::string_view text, const std::string& file, std::string_view format) {
    auto json = parseJson(text, file);
    if (!json) return json;
    if (!json->is_object() || json->value("format", Json("")) != format)
        return base::fail(ErrorCode::BadInput, fmt::format("{}: format: is not “{}”, as was expected.", file, format));
    const Json version = json->value("version", Json());
    if (!version.is_number_integer() || version.get<std::int64_t>() < 1)
        return base::fail(ErrorCode::BadInput,
                          fmt::format("{}: version: is missing or no whole number; 1 was expected.", file));
    if (version.get<std::int64_t>() > 1)
        return base::fail(
            ErrorCode::Unsupported,
            fmt::format("{}: version: was written by a newer version of the program; this one reads version 1.", file));
    return json;
}

namespace {

model::Value toValue(const Json& json) {
    if (json.is_boolean()) return {json.get<bool>()};
    if (json.is_number_unsigned() && json.get<std::uint64_t>() > std::uint64_t{INT64_MAX}) return {json.get<double>()};
    if (json.is_number_integer()) return {json.get<std::int64_t>()};
    if (json.is_number()) return {json.get<double>()};
    if (json.is_object()) return {toValues(json)};
    if (!json.is_array()) return {json.is_string() ? json.get<std::string>() : std::string()};
    model::ValueList list;
    for (const Json& one : json) list.push_back(toValue(one));
    return {std::move(list)};
}

}  // namespace

namespace {

/// Every number and string goes the way that scenes go.
struct Writer {
    std::string out;
    int indent;

    void write(const Json& json, int depth) {
        if (json.is_object())
            return all(json, '{', '}', depth, [this](const auto& entry) {
                write(entry.key());
                out += indent < 0 ? ":" : ": ";
            });
        if (json.is_array()) return all(json, '[', ']', depth, [](const auto&) {});
        if (json.is_string()) return write(json.get_ref<const std::string&>());
        const bool finite = !json.is_number_float() || std::isfinite(json.get<double>());
        if (json.is_null() || !finite)
            out += "null";
        else if (json.is_number_unsigned())
            out += std::to_string(json.get<std::uint64_t>());
        else
            model::appendJson(out, toValue(json));
    }
    void write(const std::string& text) {
        if (base::isValidUtf8(text)) return base::appendJsonString(out, text);
        std::string whole;
        for (std::size_t i = 0; i < text.size();) {
            const auto [code, length] = base::codePointAt(text, i);
            whole += code == 0xFFFD ? "\uFFFD" : text.substr(i, length);
            i += length;
        }
        base::appendJsonString(out, whole);
    }
    template <class Key>
    void all(const Json& json, char open, char close, int depth, const Key& key) {
        out += open;
        bool first = true;
        for (const auto& entry : json.items()) {
            if (!std::exchange(first, false)) out += ',';
            line(depth + 1);
            key(entry);
            write(entry.value(), depth + 1);
        }
        if (!first) line(depth);
        out += close;
    }
    void line(int depth) {
        if (indent >= 0) out.append(1, '\n').append(static_cast<std::size_t>(indent * depth), ' ');
    }
};

}  // namespace

std::string toText(const Json& json, int indent) {
    Writer writer{{}, indent};
    writer.write(json, 0);
    return std::move(writer.out);
}

namespace {

/// On one line, with a space after each comma and colon.
std::string spaced(const Json& json) {
    if (!json.is_structured()) return toText(json);
    std::string out = json.is_object() ? "{" : "[";
    for (const auto& [key, value] : json.items()) {
        if (out.size() > 1) out += ", ";
        if (json.is_object()) out += toText(Json(key)) + ": ";
        out += spaced(value);
    }
    return out + (json.is_object() ? "}" : "]");
}

std::string readable(const Json& json, std::size_t depth) {
    constexpr std::size_t kWidest = 96, kIndent = 2;
    std::string line = spaced(json);
    if (!json.is_structured() || json.empty() || (depth > 0 && line.size() + depth * kIndent <= kWidest)) return line;
    const std::string pad((depth + 1) * kIndent, ' ');
    std::string out = json.is_object() ? "{" : "[";
    for (const auto& [key, value] : json.items()) {
        out += out.size() > 1 ? ",\n" : "\n";
        out += pad;
        if (json.is_object()) out += toText(Json(key)) + ": ";
        out += readable(value, depth + 1);
    }
    return out + "\n" + std::string(depth * kIndent, ' ') + (json.is_object() ? "}" : "]");
}

}  // namespace

std::string toReadable(const Json& json) {
    return readable(json, 0) + "\n";
}

Json toJson(const model::Value& value) {
    std::string text;
    model::appendJson(text, value);
    return Json::parse(text);
}

model::ValueMap toValues(const Json& object) {
    model::ValueMap map;
    for (const auto& [key, value] : object.items()) map.emplace_back(key, toValue(value));
    return map;
}

}  // namespace io
