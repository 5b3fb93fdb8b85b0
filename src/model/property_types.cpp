// What each type of property is: one row of the table at the end says all of it.
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

#include "base/colour.h"
#include "base/text.h"
#include "model/names.h"
#include "model/property_types.h"

namespace model {

using base::Result;

namespace {

/// "from 0 to 5", "above 0", "2 or more".
std::string rangeText(const Property& p) {
    const bool above = p.low && *p.low > 0 && *p.low <= 1e-6;
    const std::string low = !p.low ? "" : above ? "above 0" : base::shortest(*p.low);
    if (p.low && p.high) return (above ? low + ", up to " : "from " + low + " to ") + base::shortest(*p.high);
    return p.low ? low + (above ? "" : " or more") : "up to " + base::shortest(p.high.value_or(0));
}

Result<double> within(const Property& p, double number) {
    if (!std::isfinite(number))
        return fail(ErrorCode::BadInput, fmt::format("{}: a finite number was expected.", p.label));
    if ((p.low && number < *p.low) || (p.high && number > *p.high))
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: {} is out of its range, {}.", p.label, base::shortest(number), rangeText(p)));
    return number;
}

base::Error expected(const Property& p, std::string_view what) {
    return {ErrorCode::BadInput, fmt::format("{}: {} was expected.", p.label, what)};
}

/// So many numbers, each in its range; `count` 0: any number of them.
Result<Value> numbers(const Property& p, const Value& value, std::size_t count, std::string_view what) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr || (count > 0 && list->size() != count)) return tl::unexpected(expected(p, what));
    ValueList result;
    for (const Value& one : *list) {
        double room = 0;
        const double* number = asNumber(one, room);
        if (number == nullptr) return tl::unexpected(expected(p, what));
        auto fine = within(p, *number);
        if (!fine) return tl::unexpected(fine.error());
        result.push_back({*number});
    }
    return Value{std::move(result)};
}

Result<Value> curve(const Property& p, const Value& value) {
    constexpr std::string_view kWhat = "points [x, y] with rising x";
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr) return tl::unexpected(expected(p, kWhat));
    ValueList result;
    double last = -1e300;
    for (const Value& one : *list) {
        const auto* pair = std::get_if<ValueList>(&one.data);
        double rooms[2] = {};
        const double *x = pair != nullptr && pair->size() == 2 ? asNumber((*pair)[0], rooms[0]) : nullptr,
                     *y = x != nullptr ? asNumber((*pair)[1], rooms[1]) : nullptr;
        if (y == nullptr || !std::isfinite(*x) || !std::isfinite(*y) || *x <= last)
            return tl::unexpected(expected(p, kWhat));
        last = *x;
        result.push_back({ValueList{{*x}, {*y}}});
    }
    return Value{std::move(result)};
}

Result<Value> listOf(const Property& p, const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr || p.element.empty()) return tl::unexpected(expected(p, "a list"));
    ValueList result;
    for (const Value& one : *list) {
        auto fine = fitted(p.element[0], one);
        if (!fine) return tl::unexpected(fine.error());
        result.push_back(std::move(*fine));
    }
    return Value{std::move(result)};
}

Result<Value> chosen(const Property& p, const Value& value) {
    const auto* text = std::get_if<std::string>(&value.data);
    if (text == nullptr) return tl::unexpected(expected(p, "one of its choices"));
    auto among = [&](const std::vector<Choice>& all) {
        return std::any_of(all.begin(), all.end(), [&](const Choice& c) { return c.value == *text; });
    };
    bool known = text->empty() || among(p.choices);
    for (const auto& [of, choices] : p.choicesFor) known = known || among(choices);
    if (known) return value;
    std::string all;
    for (const Choice& c : p.choices) all += (all.empty() ? "" : ", ") + c.value;
    return fail(ErrorCode::BadInput, fmt::format("{}: “{}” is none of its choices ({}).", p.label, *text, all));
}

Result<Value> flagsOf(const Property& p, const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr) return tl::unexpected(expected(p, "a list of choices"));
    for (const Value& one : *list)
        if (auto fine = chosen(p, one); !fine) return fine;
    return value;
}

double least(const Property& p) {
    const double low = p.low.value_or(0);
    return low > 0 || p.high.value_or(0) < 0 ? low : 0.0;
}

