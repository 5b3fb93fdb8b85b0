#include "cli/fields.h"

#include <fmt/format.h>

#include <ostream>

#include "cli/names.h"
#include "io/json_text.h"
#include "model/field_values.h"
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
        if (member->parts.fields != nullptr) {
            auto list = io::parseJson(one.substr(sign + 1), member->property.name);
            if (!list) return tl::unexpected(list.error());
            if (Status set = model::setParts(*member, thing, io::toValues({{"all", *list}}).front().second); !set)
                return set;
            continue;
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
        const bool isList = member.parts.fields != nullptr;
        const auto value = isList ? std::optional(model::partsValue(member, thing)) : member.get(thing);
        if (!value) continue;
        if (isList && !asJson)
            io.out << fmt::format("{}={}\n", member.property.name, io::toText(io::toJson(*value)));
        else if (asJson)
            all[member.property.name] = io::toJson(*value);
        else
            io.out << fmt::format("{}={}\n", member.property.name, model::valueText(member.property, *value));
    }
    if (asJson) io.out << io::toText(all) << "\n";
}

}  // namespace cli
