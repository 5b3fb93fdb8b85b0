#include "ops/schema_form.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/colour.h"
#include "base/text.h"
#include "model/property_types.h"
#include "ops/names.h"

namespace ops {

using model::PropertyType;
using model::ValueList;

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
Property texts(const char* name, const char* label, const char* help, const char* category) {
    Property p = field(name, label, PropertyType::List, help, category);
    p.element = {field("", label, PropertyType::Text, help)};
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

/// A choice as one types it: "open", "shut=Shut tight".
std::string choiceText(const Value& choice) {
    if (const auto* plain = std::get_if<std::string>(&choice.data)) return *plain;
    const auto* map = std::get_if<ValueMap>(&choice.data);
    if (map == nullptr) return {};
    const std::string value = model::textOf(*map, "value"), label = model::textOf(*map, "label", value);
    return label == value ? value : value + "=" + label;
}

Value choiceFrom(std::string_view text) {
    const std::size_t sign = text.find('=');
    if (sign == std::string_view::npos) return {std::string(text)};
    const auto part = [](std::string_view t) { return Value{std::string(base::trimmed(t))}; };
    return {ValueMap{{"value", part(text.substr(0, sign))}, {"label", part(text.substr(sign + 1))}}};
}

/// "#b7c4cc", of a colour as properties have it: what model::parsedValue() reads back.
std::string hexOf(const Value& colour) {
    std::string text = "#";
    for (const Value& one : std::get<ValueList>(colour.data)) {
        double room = 0;
        const double* share = model::asNumber(one, room);
        text += fmt::format("{:02x}", std::lround(base::toShown(share != nullptr ? *share : 0) * 255));
    }
    return text;
}

ValueList listIn(const Value* value) {
    const auto* list = value != nullptr ? std::get_if<ValueList>(&value->data) : nullptr;
    return list != nullptr ? *list : ValueList{};
}

/// A file's list as a form shows it: of texts.
Value textsOf(const Value* value) {
    ValueList texts;
    for (const Value& one : listIn(value)) texts.push_back({choiceText(one)});
    return {std::move(texts)};
}

/// As a file has it; nothing for an empty one.
std::optional<Value> textsFrom(const Value& shown) {
    ValueList list;
    for (const Value& one : listIn(&shown))
        if (const auto text = choiceText(one); !text.empty()) list.push_back(choiceFrom(text));
    return list.empty() ? std::nullopt : std::optional(Value{std::move(list)});
}

/// Choices for each value of another property, a text for each: "wood: oak | elm".
Value choicesForOf(const Value* value) {
    ValueList texts;
    const auto* map = value != nullptr ? std::get_if<ValueMap>(&value->data) : nullptr;
    for (const auto& [key, choices] : map != nullptr ? *map : ValueMap{}) {
        std::string text;
        for (const Value& one : listIn(&choices)) text += (text.empty() ? "" : " | ") + choiceText(one);
        texts.push_back({key + ": " + text});
    }
    return {std::move(texts)};
}

/// Errors: BadInput for a text without a colon.
Result<std::optional<Value>> choicesForFrom(const Value& shown) {
    ValueMap map;
    for (const Value& one : listIn(&shown)) {
        const std::string text = choiceText(one);
        const std::size_t colon = text.find(':');
        if (colon == std::string::npos)
            return fail(ErrorCode::BadInput, fmt::format("“{}” says not for what: as in “wood: oak | elm”.", text));
        ValueList choices;
        for (const std::string_view part : base::split(std::string_view(text).substr(colon + 1), '|'))
            if (!part.empty()) choices.push_back(choiceFrom(part));
        model::setValue(map, base::trimmed(std::string_view(text).substr(0, colon)), {std::move(choices)});
    }
    return map.empty() ? std::optional<Value>() : std::optional(Value{std::move(map)});
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
        field("mark", "Colour mark", PropertyType::Colour, "Of the square before names in lists"),
        field("icon", "Icon", PropertyType::Text, "Of the set of icons; shown in the Stock"),
        number("smallestSize", "Smallest size", 0.01, 1e-6, "Times its own size", "Limits"),
        number("largestSize", "Largest size", 100, 1e-6, "Times its own size", "Limits"),
        flag("tints", "May be tinted", true, "", "Limits"),
        flag("mirrors", "May be mirrored", true, "Off: what is written on it would read backwards", "Limits"),
        flag("takesImages", "Takes images", false, "Images may lie on its surfaces", "Limits"),
        texts("imageSlots", "Which surfaces", "Their names; none: all", "Limits"),
        flag("isMoved", "Moved by physics", false, "Its bodies may be loose", "Limits"),
        choice("needed", "Must exist", {{"any", "any number"}, {"some", "at least one"}, {"one", "exactly one"}},
               "In every scene; deleting the last one warns", "Limits"),
        number("cost", "Cost", 1, 0, "Of the level's budget, standing still", "Budget"),
        number("movingCost", "Cost while moving", 0, 0, "More than that, while it moves", "Budget"),
        texts("facts", "Facts in the Stock", "cost, triangles, size, needed, or properties", "Budget")};
    return form;
}

constexpr std::size_t kDefaultField = 5;  // in propertyForm()

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
        texts("choices", "Choices", "shut, or shut=Shut tight: what files say, and what people read", "Choices"),
        field("choicesBy", "Depending on", PropertyType::Text, "Another property that decides", "Choices"),
        texts("choicesFor", "Choices for each", "wood: oak | elm", "Choices"),
        texts("kinds", "Leads to kinds", "Of links; none: any", "Links"),
        field("records", "Record type", PropertyType::Text, "Of record links", "Links"),
        flag("place", "A place", false, "Of vectors: a place in the world, which can be pointed at", "Links"),
        choice("of", "List of", typeChoices(), "Of a list: what it holds", "Links"),
        field("shownIf", "Shown if", PropertyType::Text, "What another property must be for this one to show", "Shown"),
        flag("hidden", "Hidden", false, "For the game alone", "Shown"),
        flag("readOnly", "Read-only", false, "It follows from other things", "Shown"),
        flag("required", "Required", false, "It must be filled in", "Shown")};
    return form;
}

