#include "io/facet_schema.h"

namespace io {
namespace {

using model::Member;
using model::PropertyType;
using model::Value;
using model::ValueList;
using model::ValueMap;

Value text(const char* words) {
    return {std::string(words)};
}

ValueMap number(const model::Property& p, const char* type) {
    ValueMap schema = {{"type", text(type)}};
    if (p.low) schema.emplace_back("minimum", Value{*p.low});
    if (p.high) schema.emplace_back("maximum", Value{*p.high});
    return schema;
}

ValueMap listOf(ValueMap items, std::optional<std::int64_t> count = {}) {
    ValueMap schema = {{"type", text("array")}, {"items", {std::move(items)}}};
    if (count) {
        schema.emplace_back("minItems", Value{*count});
        schema.emplace_back("maxItems", Value{*count});
    }
    return schema;
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
        if (!m.parts.named) return listOf(std::move(each));
        return {{"type", text("object")}, {"additionalProperties", {std::move(each)}}};
    }
    if (m.schema) return m.schema();
    switch (p.type) {
        case PropertyType::Bool: return {{"type", text("boolean")}};
        case PropertyType::Integer: return number(p, "integer");
        case PropertyType::Number:
        case PropertyType::Angle:
        case PropertyType::Time: return number(p, "number");
        case PropertyType::Vector:
        case PropertyType::Colour: return listOf(number(p, "number"), 3);
        case PropertyType::Choice: {
            ValueList words;
            for (const model::Choice& c : p.choices) words.push_back({c.value});
            return {{"enum", {std::move(words)}}};
        }
        case PropertyType::Object:
        case PropertyType::Zone:
        case PropertyType::Points:
        case PropertyType::Record: return {{"type", {ValueList{text("object"), text("string")}}}};
        case PropertyType::Range: return listOf(number(p, "number"), 2);
        case PropertyType::Flags:
        case PropertyType::Curve:
        case PropertyType::List: return {{"type", text("array")}};
        case PropertyType::Text:
        case PropertyType::LongText:
        case PropertyType::Item:
        case PropertyType::Media: return {{"type", text("string")}};
    }
    return {};
}

}  // namespace

ValueMap facetSchema(const model::FacetType& type) {
    return type.bare ? memberSchema(type.fields.members[0]) : fieldsSchema(type.fields, 0);
}

}  // namespace io
