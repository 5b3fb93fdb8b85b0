#include "model/kind.h"

#include <fmt/format.h>

#include <algorithm>

namespace model {

namespace {

/// A list of maps under a key, each read by `read`.
template <class Read>
void eachMap(const ValueMap& map, std::string_view key, std::vector<std::string>& problems, const Read& read) {
    const Value* value = valueOf(map, key);
    if (value == nullptr) return;
    const auto* list = std::get_if<ValueList>(&value->data);
    if (list == nullptr) return problems.push_back(fmt::format("{}: Is no list.", key)), void();
    for (const Value& one : *list)
        if (const auto* entry = std::get_if<ValueMap>(&one.data))
            read(*entry);
        else
            problems.push_back(fmt::format("{}: Holds something that is no object.", key));
}

struct Reader {
    const ValueMap& map;
    std::vector<std::string>& problems;

    void text(std::string_view key, std::string& out) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return;
        if (const auto* given = std::get_if<std::string>(&value->data))
            out = *given;
        else
            problems.push_back(fmt::format("{}: Is no text.", key));
    }
    void number(std::string_view key, double low, double high, double& out) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return;
        double room = 0;
        const double* given = asNumber(*value, room);
        if (given != nullptr && *given >= low && *given <= high)
            out = *given;
        else
            problems.push_back(fmt::format("{}: A number from {} to {} was expected.", key, low, high));
    }
    void flag(std::string_view key, bool& out) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return;
        if (const auto* given = std::get_if<bool>(&value->data))
            out = *given;
        else
            problems.push_back(fmt::format("{}: true or false was expected.", key));
    }
};

std::optional<base::Vec3> colourIn(const ValueMap& map, std::string_view key) {
    const Value* value = valueOf(map, key);
    Property rgb;
    rgb.type = PropertyType::Colour;
    if (value == nullptr) return std::nullopt;
    auto fine = fitted(rgb, *value);
    if (!fine) return std::nullopt;
    base::Vec3 colour;
    for (int k = 0; k < 3; ++k)
        colour[k] = std::get<double>(std::get<ValueList>(fine->data)[static_cast<std::size_t>(k)].data);
    return colour;
}

Appearance appearanceFrom(const ValueMap& map, std::vector<std::string>& problems) {
    Appearance a;
    a.when = textOf(map, "when");
    if (!a.when.empty()) {
        if (auto condition = parseCondition(a.when))
            a.condition = std::move(*condition);
        else
            problems.push_back("when: " + condition.error().message);
    }
    a.item = textOf(map, "item");
    a.tint = colourIn(map, "tint");
    a.badge = textOf(map, "badge");
    a.hides = boolOf(map, "hides", false);
    return a;
}

}  // namespace

const Property* Kind::property(std::string_view wanted) const {
    auto place =
        std::find_if(properties.begin(), properties.end(), [&](const Property& p) { return p.name == wanted; });
    return place == properties.end() ? nullptr : &*place;
}

ValueMap inherited(const ValueMap& parent, const ValueMap& own) {
    ValueMap all = parent;
    eraseValue(all, "name");
    eraseValue(all, "needed");  // a hundred kinds of lantern are not each needed once
    for (const auto& [key, value] : own) {
        const Value* held = valueOf(all, key);
        const auto* above = held != nullptr ? std::get_if<ValueList>(&held->data) : nullptr;
        const auto* here = std::get_if<ValueList>(&value.data);
        if (above == nullptr || here == nullptr || (key != "properties" && key != "appearances")) {
            setValue(all, key, value);
            continue;
        }
        // One that is said again is changed where it stands; others follow.
        ValueList both = *above;
        for (const Value& one : *here) {
            const auto* map = std::get_if<ValueMap>(&one.data);
            const std::string name = map != nullptr && key == "properties" ? textOf(*map, "name") : std::string();
            auto place = std::find_if(both.begin(), both.end(), [&](const Value& other) {
                const auto* o = std::get_if<ValueMap>(&other.data);
                return o != nullptr && !name.empty() && textOf(*o, "name") == name;
            });
            if (place != both.end())
                *place = one;
            else
                both.push_back(one);
        }
        setValue(all, key, {std::move(both)});
    }
    return all;
}

