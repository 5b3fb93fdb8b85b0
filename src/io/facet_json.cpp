#include "io/facet_json.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "io/object_members.h"
#include "model/field_values.h"
#include "model/value_json.h"

namespace io {

std::string facetJson(const model::FacetType& type, const void* facet) {
    std::string out;
    if (type.bare && type.fields.members[0].parts.fields != nullptr) {
        model::appendJson(out, model::partsValue(type.fields.members[0], facet), type.pointed);
        return out;
    }
    model::ValueMap map;
    model::putValues(type.fields, facet, map);
    model::appendJson(out, model::Value{map}, type.pointed);
    return out;
}

base::Result<std::shared_ptr<void>> facetFromJson(const model::FacetType& type, const std::string& text) {
    simdjson::dom::parser parser;
    simdjson::dom::element root;
    if (const auto error = parser.parse(text).get(root); error != simdjson::SUCCESS)
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("The text for {} is no JSON: {}.", type.key, simdjson::error_message(error)));
    std::shared_ptr<void> made = type.make();
    const model::Value value = toValue(root);
    if (type.bare && type.fields.members[0].parts.fields != nullptr) {
        if (base::Status done = model::setParts(type.fields.members[0], made.get(), value); !done)
            return tl::unexpected(done.error());
        return made;
    }
    const auto* map = std::get_if<model::ValueMap>(&value.data);
    std::vector<std::string> problems;
    if (map == nullptr)
        problems.push_back("an object was expected");
    else
        model::takeValues(type.fields, made.get(), *map, problems);
    if (!problems.empty())
        return base::fail(base::ErrorCode::BadInput, fmt::format("{}: {}.", type.label, fmt::join(problems, "; ")));
    return made;
}

}  // namespace io
