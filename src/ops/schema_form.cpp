#include "ops/schema_form.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/text.h"

namespace ops {

using base::ErrorCode;
using base::fail;
using base::Result;
using model::Property;
using model::PropertyType;
using model::Value;
using model::ValueList;
using model::ValueMap;

namespace {

Property field(const char* name, const char* label, PropertyType type, const char* help, const char* category = "") {
    Property p;
    p.name = name;
    p.label = label;
    p.type = type;
    p.help = help;
    p.category = category;
    return p;
}
Property flag(const char* name, const char* label, bool usual, const char* help, const char* category = "") {
    Property p = field(name, label, PropertyType::Bool, help, category);
    p.fallback = Value{usual};
    return p;
}
Property number(const char* name, const char* label, double usual, double low, const char* help,
                const char* category = "") {
    Property p = field(name, label, PropertyType::Number, help, category);
    p.fallback = Value{usual};
    p.low = low;
    return p;
}
Property choice(const char* name, const char* label, std::vector<model::Choice> choices, const char* help,
                const char* category = "") {
    Property p = field(name, label, PropertyType::Choice, help, category);
    p.choices = std::move(choices);
    return p;
}
std::vector<model::Choice> typeChoices() {
    std::vector<model::Choice> all;
    for (int t = 0; t <= static_cast<int>(PropertyType::List); ++t) {
        const std::string name(model::typeName(static_cast<PropertyType>(t)));
        all.push_back({name, name});
    }
    return all;
}

std::vector<std::string> parts(std::string_view text, char at) {
    std::vector<std::string> all;
    for (const std::string_view part : base::split(text, at))
        if (!part.empty()) all.emplace_back(part);
    return all;
}

/// Choices as one types them: "open | shut=Shut tight".
std::string choicesText(const Value* value) {
    std::string text;
    const auto* list = value != nullptr ? std::get_if<ValueList>(&value->data) : nullptr;
    for (const Value& one : list != nullptr ? *list : ValueList{}) {
        std::string part;
        if (const auto* plain = std::get_if<std::string>(&one.data)) part = *plain;
        if (const auto* map = std::get_if<ValueMap>(&one.data)) {
            part = model::textOf(*map, "value");
            if (const std::string label = model::textOf(*map, "label"); !label.empty() && label != part)
                part += "=" + label;
        }
        text += (text.empty() ? "" : " | ") + part;
    }
    return text;
}

Value choicesFrom(std::string_view text) {
    ValueList list;
    for (const std::string& part : parts(text, '|')) {
        const std::size_t sign = part.find('=');
        if (sign == std::string::npos)
            list.push_back({part});
        else
            list.push_back({ValueMap{{"value", {part.substr(0, sign)}}, {"label", {part.substr(sign + 1)}}}});
    }
    return {std::move(list)};
}

std::string choicesForText(const Value* value) {
    std::string text;
    const auto* map = value != nullptr ? std::get_if<ValueMap>(&value->data) : nullptr;
    for (const auto& [key, choices] : map != nullptr ? *map : ValueMap{})
        text += (text.empty() ? "" : "; ") + key + ": " + choicesText(&choices);
    return text;
}

Value choicesForFrom(std::string_view text) {
    ValueMap map;
    for (const std::string& part : parts(text, ';')) {
        const std::size_t colon = part.find(':');
        if (colon != std::string::npos) map.emplace_back(part.substr(0, colon), choicesFrom(part.substr(colon + 1)));
    }
    return {std::move(map)};
}

std::optional<Property> read(const ValueMap& entry) {
    std::vector<std::string> problems;
    ValueMap plain = entry;
    model::eraseValue(plain, "default");
    return model::propertyFrom(plain, problems);
}

std::string textIn(const Value& value) {
    const auto* text = std::get_if<std::string>(&value.data);
    return text != nullptr ? *text : std::string();
}

bool isOneOf(const std::string& name, std::initializer_list<const char*> names) {
    return std::any_of(names.begin(), names.end(), [&](const char* n) { return name == n; });
}

ValueMap elementOf(const ValueMap& entry) {
    const Value* of = model::valueOf(entry, "of");
    const auto* map = of != nullptr ? std::get_if<ValueMap>(&of->data) : nullptr;
    return map != nullptr ? *map : ValueMap{};
}

}  // namespace

const std::vector<Property>& kindForm() {
    static const std::vector<Property> form = {
        field("inherits", "Inherits from", PropertyType::Text, "What is not said here is as in that kind"),
        field("category", "Category", PropertyType::Text, "Where lists of kinds show it"),
        field("help", "Help", PropertyType::LongText, "What it is, for designers"),
        field("mark", "Colour mark", PropertyType::Text, "#rrggbb, the square before names in lists"),
        field("icon", "Icon", PropertyType::Text, "Of the set of icons; shown in the Stock"),
        number("smallestSize", "Smallest size", 0.01, 1e-6, "Times its own size", "Limits"),
        number("largestSize", "Largest size", 100, 1e-6, "Times its own size", "Limits"),
        flag("tints", "May be tinted", true, "", "Limits"),
        flag("takesImages", "Takes images", false, "Images may lie on its surfaces", "Limits"),
        field("imageSlots", "Which surfaces", PropertyType::Text, "Names with | between them; none: all", "Limits"),
        flag("isMoved", "Moved by physics", false, "Its bodies may be loose", "Limits"),
        choice("needed", "Must exist", {{"any", "any number"}, {"some", "at least one"}, {"one", "exactly one"}},
               "In every scene; deleting the last one warns", "Limits"),
        number("cost", "Cost", 1, 0, "Of the level's budget, standing still", "Budget"),
        number("movingCost", "Cost while moving", 0, 0, "More than that, while it moves", "Budget"),
        field("facts", "Facts in the Stock", PropertyType::Text,
              "cost, triangles, size, needed, or properties; | between them", "Budget")};
    return form;
}

const std::vector<Property>& propertyForm() {
    static const std::vector<Property> form = {
        field("name", "Key", PropertyType::Text, "Its name in files; existing values follow a new one"),
        field("label", "Label", PropertyType::Text, "For people"),
        choice("type", "Type", typeChoices(), "Existing values are read anew"),
        field("category", "Category", PropertyType::Text, "Heading in Properties"),
        field("help", "Help", PropertyType::Text, ""),
        field("default", "Default", PropertyType::Text, "What an object without a value has"),
        field("unit", "Unit", PropertyType::Text, "m, s, kg", "Numbers"),
        field("low", "Lowest", PropertyType::Text, "Empty: no limit", "Numbers"),
        field("high", "Highest", PropertyType::Text, "Empty: no limit", "Numbers"),
        field("step", "Step", PropertyType::Text, "Of the arrows", "Numbers"),
        field("choices", "Choices", PropertyType::Text, "open | shut=Shut tight", "Choices"),
        field("choicesBy", "Depending on", PropertyType::Text, "Another property that decides", "Choices"),
        field("choicesFor", "Choices for each", PropertyType::Text, "wood: oak | elm; stone: granite", "Choices"),
        field("kinds", "Leads to kinds", PropertyType::Text, "Of links; | between them; none: any", "Links"),
        field("records", "Record type", PropertyType::Text, "Of record links", "Links"),
        flag("place", "A place", false, "Of vectors: a place in the world, which can be pointed at", "Links"),
        choice("of", "List of", typeChoices(), "Of a list: what it holds", "Links"),
        field("shownIf", "Shown if", PropertyType::Text, "lit, oil > 3, state = open", "Shown"),
        flag("hidden", "Hidden", false, "For the game alone", "Shown"),
        flag("readOnly", "Read-only", false, "It follows from other things", "Shown"),
        flag("required", "Required", false, "It must be filled in", "Shown")};
    return form;
}

const std::vector<Property>& appearanceForm() {
    static const std::vector<Property> form = {
        field("when", "When", PropertyType::Text, "lit, !lit, oil < 0.5, state = open; empty: always"),
        field("item", "Shows the item", PropertyType::Item, "Instead of its own"),
        field("tint", "Tint", PropertyType::Colour, "White: as it is"),
        field("badge", "Badge", PropertyType::Text, "A short text beside it"),
        flag("hides", "Hidden", false, "It is not there then")};
    return form;
}

const std::vector<Property>& buttonForm() {
    static const std::vector<Property> form = {
        field("label", "Label", PropertyType::Text, "What stands on it"),
        choice("does", "Does", {{"next", "next value"}, {"reset", "reset"}}, ""),
        field("property", "Property", PropertyType::Text, "Reset without one: all of them")};
    return form;
}

bool fieldFits(const ValueMap& entry, const Property& field) {
    const auto property = read(entry);
    if (!property) return true;
    const Property& held =
        property->type == PropertyType::List && !property->element.empty() ? property->element[0] : *property;
    const PropertyType type = held.type;
    const bool number = type == PropertyType::Integer || type == PropertyType::Number || type == PropertyType::Angle ||
                        type == PropertyType::Time || type == PropertyType::Vector || type == PropertyType::Range;
    if (isOneOf(field.name, {"unit", "low", "high", "step"})) return number;
    if (isOneOf(field.name, {"choices", "choicesBy", "choicesFor"}))
        return type == PropertyType::Choice || (type == PropertyType::Flags && field.name == "choices");
    if (field.name == "kinds") return model::linksObject(type);
    if (field.name == "records") return type == PropertyType::Record;
    if (field.name == "place") return property->type == PropertyType::Vector;
    if (field.name == "of") return property->type == PropertyType::List;
    return true;
}

std::vector<model::Choice> fieldChoices(const ValueMap& entry, const Property& field,
                                        const std::vector<ValueMap>& others) {
    std::vector<model::Choice> all;
    if (field.name == "choicesBy") {
        const std::string own = model::textOf(entry, "name");
        for (const ValueMap& other : others) {
            const std::string name = model::textOf(other, "name");
            if (name != own && isOneOf(model::textOf(other, "type"), {"choice", "bool", "text"}))
                all.push_back({name, model::textOf(other, "label", name)});
        }
    }
    const auto property = field.name == "default" ? read(entry) : std::nullopt;
    if (property && property->type == PropertyType::Bool)
        for (const bool on : {true, false}) {
            const std::string text = model::valueText(*property, {on});
            all.push_back({text, text});
        }
    if (property && property->type == PropertyType::Choice) all = property->choices;
    if (!all.empty()) all.insert(all.begin(), {"", "none"});
    return all;
}

Value fieldOf(const ValueMap& entry, const Property& f) {
    const Value* value = model::valueOf(entry, f.name);
    if (isOneOf(f.name, {"choices"})) return {choicesText(value)};
    if (isOneOf(f.name, {"choicesFor"})) return {choicesForText(value)};
    if (isOneOf(f.name, {"kinds"})) {
        const std::string own = choicesText(value);
        return {own.empty() ? choicesText(model::valueOf(elementOf(entry), "kinds")) : own};
    }
    if (isOneOf(f.name, {"imageSlots", "facts"})) return {choicesText(value)};
    if (f.name == "records") {
        const std::string own = model::textOf(entry, "records");
        return {own.empty() ? model::textOf(elementOf(entry), "records") : own};
    }
    if (f.name == "of") return {model::textOf(elementOf(entry), "type", "text")};
    if (isOneOf(f.name, {"low", "high", "step"})) {
        double room = 0;
        const double* n = value != nullptr ? model::asNumber(*value, room) : nullptr;
        return {n != nullptr ? base::shortest(*n) : std::string()};
    }
    if (f.name == "default") {
        const auto property = read(entry);
        return {property && value != nullptr ? model::valueText(*property, *value) : std::string()};
    }
    if (value == nullptr) return model::defaultOf(f);
    if (auto fine = model::fitted(f, *value)) return *fine;
    return model::defaultOf(f);
}

Result<ValueMap> withField(const ValueMap& entry, const Property& f, const Value& given) {
    ValueMap after = entry;
    auto put = [&](std::optional<Value> value) {
        if (value)
            model::setValue(after, f.name, std::move(*value));
        else
            model::eraseValue(after, f.name);
    };
    const std::string text = textIn(given);
    if (isOneOf(f.name, {"choices", "imageSlots", "facts"})) {
        put(text.empty() ? std::nullopt : std::optional(choicesFrom(text)));
    } else if (f.name == "choicesFor") {
        put(text.empty() ? std::nullopt : std::optional(choicesForFrom(text)));
    } else if (isOneOf(f.name, {"kinds", "records"})) {
        std::optional<Value> value;
        if (!text.empty()) value = f.name == "kinds" ? choicesFrom(text) : Value{text};
        if (model::textOf(entry, "type") != "list") {
            put(std::move(value));
        } else {
            ValueMap element = elementOf(entry);
            if (value)
                model::setValue(element, f.name, std::move(*value));
            else
                model::eraseValue(element, f.name);
            model::setValue(after, "of", {std::move(element)});
        }
    } else if (f.name == "of") {
        ValueMap element = elementOf(entry);
        model::setValue(element, "type", {text});
        put(Value{std::move(element)});
    } else if (isOneOf(f.name, {"low", "high", "step"})) {
        char* end = nullptr;
        const double n = std::strtod(text.c_str(), &end);
        if (!text.empty() && *end != '\0')
            return fail(ErrorCode::BadInput, fmt::format("{}: “{}” is no number.", f.label, text));
        put(text.empty() ? std::nullopt : std::optional(Value{n}));
    } else if (f.name == "default") {
        const auto property = read(entry);
        if (text.empty() || !property) {
            put(std::nullopt);
        } else {
            auto value = model::parsedValue(*property, text);
            if (!value) return tl::unexpected(value.error());
            put(std::move(*value));
        }
    } else {
        auto fine = model::fitted(f, given);
        if (!fine) return tl::unexpected(fine.error());
        put(*fine == model::defaultOf(f) && f.name != "type" && f.name != "does" ? std::nullopt : std::optional(*fine));
    }
    // A default of another type goes with the type.
    if (f.name == "type")
        if (const auto property = read(after); property)
            if (const Value* usual = model::valueOf(after, "default");
                usual != nullptr && !model::fitted(*property, *usual))
                model::eraseValue(after, "default");
    return after;
}

std::vector<ValueMap> listOf(const ValueMap& entry, std::string_view key) {
    std::vector<ValueMap> all;
    const Value* value = model::valueOf(entry, key);
    if (const auto* list = value != nullptr ? std::get_if<ValueList>(&value->data) : nullptr)
        for (const Value& one : *list)
            if (const auto* map = std::get_if<ValueMap>(&one.data)) all.push_back(*map);
    return all;
}

ValueMap withList(const ValueMap& entry, std::string_view key, const std::vector<ValueMap>& list) {
    ValueMap after = entry;
    ValueList values;
    for (const ValueMap& one : list) values.push_back({one});
    if (values.empty())
        model::eraseValue(after, key);
    else
        model::setValue(after, key, {std::move(values)});
    return after;
}

}  // namespace ops
