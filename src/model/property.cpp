#include "model/property.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "base/text.h"

namespace model {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Result;

namespace {

constexpr std::array<std::string_view, 20> kTypeNames = {
    "bool",  "integer", "number", "text",   "long text", "choice", "flags", "colour", "angle", "vector",
    "range", "curve",   "time",   "object", "zone",      "points", "item",  "record", "media", "list"};

/// How a condition is written; of two that begin alike the longer first.
constexpr std::pair<std::string_view, Condition::Op> kConditionSigns[] = {
    {"!=", Condition::Op::IsNot}, {"<=", Condition::Op::AtMost}, {">=", Condition::Op::AtLeast},
    {"=", Condition::Op::Is},     {"<", Condition::Op::Less},    {">", Condition::Op::More}};

std::optional<double> numberIn(std::string_view text) {
    text = base::trimmed(text);
    if (text.starts_with('+')) text.remove_prefix(1);
    double number = 0;
    const auto [end, problem] = std::from_chars(text.data(), text.data() + text.size(), number);
    const bool whole = problem == std::errc{} && end == text.data() + text.size() && !text.empty();
    return whole && std::isfinite(number) ? std::optional(number) : std::nullopt;
}

std::vector<Choice> choicesFrom(const Value* value, std::vector<std::string>& problems) {
    std::vector<Choice> all;
    const auto* list = value != nullptr ? std::get_if<ValueList>(&value->data) : nullptr;
    if (value != nullptr && list == nullptr) problems.emplace_back("choices: Is no list.");
    for (const Value& one : list != nullptr ? *list : ValueList{}) {
        if (const auto* text = std::get_if<std::string>(&one.data)) {
            all.push_back({*text, *text});
        } else if (const auto* map = std::get_if<ValueMap>(&one.data)) {
            const std::string of = textOf(*map, "value");
            all.push_back({of, textOf(*map, "label", of)});
        } else {
            problems.emplace_back("choices: Holds something that is neither text nor value and label.");
        }
    }
    return all;
}

Value toValue(const std::vector<Choice>& choices) {
    ValueList list;
    for (const Choice& c : choices)
        list.push_back(c.label == c.value ? Value{c.value}
                                          : Value{ValueMap{{"value", {c.value}}, {"label", {c.label}}}});
    return {std::move(list)};
}

constexpr const char* kKnown[] = {"name", "type",    "label",   "category",  "help",       "unit",    "low",
                                  "high", "step",    "choices", "choicesBy", "choicesFor", "kinds",   "records",
                                  "of",   "default", "hidden",  "readOnly",  "required",   "shownIf", "place"};

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

}  // namespace

std::string_view typeName(PropertyType type) {
    return kTypeNames[static_cast<std::size_t>(type)];
}

Result<Condition> parseCondition(std::string_view text) {
    text = base::trimmed(text);
    Condition c;
    for (const auto& [sign, op] : kConditionSigns) {
        const std::size_t at = text.find(sign);
        if (at == std::string_view::npos) continue;
        c = {op, std::string(base::trimmed(text.substr(0, at))),
             std::string(base::trimmed(text.substr(at + sign.size())))};
        if (c.property.empty())
            return fail(ErrorCode::BadInput, fmt::format("“{}” names no property before {}.", text, sign));
        return c;
    }
    if (text.starts_with('!')) c.op = Condition::Op::IsNot, text = base::trimmed(text.substr(1));
    if (text.empty()) return fail(ErrorCode::BadInput, "A condition names a property.");
    c.property = text;
    return c;
}

std::string conditionText(const Condition& c) {
    if (c.operand == "true" && c.op == Condition::Op::Is) return c.property;
    if (c.operand == "true" && c.op == Condition::Op::IsNot) return "!" + c.property;
    const auto* sign = std::find_if(std::begin(kConditionSigns), std::end(kConditionSigns),
                                    [&](const auto& one) { return one.second == c.op; });
    return fmt::format("{} {} {}", c.property, sign->first, c.operand);
}

bool holds(const Condition& c, const Value* value) {
    static const Value none{false};
    const Value& is = value != nullptr ? *value : none;
    double room = 0;
    const double* number = asNumber(is, room);
    const auto asked = numberIn(c.operand);
    if (number != nullptr && asked) {
        switch (c.op) {
            case Condition::Op::Is: return *number == *asked;
            case Condition::Op::IsNot: return *number != *asked;
            case Condition::Op::Less: return *number < *asked;
            case Condition::Op::AtMost: return *number <= *asked;
            case Condition::Op::More: return *number > *asked;
            case Condition::Op::AtLeast: return *number >= *asked;
        }
    }
    bool same = false;
    if (const auto* flag = std::get_if<bool>(&is.data)) same = c.operand == (*flag ? "true" : "false");
    if (const auto* text = std::get_if<std::string>(&is.data)) same = base::sameFolded(*text, c.operand);
    if (const auto* list = std::get_if<ValueList>(&is.data))
        same = std::any_of(list->begin(), list->end(), [&](const Value& one) {
            return holds({Condition::Op::Is, {}, c.operand}, &one);
        });
    return c.op == Condition::Op::Is ? same : c.op == Condition::Op::IsNot && !same;
}

std::optional<Property> propertyFrom(const ValueMap& map, std::vector<std::string>& problems) {
    Property p;
    p.name = textOf(map, "name");
    const std::string type = textOf(map, "type", "text");
    const auto* place = std::find(kTypeNames.begin(), kTypeNames.end(), type);
    if (place == kTypeNames.end()) {
        problems.push_back(fmt::format("type: “{}” is no type of property.", type));
        return std::nullopt;
    }
    p.type = static_cast<PropertyType>(place - kTypeNames.begin());
    p.label = textOf(map, "label", p.name);
    if (valueOf(map, "label") == nullptr && !p.label.empty() && p.label[0] >= 'a' && p.label[0] <= 'z')
        p.label[0] = static_cast<char>(p.label[0] - 32);
    p.category = textOf(map, "category");
    p.help = textOf(map, "help");
    p.unit = textOf(map, "unit");
    for (const auto& [key, member] :
         {std::pair{"low", &Property::low}, {"high", &Property::high}, {"step", &Property::step}})
        if (valueOf(map, key) != nullptr) {
            p.*member = numberOf(map, key, std::nan(""));
            if (std::isfinite(*(p.*member))) continue;
            problems.push_back(fmt::format("{}: Is no number.", key));
            (p.*member).reset();
        }
    p.choices = choicesFrom(valueOf(map, "choices"), problems);
    p.choicesBy = textOf(map, "choicesBy");
    if (const Value* by = valueOf(map, "choicesFor"))
        if (const auto* all = std::get_if<ValueMap>(&by->data))
            for (const auto& [value, choices] : *all) p.choicesFor.emplace_back(value, choicesFrom(&choices, problems));
    p.kinds = textsOf(map, "kinds");
    p.records = textOf(map, "records");
    if (const Value* of = valueOf(map, "of"))
        if (const auto* element = std::get_if<ValueMap>(&of->data))
            if (auto held = propertyFrom(*element, problems)) p.element.push_back(std::move(*held));
    if (p.type == PropertyType::List && p.element.empty()) p.element.emplace_back();
    for (Property& element : p.element)
        if (element.label.empty()) element.label = p.label;
    if (const Value* fallback = valueOf(map, "default")) {
        auto fine = fitted(p, *fallback);
        if (fine)
            p.fallback = std::move(*fine);
        else
            problems.push_back("default: " + fine.error().message);
    }
    p.hidden = boolOf(map, "hidden", false);
    p.readOnly = boolOf(map, "readOnly", false);
    p.required = boolOf(map, "required", false);
    p.isPlace = boolOf(map, "place", false);
    p.shownIf = textOf(map, "shownIf");
    for (const auto& [key, value] : map)
        if (std::find(std::begin(kKnown), std::end(kKnown), key) == std::end(kKnown))
            p.unknown.emplace_back(key, value);
    return p;
}

ValueMap toValues(const Property& p) {
    ValueMap map;
    auto text = [&](const char* key, const std::string& value) {
        if (!value.empty()) map.emplace_back(key, Value{value});
    };
    text("name", p.name);
    text("type", std::string(typeName(p.type)));
    text("label", p.label);
    text("category", p.category);
    text("help", p.help);
    text("unit", p.unit);
    for (const auto& [key, number] : {std::pair{"low", p.low}, {"high", p.high}, {"step", p.step}})
        if (number) map.emplace_back(key, Value{*number});
    if (!p.choices.empty()) map.emplace_back("choices", toValue(p.choices));
    text("choicesBy", p.choicesBy);
    if (!p.choicesFor.empty()) {
        ValueMap all;
        for (const auto& [value, choices] : p.choicesFor) all.emplace_back(value, toValue(choices));
        map.emplace_back("choicesFor", Value{std::move(all)});
    }
    if (!p.kinds.empty()) {
        ValueList kinds;
        for (const std::string& kind : p.kinds) kinds.push_back({kind});
        map.emplace_back("kinds", Value{std::move(kinds)});
    }
    text("records", p.records);
    if (!p.element.empty()) map.emplace_back("of", Value{toValues(p.element[0])});
    if (p.fallback) map.emplace_back("default", *p.fallback);
    for (const auto& [key, flag] :
         {std::pair{"hidden", p.hidden}, {"readOnly", p.readOnly}, {"required", p.required}, {"place", p.isPlace}})
        if (flag) map.emplace_back(key, Value{true});
    text("shownIf", p.shownIf);
    map.insert(map.end(), p.unknown.begin(), p.unknown.end());
    return map;
}

Value defaultOf(const Property& p) {
    if (p.fallback) return *p.fallback;
    const double least = p.low.value_or(0), number = least > 0 || p.high.value_or(0) < 0 ? least : 0.0;
    switch (p.type) {
        case PropertyType::Bool: return {false};
        case PropertyType::Integer: return {static_cast<std::int64_t>(std::ceil(number))};
        case PropertyType::Number:
        case PropertyType::Angle:
        case PropertyType::Time: return {number};
        case PropertyType::Colour: return {ValueList{{1.0}, {1.0}, {1.0}}};
        case PropertyType::Vector: return {ValueList{{number}, {number}, {number}}};
        case PropertyType::Range: return {ValueList{{number}, {p.high.value_or(number)}}};
        case PropertyType::Flags:
        case PropertyType::Curve:
        case PropertyType::List: return {ValueList{}};
        case PropertyType::Object:
        case PropertyType::Zone:
        case PropertyType::Points:
        case PropertyType::Record: return {std::string()};
        case PropertyType::Choice: return {p.choices.empty() ? std::string() : p.choices[0].value};
        case PropertyType::Text:
        case PropertyType::LongText:
        case PropertyType::Item:
        case PropertyType::Media: return {std::string()};
    }
    return {};
}

const std::vector<Choice>& choicesOf(const Property& p, std::span<const Property> all, const ValueMap& values) {
    if (p.choicesBy.empty()) return p.choices;
    const auto decides = std::find_if(all.begin(), all.end(), [&](const Property& o) { return o.name == p.choicesBy; });
    const Value* by = valueOf(values, p.choicesBy);
    Value usual;
    if (by == nullptr && decides != all.end()) by = &(usual = defaultOf(*decides));
    for (const auto& [value, choices] : p.choicesFor)
        if (holds({Condition::Op::Is, {}, value}, by)) return choices;
    return p.choices;
}

Result<Value> fitted(const Property& p, const Value& value) {
    double room = 0;
    const double* number = asNumber(value, room);
    const auto* text = std::get_if<std::string>(&value.data);
    switch (p.type) {
        case PropertyType::Bool:
            if (!std::holds_alternative<bool>(value.data)) return tl::unexpected(expected(p, "yes or no"));
            return value;
        case PropertyType::Integer: {
            if (number == nullptr || *number != std::floor(*number) || std::abs(*number) > 9e15)
                return tl::unexpected(expected(p, "a whole number"));
            auto fine = within(p, *number);
            if (!fine) return tl::unexpected(fine.error());
            return Value{static_cast<std::int64_t>(*number)};
        }
        case PropertyType::Number:
        case PropertyType::Angle:
        case PropertyType::Time: {
            if (number == nullptr) return tl::unexpected(expected(p, "a number"));
            auto fine = within(p, *number);
            if (!fine) return tl::unexpected(fine.error());
            return Value{*fine};
        }
        case PropertyType::Text:
        case PropertyType::LongText:
        case PropertyType::Item:
        case PropertyType::Media:
            if (text == nullptr) return tl::unexpected(expected(p, "text"));
            return value;
        case PropertyType::Choice: return chosen(p, value);
        case PropertyType::Flags: return flagsOf(p, value);
        case PropertyType::Colour: {
            Property unit = p;
            unit.low = 0;
            unit.high = 1;
            return numbers(unit, value, 3, "a list of red, green and blue, from 0 to 1,");
        }
        case PropertyType::Vector: return numbers(p, value, 3, "a list of three numbers");
        case PropertyType::Range: {
            auto fine = numbers(p, value, 2, "a list of two numbers, from and to,");
            if (!fine) return fine;
            const auto& ends = std::get<ValueList>(fine->data);
            if (std::get<double>(ends[0].data) > std::get<double>(ends[1].data))
                return fail(ErrorCode::BadInput, p.label + ": the range ends before it begins.");
            return fine;
        }
        case PropertyType::Curve: return curve(p, value);
        case PropertyType::Object:
        case PropertyType::Zone:
        case PropertyType::Points:
            if (!(text != nullptr && text->empty()) && !objectIn(value))
                return tl::unexpected(expected(p, "a link to an object"));
            return value;
        case PropertyType::Record:
            if (!(text != nullptr && text->empty()) && !recordIn(value))
                return tl::unexpected(expected(p, "a link to a record"));
            return value;
        case PropertyType::List: return listOf(p, value);
    }
    return value;
}

Result<Value> parsedValue(const Property& p, std::string_view typed) {
    const std::string_view text = base::trimmed(typed);
    auto parts = [&](char at) {
        ValueList list;
        for (std::string_view part : base::split(text, at))
            if (const auto number = numberIn(part))
                list.push_back({*number});
            else
                list.push_back({std::string(part)});
        return Value{std::move(list)};
    };
    auto id = [&]() -> Result<ObjectId> {
        if (const auto parsed = base::parseObjectId(text)) return *parsed;
        return tl::unexpected(expected(p, "an id of sixteen hexadecimal digits"));
    };
    switch (p.type) {
        case PropertyType::Bool: {
            for (std::string_view yes : {"true", "yes", "1", "on"})
                if (base::sameFolded(text, yes)) return Value{true};
            for (std::string_view no : {"false", "no", "0", "off"})
                if (base::sameFolded(text, no)) return Value{false};
            return tl::unexpected(expected(p, "yes or no"));
        }
        case PropertyType::Integer:
        case PropertyType::Number:
        case PropertyType::Angle:
        case PropertyType::Time: {
            const auto number = numberIn(text);
            if (!number) return tl::unexpected(expected(p, "a number"));
            return fitted(p, {*number});
        }
        case PropertyType::Text:
        case PropertyType::LongText: return Value{std::string(typed)};
        case PropertyType::Item:
        case PropertyType::Media: return Value{std::string(text)};
        case PropertyType::Choice: {
            for (const Choice& c : p.choices)
                if (base::sameFolded(c.label, text)) return Value{c.value};
            return fitted(p, {std::string(text)});
        }
        case PropertyType::Flags: {
            ValueList list;
            for (std::string_view part : base::split(text, ',')) list.push_back({std::string(part)});
            return fitted(p, {std::move(list)});
        }
        case PropertyType::Colour: {
            if (!text.starts_with('#')) return fitted(p, parts(','));
            ValueList list;
            for (std::size_t i = 1; text.size() == 7 && i < 7; i += 2) {
                int byte = 0;
                const auto [end, problem] = std::from_chars(text.data() + i, text.data() + i + 2, byte, 16);
                if (problem == std::errc{} && end == text.data() + i + 2) list.push_back({std::pow(byte / 255.0, 2.2)});
            }
            return fitted(p, {std::move(list)});
        }
        case PropertyType::Vector: return fitted(p, parts(','));
        case PropertyType::Range: {
            const std::size_t dots = text.find("..");
            if (dots == std::string_view::npos) return fitted(p, parts(','));
            const auto from = numberIn(text.substr(0, dots)), to = numberIn(text.substr(dots + 2));
            if (!from || !to) return tl::unexpected(expected(p, "from..to"));
            return fitted(p, {ValueList{{*from}, {*to}}});
        }
        case PropertyType::Curve: {
            ValueList list;
            for (std::string_view point : base::split(text, ';')) {
                ValueList pair;
                for (std::string_view part : base::split(point, ','))
                    if (const auto number = numberIn(part)) pair.push_back({*number});
                list.push_back({std::move(pair)});
            }
            return fitted(p, {std::move(list)});
        }
        case PropertyType::Object:
        case PropertyType::Zone:
        case PropertyType::Points: {
            if (text.empty()) return Value{std::string()};
            auto to = id();
            return to ? Result<Value>(objectLink(*to)) : tl::unexpected(to.error());
        }
        case PropertyType::Record: {
            if (text.empty()) return Value{std::string()};
            auto to = id();
            return to ? Result<Value>(recordLink(*to)) : tl::unexpected(to.error());
        }
        case PropertyType::List: {
            ValueList list;
            for (std::string_view part : base::split(text, '|')) {
                auto one =
                    p.element.empty() ? Result<Value>(Value{std::string(part)}) : parsedValue(p.element[0], part);
                if (!one) return one;
                list.push_back(std::move(*one));
            }
            return fitted(p, {std::move(list)});
        }
    }
    return tl::unexpected(expected(p, "something else"));
}

namespace {

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

}  // namespace

std::string valueText(const Property& p, const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr) return plainText(value);
    if (p.type == PropertyType::Range) return joinedText(*list, "..", plainText);
    if (p.type == PropertyType::Curve) return joinedText(*list, "; ", plainText);
    if (p.type == PropertyType::List)
        return joinedText(*list, " | ", [&](const Value& one) {
            return p.element.empty() ? plainText(one) : valueText(p.element[0], one);
        });
    return plainText(value);
}