// What an object without a value has, when the property says nothing.
Value usualBool(const Property&) {
    return {false};
}
Value usualInteger(const Property& p) {
    return {static_cast<std::int64_t>(std::ceil(least(p)))};
}
Value usualNumber(const Property& p) {
    return {least(p)};
}
Value usualText(const Property&) {
    return {std::string()};
}
Value usualChoice(const Property& p) {
    return {p.choices.empty() ? std::string() : p.choices[0].value};
}
Value usualList(const Property&) {
    return {ValueList{}};
}
Value usualColour(const Property&) {
    return {ValueList{{1.0}, {1.0}, {1.0}}};
}
Value usualVector(const Property& p) {
    return {ValueList{{least(p)}, {least(p)}, {least(p)}}};
}
Value usualRange(const Property& p) {
    return {ValueList{{least(p)}, {p.high.value_or(least(p))}}};
}

// The value as it is kept.
Result<Value> fitBool(const Property& p, const Value& value) {
    if (!std::holds_alternative<bool>(value.data)) return tl::unexpected(expected(p, "yes or no"));
    return value;
}
Result<Value> fitInteger(const Property& p, const Value& value) {
    double room = 0;
    const double* number = asNumber(value, room);
    if (number == nullptr || *number != std::floor(*number) || std::abs(*number) > 9e15)
        return tl::unexpected(expected(p, "a whole number"));
    auto fine = within(p, *number);
    if (!fine) return tl::unexpected(fine.error());
    return Value{static_cast<std::int64_t>(*number)};
}
Result<Value> fitNumber(const Property& p, const Value& value) {
    double room = 0;
    const double* number = asNumber(value, room);
    if (number == nullptr) return tl::unexpected(expected(p, "a number"));
    auto fine = within(p, *number);
    if (!fine) return tl::unexpected(fine.error());
    return Value{*fine};
}
Result<Value> fitText(const Property& p, const Value& value) {
    if (!std::holds_alternative<std::string>(value.data)) return tl::unexpected(expected(p, "text"));
    return value;
}
Result<Value> fitColour(const Property& p, const Value& value) {
    Property unit = p;
    unit.low = 0;
    unit.high = 1;
    return numbers(unit, value, 3, "a list of red, green and blue, from 0 to 1,");
}
Result<Value> fitVector(const Property& p, const Value& value) {
    return numbers(p, value, 3, "a list of three numbers");
}
Result<Value> fitRange(const Property& p, const Value& value) {
    auto fine = numbers(p, value, 2, "a list of two numbers, from and to,");
    if (!fine) return fine;
    const auto& ends = std::get<ValueList>(fine->data);
    if (std::get<double>(ends[0].data) > std::get<double>(ends[1].data))
        return fail(ErrorCode::BadInput, p.label + ": the range ends before it begins.");
    return fine;
}
bool isNothing(const Value& value) {
    const auto* text = std::get_if<std::string>(&value.data);
    return text != nullptr && text->empty();
}
Result<Value> fitObject(const Property& p, const Value& value) {
    if (!isNothing(value) && !objectIn(value)) return tl::unexpected(expected(p, "a link to an object"));
    return value;
}
Result<Value> fitRecord(const Property& p, const Value& value) {
    if (!isNothing(value) && !recordIn(value)) return tl::unexpected(expected(p, "a link to a record"));
    return value;
}

