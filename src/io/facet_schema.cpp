#include "io/facet_schema.h"

#include "model/property_types.h"

namespace io {
namespace {

using model::Member;
using model::Value;
using model::ValueList;
using model::ValueMap;

Value text(const char* words) {
    return {std::string(words)};
}

ValueMap memberSchema(const Member& m);

ValueMap fieldsSchema(const model::Fields& fields, std::size_t from) {
    ValueMap members;
    ValueList required;
    for (std::size_t i = from; i < fields.members.size(); ++i) {
        const Member& m = fields.members[i];
        if (!m.stored) continue;
        members.emplace_back(m.property.name, Value{memberSchema(m)});
        if (m.property.required) required.push_back({m.property.name});
    }
    ValueMap schema = {{"type", text("object")}};
    if (!required.empty()) schema.emplace_back("required", Value{std::move(required)});
    schema.emplace_back("properties", Value{std::move(members)});
    return schema;
}

ValueMap memberSchema(const Member& m) {
    const model::Property& p = m.property;
    if (m.parts.fields != nullptr) {
        ValueMap each = fieldsSchema(*m.parts.fields, m.parts.named ? 1 : 0);
        if (!m.parts.named) return {{"type", text("array")}, {"items", {std::move(each)}}};
        return {{"type", text("object")}, {"additionalProperties", {std::move(each)}}};
    }
    if (m.schema) return m.schema();
    return model::traits(p.type).schema(p);
}

}  // namespace

ValueMap facetSchema(const model::FacetType& type) {
    return type.bare ? memberSchema(type.fields.members[0]) : fieldsSchema(type.fields, 0);
}

}  // namespace io