namespace {

ObjectId linkIn(const Value& value, std::string_view key) {
    const auto* map = std::get_if<ValueMap>(&value.data);
    if (map == nullptr || map->size() != 1 || map->front().first != key) return {};
    const auto* text = std::get_if<std::string>(&map->front().second.data);
    return text != nullptr ? base::parseObjectId(*text).value_or(ObjectId{}) : ObjectId{};
}

bool eachLink(Value& value, const std::function<void(ObjectId&)>& visit) {
    bool changed = false;
    if (auto* list = std::get_if<ValueList>(&value.data)) {
        for (Value& one : *list) changed = eachLink(one, visit) || changed;
    } else if (const ObjectId before = objectIn(value)) {
        ObjectId now = before;
        visit(now);
        if (now == before) return false;
        value = now ? objectLink(now) : Value{std::string()};
        return true;
    }
    return changed;
}

bool holdsLink(const Value& value) {
    if (const auto* list = std::get_if<ValueList>(&value.data))
        return std::any_of(list->begin(), list->end(), holdsLink);
    return bool(objectIn(value));
}

}  // namespace

ObjectId objectIn(const Value& value) {
    return linkIn(value, "object");
}
ObjectId recordIn(const Value& value) {
    return linkIn(value, "record");
}
Value objectLink(ObjectId id) {
    return {ValueMap{{"object", {base::toText(id)}}}};
}
Value recordLink(ObjectId id) {
    return {ValueMap{{"record", {base::toText(id)}}}};
}

bool eachObjectLink(ValueMap& values, const std::function<void(ObjectId&)>& visit) {
    bool changed = false;
    for (auto& [key, value] : values) changed = eachLink(value, visit) || changed;
    return changed;
}

bool hasObjectLink(const ValueMap& values) {
    return std::any_of(values.begin(), values.end(), [](const auto& entry) { return holdsLink(entry.second); });
}

}  // namespace model
