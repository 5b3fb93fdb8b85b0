#include "cli/fields.h"

#include <fmt/format.h>

#include <ostream>

#include "cli/names.h"
#include "io/json_text.h"
#include "model/property_types.h"

namespace cli {

Status setFields(const model::Fields& fields, void* thing, const std::vector<std::string>& values) {
    for (const std::string& one : values) {
        const std::size_t sign = one.find('=');
        const model::Member* member = sign == std::string::npos ? nullptr : fields.find(one.substr(0, sign));
        if (member == nullptr) {
            std::string known;
            for (const model::Member& m : fields.members) known += (known.empty() ? "" : ", ") + m.property.name;
            return base::fail(base::ErrorCode::BadInput,
                              fmt::format("“{}”: KEY=VALUE was expected; keys are {}.", one, known));
        }
        auto value = model::parsedValue(member->property, one.substr(sign + 1));
        if (!value) return tl::unexpected(value.error());
        if (Status set = model::setMember(fields, thing, *member, *value); !set) return set;
    }
    return {};
}

void tellFields(const model::Fields& fields, const void* thing, bool asJson, const Streams& io) {
    io::Json all = io::Json::object();
    for (const model::Member& member : fields.members) {
        const auto value = member.get(thing);
        if (!value) continue;
        if (asJson)
            all[member.property.name] = io::toJson(*value);
        else
            io.out << fmt::format("{}={}\n", member.property.name, model::valueText(member.property, *value));
    }
    if (asJson) io.out << io::toText(all) << "\n";
}

}  // namespace cli