Kind kindFrom(const ValueMap& map, std::vector<std::string>& problems) {
    Kind kind;
    const Reader read{map, problems};
    read.text("name", kind.name);
    read.text("inherits", kind.inherits);
    read.text("category", kind.category);
    read.text("help", kind.help);
    read.text("icon", kind.icon);
    read.text("mark", kind.colourMark);
    read.number("smallestSize", 1e-6, 1e5, kind.smallestSize);
    read.number("largestSize", 1e-6, 1e5, kind.largestSize);
    read.number("cost", 0, 1e9, kind.cost);
    read.number("movingCost", 0, 1e9, kind.movingCost);
    read.flag("tints", kind.tints);
    read.flag("takesImages", kind.takesImages);
    read.flag("isMoved", kind.isMoved);
    std::string needed = "any";
    read.text("needed", needed);
    if (needed == "one")
        kind.needed = Needed::ExactlyOne;
    else if (needed == "some")
        kind.needed = Needed::AtLeastOne;
    else if (needed != "any")
        problems.push_back(fmt::format("needed: “{}”; any, some or one was expected.", needed));
    eachMap(map, "properties", problems, [&](const ValueMap& entry) {
        std::vector<std::string> own;
        auto property = propertyFrom(entry, own);
        const std::string name = textOf(entry, "name", "?");
        for (const std::string& problem : own) problems.push_back(fmt::format("properties.{}.{}", name, problem));
        if (!property) return;
        if (property->name.empty())
            problems.emplace_back("properties: One has no name.");
        else if (kind.property(property->name) != nullptr)
            problems.push_back(fmt::format("properties.{}: Is there twice.", property->name));
        else
            kind.properties.push_back(std::move(*property));
    });
    eachMap(map, "appearances", problems,
            [&](const ValueMap& entry) { kind.appearances.push_back(appearanceFrom(entry, problems)); });
    if (const Value* facets = valueOf(map, "facets")) {
        if (const auto* values = std::get_if<ValueMap>(&facets->data))
            kind.facetValues = *values;
        else
            problems.emplace_back("facets: Is no object; one member per facet was expected.");
    }
    return kind;
}

ValueMap toValues(const Kind& kind) {
    ValueMap map = {{"name", {kind.name}}, {"category", {kind.category}}};
    auto text = [&](const char* key, const std::string& value) {
        if (!value.empty()) map.emplace_back(key, Value{value});
    };
    text("inherits", kind.inherits);
    text("help", kind.help);
    text("icon", kind.icon);
    text("mark", kind.colourMark);
    map.emplace_back("smallestSize", Value{kind.smallestSize});
    map.emplace_back("largestSize", Value{kind.largestSize});
    map.emplace_back("cost", Value{kind.cost});
    if (kind.movingCost != 0) map.emplace_back("movingCost", Value{kind.movingCost});
    if (!kind.tints) map.emplace_back("tints", Value{false});
    if (kind.takesImages) map.emplace_back("takesImages", Value{true});
    if (kind.isMoved) map.emplace_back("isMoved", Value{true});
    text("needed", kind.needed == Needed::ExactlyOne ? "one" : kind.needed == Needed::AtLeastOne ? "some" : "");
    ValueList properties, appearances;
    for (const Property& p : kind.properties) properties.push_back({toValues(p)});
    for (const Appearance& a : kind.appearances) {
        ValueMap one;
        if (!a.when.empty()) one.emplace_back("when", Value{a.when});
        if (!a.item.empty()) one.emplace_back("item", Value{a.item});
        if (a.tint) one.emplace_back("tint", Value{ValueList{{a.tint->x}, {a.tint->y}, {a.tint->z}}});
        if (!a.badge.empty()) one.emplace_back("badge", Value{a.badge});
        if (a.hides) one.emplace_back("hides", Value{true});
        appearances.push_back({std::move(one)});
    }
    if (!properties.empty()) map.emplace_back("properties", Value{std::move(properties)});
    if (!appearances.empty()) map.emplace_back("appearances", Value{std::move(appearances)});
    if (!kind.facetValues.empty()) map.emplace_back("facets", Value{kind.facetValues});
    return map;
}

Appearance appearanceOf(const Kind& kind, const ValueMap& values) {
    Appearance all;
    for (const Appearance& a : kind.appearances) {
        if (!a.when.empty() && !a.condition) continue;
        const Property* property = a.condition ? kind.property(a.condition->property) : nullptr;
        Value room;
        const Value* value = property != nullptr ? valueOr(*property, values, room)
                             : a.condition       ? valueOf(values, a.condition->property)
                                                 : nullptr;
        if (a.condition && !holds(*a.condition, value)) continue;
        if (!a.item.empty()) all.item = a.item;
        if (a.tint) all.tint = a.tint;
        if (!a.badge.empty()) all.badge = a.badge;
        all.hides = all.hides || a.hides;
    }
    return all;
}

const Value* valueOr(const Property& property, const ValueMap& values, Value& room) {
    if (const Value* own = valueOf(values, property.name)) return own;
    room = defaultOf(property);
    return &room;
}

}  // namespace model
