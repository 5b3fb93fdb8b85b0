#include "io/json_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

#include "base/text.h"

namespace io {
namespace {

int lineAt(std::string_view text, std::size_t byte) {
    return 1 + static_cast<int>(std::count(
                   text.begin(), text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size())), '\n'));
}

}  // namespace

base::Result<Json> parseJson(std::string_view text, const std::string& file) {
    if (!base::isValidUtf8(text)) return base::fail(base::ErrorCode::BadInput, file + ": is not UTF-8 text.");
    std::vector<std::set<std::string>> keys;
    std::string problem;
    auto watch = [&](int depth, Json::parse_event_t event, Json& parsed) {
        if (depth > 64 && problem.empty()) problem = "is nested more than 64 deep";
        if (event == Json::parse_event_t::object_start) keys.emplace_back();
        if (event == Json::parse_event_t::object_end) keys.pop_back();
        if (event == Json::parse_event_t::key && !keys.back().insert(parsed.get<std::string>()).second &&
            problem.empty())
            problem = fmt::format("has the key “{}” twice in one object", parsed.get<std::string>());
        return true;
    };
    try {
        Json value = Json::parse(text, watch);
        if (!problem.empty()) return base::fail(base::ErrorCode::BadInput, fmt::format("{}: {}.", file, problem));
        return value;
    } catch (const Json::parse_error& error) {
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("{}:{}: is not valid JSON ({}).", file, lineAt(text, error.byte), error.what()));
    } catch (const Json::exception& error) {
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("{}: holds a number that cannot be used ({}).", file, error.what()));
    }
}

}  // namespace io
