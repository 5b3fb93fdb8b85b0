#include "model/property.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

#include "base/text.h"
#include "model/names.h"
#include "model/property_types.h"

namespace model {

using base::Result;

namespace {

/// How a condition is written; of two that begin alike the longer first.
constexpr std::pair<std::string_view, Condition::Op> kConditionSigns[] = {
    {"!=", Condition::Op::IsNot}, {"<=", Condition::Op::AtMost}, {">=", Condition::Op::AtLeast},
    {"=", Condition::Op::Is},     {"<", Condition::Op::Less},    {">", Condition::Op::More}};

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

}  // namespace

std::string_view typeName(PropertyType type) {
    return traits(type).name;
}

bool linksObject(PropertyType type) {
    return traits(type).linksObject;
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
    const auto types = propertyTypes();
    const auto place =
        std::find_if(types.begin(), types.end(), [&](const TypeTraits& one) { return one.name == type; });
    if (place == types.end()) {
        problems.push_back(fmt::format("type: “{}” is no type of property.", type));
        return std::nullopt;
    }
    p.type = static_cast<PropertyType>(place - types.begin());
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