// What people type.
Value partsOf(std::string_view text) {
    ValueList list;
    for (std::string_view part : base::split(text, ','))
        if (const auto number = model::numberIn(part))
            list.push_back({*number});
        else
            list.push_back({std::string(part)});
    return {std::move(list)};
}
Result<Value> parseBool(const Property& p, std::string_view typed) {
    const std::string_view text = base::trimmed(typed);
    for (std::string_view yes : {"true", "yes", "1", "on"})
        if (base::sameFolded(text, yes)) return Value{true};
    for (std::string_view no : {"false", "no", "0", "off"})
        if (base::sameFolded(text, no)) return Value{false};
    return tl::unexpected(expected(p, "yes or no"));
}
Result<Value> parseNumber(const Property& p, std::string_view typed) {
    const auto number = model::numberIn(base::trimmed(typed));
    if (!number) return tl::unexpected(expected(p, "a number"));
    return fitted(p, {*number});
}
Result<Value> parseText(const Property&, std::string_view typed) {
    return Value{std::string(typed)};
}
Result<Value> parseName(const Property&, std::string_view typed) {
    return Value{std::string(base::trimmed(typed))};
}
Result<Value> parseChoice(const Property& p, std::string_view typed) {
    const std::string_view text = base::trimmed(typed);
    for (const Choice& c : p.choices)
        if (base::sameFolded(c.label, text)) return Value{c.value};
    return fitted(p, {std::string(text)});
}
Result<Value> parseFlags(const Property& p, std::string_view typed) {
    ValueList list;
    for (std::string_view part : base::split(base::trimmed(typed), ',')) list.push_back({std::string(part)});
    return fitted(p, {std::move(list)});
}
Result<Value> parseColour(const Property& p, std::string_view typed) {
    const std::string_view text = base::trimmed(typed);
    if (!text.starts_with('#')) return fitted(p, partsOf(text));
    ValueList list;
    for (std::size_t i = 1; text.size() == 7 && i < 7; i += 2) {
        int byte = 0;
        const auto [end, problem] = std::from_chars(text.data() + i, text.data() + i + 2, byte, 16);
        if (problem == std::errc{} && end == text.data() + i + 2) list.push_back({base::toLinear(byte / 255.0)});
    }
    return fitted(p, {std::move(list)});
}
Result<Value> parseVector(const Property& p, std::string_view typed) {
    return fitted(p, partsOf(base::trimmed(typed)));
}
Result<Value> parseRange(const Property& p, std::string_view typed) {
    const std::string_view text = base::trimmed(typed);
    const std::size_t dots = text.find("..");
    if (dots == std::string_view::npos) return fitted(p, partsOf(text));
    const auto from = model::numberIn(text.substr(0, dots)), to = model::numberIn(text.substr(dots + 2));
    if (!from || !to) return tl::unexpected(expected(p, "from..to"));
    return fitted(p, {ValueList{{*from}, {*to}}});
}
Result<Value> parseCurve(const Property& p, std::string_view typed) {
    ValueList list;
    for (std::string_view point : base::split(base::trimmed(typed), ';')) {
        ValueList pair;
        for (std::string_view part : base::split(point, ','))
            if (const auto number = model::numberIn(part)) pair.push_back({*number});
        list.push_back({std::move(pair)});
    }
    return fitted(p, {std::move(list)});
}
Result<Value> parseLink(const Property& p, std::string_view typed, Value (*link)(ObjectId)) {
    const std::string_view text = base::trimmed(typed);
    if (text.empty()) return Value{std::string()};
    if (const auto id = base::parseObjectId(text)) return link(*id);
    return tl::unexpected(expected(p, "an id of sixteen hexadecimal digits"));
}
Result<Value> parseObject(const Property& p, std::string_view typed) {
    return parseLink(p, typed, objectLink);
}
Result<Value> parseRecord(const Property& p, std::string_view typed) {
    return parseLink(p, typed, recordLink);
}
Result<Value> parseList(const Property& p, std::string_view typed) {
    ValueList list;
    for (std::string_view part : base::split(base::trimmed(typed), '|')) {
        auto one = p.element.empty() ? Result<Value>(Value{std::string(part)}) : parsedValue(p.element[0], part);
        if (!one) return one;
        list.push_back(std::move(*one));
    }
    return fitted(p, {std::move(list)});
}

std::string joinedText(const ValueList& list, std::string_view between,
                       const std::function<std::string(const Value&)>& of) {
    std::string text;
    for (const Value& one : list) text.append(text.empty() ? "" : between).append(of(one));
    return text;
}

std::string plainText(const Value& value) {
    double room = 0;
    if (const double* number = asNumber(value, room)) return base::shortest(*number);
    if (const auto* flag = std::get_if<bool>(&value.data)) return *flag ? "yes" : "no";
    if (const auto* text = std::get_if<std::string>(&value.data)) return *text;
    if (const ObjectId id = objectIn(value) ? objectIn(value) : recordIn(value)) return base::toText(id);
    if (const auto* list = std::get_if<ValueList>(&value.data)) return joinedText(*list, ", ", plainText);
    return {};
}

std::string textPlain(const Property&, const Value& value) {
    return plainText(value);
}
std::string textBetween(const Value& value, std::string_view between) {
    const auto* list = std::get_if<ValueList>(&value.data);
    return list != nullptr ? joinedText(*list, between, plainText) : plainText(value);
}
std::string textRange(const Property&, const Value& value) {
    return textBetween(value, "..");
}
std::string textCurve(const Property&, const Value& value) {
    return textBetween(value, "; ");
}
std::string textList(const Property& p, const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr) return plainText(value);
    return joinedText(*list, " | ", [&](const Value& one) {
        return p.element.empty() ? plainText(one) : valueText(p.element[0], one);
    });
}

