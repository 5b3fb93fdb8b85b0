#include "io/value_json.h"

#include "base/text.h"

namespace io {
namespace {

struct Visitor {
    std::string& out;
    void operator()(bool b) const { out += b ? "true" : "false"; }
    void operator()(std::int64_t i) const { out += std::to_string(i); }
    void operator()(double d) const {
        const std::size_t at = out.size();
        base::appendShortest(out, d);
        // A whole double keeps its point, so that it reads back as a double.
        if (out.find_first_of(".eEn", at) == std::string::npos) out += ".0";
    }
    void operator()(const std::string& s) const { base::appendJsonString(out, s); }
    void operator()(const model::ValueList& list) const {
        out += '[';
        for (std::size_t i = 0; i < list.size(); ++i) {
            if (i > 0) out += ',';
            appendJson(out, list[i]);
        }
        out += ']';
    }
    void operator()(const model::ValueMap& map) const { appendJson(out, map); }
};

}  // namespace

void appendJson(std::string& out, const model::Value& value) {
    std::visit(Visitor{out}, value.data);
}

void appendJson(std::string& out, const model::ValueMap& map) {
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

}  // namespace io
