#include "model/value_json.h"

#include "base/text.h"

namespace model {
namespace {

struct Visitor {
    std::string& out;
    bool pointed;
    void operator()(bool b) const { out += b ? "true" : "false"; }
    void operator()(std::int64_t i) const { out += std::to_string(i); }
    void operator()(double d) const {
        const std::size_t at = out.size();
        base::appendShortest(out, d);
        if (pointed && out.find_first_of(".eEn", at) == std::string::npos) out += ".0";
    }
    void operator()(const std::string& s) const { base::appendJsonString(out, s); }
    void operator()(const ValueList& list) const {
        out += '[';
        for (std::size_t i = 0; i < list.size(); ++i) {
            if (i > 0) out += ',';
            appendJson(out, list[i], pointed);
        }
        out += ']';
    }
    void operator()(const ValueMap& map) const { appendJson(out, map); }
};

}  // namespace

void appendJson(std::string& out, const Value& value, bool pointed) {
    std::visit(Visitor{out, pointed}, value.data);
}

void appendMember(std::string& members, std::string_view key, const Value& value) {
    if (!members.empty()) members += ',';
    base::appendJsonString(members, key);
    members += ':';
    appendJson(members, value);
}

void appendJson(std::string& out, const ValueMap& map) {
    out += '{';
    bool first = true;
    for (const auto& [key, value] : map) {
        if (!first) out += ',';
        first = false;
        base::appendJsonString(out, key);
        out += ':';
        appendJson(out, value);
    }
    out += '}';
}

}  // namespace model