// What JSON Schema says of it.
Value word(const char* text) {
    return {std::string(text)};
}
ValueMap schemaNumber(const Property& p, const char* type) {
    ValueMap schema = {{"type", word(type)}};
    if (p.low) schema.emplace_back("minimum", Value{*p.low});
    if (p.high) schema.emplace_back("maximum", Value{*p.high});
    return schema;
}
ValueMap schemaNumbers(const Property& p, std::int64_t count) {
    return {
        {"type", word("array")}, {"items", {schemaNumber(p, "number")}}, {"minItems", {count}}, {"maxItems", {count}}};
}
ValueMap schemaBool(const Property&) {
    return {{"type", word("boolean")}};
}
ValueMap schemaInteger(const Property& p) {
    return schemaNumber(p, "integer");
}
ValueMap schemaReal(const Property& p) {
    return schemaNumber(p, "number");
}
ValueMap schemaText(const Property&) {
    return {{"type", word("string")}};
}
ValueMap schemaChoice(const Property& p) {
    ValueList words;
    for (const Choice& c : p.choices) words.push_back({c.value});
    return {{"enum", {std::move(words)}}};
}
ValueMap schemaVector(const Property& p) {
    return schemaNumbers(p, 3);
}
ValueMap schemaRange(const Property& p) {
    return schemaNumbers(p, 2);
}
ValueMap schemaLink(const Property&) {
    return {{"type", {ValueList{word("object"), word("string")}}}};
}
ValueMap schemaList(const Property&) {
    return {{"type", word("array")}};
}

/// In the order of PropertyType.
constexpr TypeTraits kTypes[] = {{"bool", 0, false, usualBool, fitBool, parseBool, textPlain, schemaBool},
                                 {"integer", 1, false, usualInteger, fitInteger, parseNumber, textPlain, schemaInteger},
                                 {"number", 1, false, usualNumber, fitNumber, parseNumber, textPlain, schemaReal},
                                 {"text", 0, false, usualText, fitText, parseText, textPlain, schemaText},
                                 {"long text", 0, false, usualText, fitText, parseText, textPlain, schemaText},
                                 {"choice", 0, false, usualChoice, chosen, parseChoice, textPlain, schemaChoice},
                                 {"flags", 0, false, usualList, flagsOf, parseFlags, textPlain, schemaList},
                                 {"colour", 0, false, usualColour, fitColour, parseColour, textPlain, schemaVector},
                                 {"angle", 1, false, usualNumber, fitNumber, parseNumber, textPlain, schemaReal},
                                 {"vector", 3, false, usualVector, fitVector, parseVector, textPlain, schemaVector},
                                 {"range", 2, false, usualRange, fitRange, parseRange, textRange, schemaRange},
                                 {"curve", 0, false, usualList, curve, parseCurve, textCurve, schemaList},
                                 {"time", 1, false, usualNumber, fitNumber, parseNumber, textPlain, schemaReal},
                                 {"object", 0, true, usualText, fitObject, parseObject, textPlain, schemaLink},
                                 {"zone", 0, true, usualText, fitObject, parseObject, textPlain, schemaLink},
                                 {"points", 0, true, usualText, fitObject, parseObject, textPlain, schemaLink},
                                 {"route", 0, true, usualText, fitObject, parseObject, textPlain, schemaLink},
                                 {"stop", 0, true, usualText, fitObject, parseObject, textPlain, schemaLink},
                                 {"item", 0, false, usualText, fitText, parseName, textPlain, schemaText},
                                 {"record", 0, false, usualText, fitRecord, parseRecord, textPlain, schemaLink},
                                 {"media", 0, false, usualText, fitText, parseName, textPlain, schemaText},
                                 {"list", 0, false, usualList, listOf, parseList, textList, schemaList}};
static_assert(std::size(kTypes) == static_cast<std::size_t>(PropertyType::List) + 1);

}  // namespace

std::optional<double> numberIn(std::string_view text) {
    text = base::trimmed(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    double number = 0;
    const auto [end, problem] = std::from_chars(text.data(), text.data() + text.size(), number);
    const bool whole = problem == std::errc{} && end == text.data() + text.size() && !text.empty();
    return whole && std::isfinite(number) ? std::optional(number) : std::nullopt;
}

const TypeTraits& traits(PropertyType type) {
    return kTypes[static_cast<std::size_t>(type)];
}

std::span<const TypeTraits> propertyTypes() {
    return kTypes;
}

Value defaultOf(const Property& p) {
    return p.fallback ? *p.fallback : traits(p.type).usual(p);
}

Result<Value> fitted(const Property& p, const Value& value) {
    return traits(p.type).fit(p, value);
}

Result<Value> parsedValue(const Property& p, std::string_view typed) {
    return traits(p.type).parse(p, typed);
}

std::string valueText(const Property& p, const Value& value) {
    return traits(p.type).text(p, value);
}

}  // namespace model