const std::vector<Property>& appearanceForm() {
    static const std::vector<Property> form = {
        field("when", "When", PropertyType::Text, "What a property must be for it to look so"),
        field("item", "Shows the item", PropertyType::Item, "Instead of its own"),
        field("tint", "Tint", PropertyType::Colour, "White: as it is"),
        field("badge", "Badge", PropertyType::Text, "A short text beside it"),
        field("surface", "Surface", PropertyType::Text, "On all of it; one of the project's surfaces"),
        field("image", "Image", PropertyType::Media, "On all of it"),
        field("every", "Every", PropertyType::Time, "It looks so in the first half of each such time; 0: always"),
        field("turns", "Turns", PropertyType::Number, "Degrees a second about its own up, while one looks"),
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
    const bool number = model::traits(type).numbers > 0;
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

std::optional<Property> defaultField(const ValueMap& entry) {
    using enum PropertyType;
    const auto property = read(entry);
    const auto fitting = {Integer, Number, Angle, Time, Vector, Range, Curve, Colour, Flags, Item, LongText};
    if (!property || std::find(fitting.begin(), fitting.end(), property->type) == fitting.end()) return std::nullopt;
    Property shown = propertyForm()[kDefaultField];
    shown.type = property->type;
    shown.unit = property->unit;
    shown.low = property->low, shown.high = property->high, shown.step = property->step;
    shown.choices = property->choices;
    return shown;
}

bool isCondition(const Property& field) {
    return isOneOf(field.name, {"shownIf", "when"});
}

std::vector<Property> askedBy(const ValueMap& entry, const std::vector<ValueMap>& properties) {
    std::vector<Property> asked;
    const std::string own = model::textOf(entry, "name");
    for (const ValueMap& one : properties) {
        auto property = read(one);
        if (!property || property->name == own) continue;
        using enum PropertyType;
        const auto plain = {Bool, Integer, Number, Angle, Time, Choice, Flags, Text};
        if (std::find(plain.begin(), plain.end(), property->type) != plain.end()) asked.push_back(std::move(*property));
    }
    return asked;
}

Value fieldOf(const ValueMap& entry, const Property& f) {
    const Value* value = model::valueOf(entry, f.name);
    if (f.name == "choicesFor") return choicesForOf(value);
    if (f.type == PropertyType::List)
        return textsOf(value == nullptr && f.name == "kinds" ? model::valueOf(elementOf(entry), "kinds") : value);
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
    if (f.type == PropertyType::Colour && value != nullptr && std::holds_alternative<std::string>(value->data))
        return model::parsedValue(f, std::get<std::string>(value->data)).value_or(model::defaultOf(f));
    if (value == nullptr && f.type == PropertyType::Colour) return {ValueList{}};  // none, not white
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
    if (isOneOf(f.name, {"kinds", "records"})) {
        std::optional<Value> value = f.name == "kinds" ? textsFrom(given)
                                     : text.empty()    ? std::nullopt
                                                       : std::optional(Value{text});
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
    } else if (f.name == "choicesFor") {
        auto value = choicesForFrom(given);
        if (!value) return tl::unexpected(value.error());
        put(std::move(*value));
    } else if (f.type == PropertyType::List) {
        put(textsFrom(given));
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
        const bool isText = std::holds_alternative<std::string>(given.data);
        if ((isText && text.empty()) || !property) {
            put(std::nullopt);
        } else {
            auto value = isText ? model::parsedValue(*property, text) : model::fitted(*property, given);
            if (!value) return tl::unexpected(value.error());
            put(std::move(*value));
        }
    } else {
        auto fine = model::fitted(f, given);
        if (!fine) return tl::unexpected(fine.error());
        const bool usual = *fine == model::defaultOf(f) && f.name != "type" && f.name != "does";
        if (f.name == "mark") fine = Value{hexOf(*fine)};  // which files have as a text
        put(usual ? std::nullopt : std::optional(*fine));
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
