#include "model/kind.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "base/text.h"
#include "model/library.h"
#include "model/value_reader.h"

namespace model {

namespace {

constexpr double kLongestLook = 3600;                                        // seconds
constexpr double kFastestTurn = 3600;                                        // degrees a second
constexpr std::array<std::string_view, 3> kNeeded = {"any", "some", "one"};  // by Needed
constexpr std::array<std::string_view, 2> kButtons = {"reset", "next"};      // by KindButton::Does

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
    ValueReader{map, problems}.colour("tint", a.tint);
    a.badge = textOf(map, "badge");
    a.hides = boolOf(map, "hides", false);
    a.surface = textOf(map, "surface");
    a.image = textOf(map, "image");
    a.everySeconds = numberOf(map, "every", 0);
    if (!(a.everySeconds >= 0 && a.everySeconds <= kLongestLook)) {
        problems.push_back(fmt::format("every: from 0 to {:g} s was expected", kLongestLook));
        a.everySeconds = 0;
    }
    a.turnsDegrees = numberOf(map, "turns", 0);
    if (!(std::abs(a.turnsDegrees) <= kFastestTurn)) {
        problems.push_back(fmt::format("turns: from -{0:g} to {0:g} degrees a second was expected", kFastestTurn));
        a.turnsDegrees = 0;
    }
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
        if (above == nullptr || here == nullptr || (key != "properties" && key != "appearances" && key != "outfits")) {
            setValue(all, key, value);
            continue;
        }
        // One that is said again is changed where it stands; others follow.
        ValueList both = *above;
        for (const Value& one : *here) {
            const auto* map = std::get_if<ValueMap>(&one.data);
            const std::string name = map != nullptr && key != "appearances" ? textOf(*map, "name") : std::string();
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
    const ValueReader read{map, problems};
    read.text("name", kind.name);
    read.text("inherits", kind.inherits);
    read.text("category", kind.category);
    read.text("help", kind.help);
    read.text("icon", kind.icon);
    read.text("mark", kind.colourMark);
    const bool isColour = kind.colourMark.size() == 7 && kind.colourMark[0] == '#' &&
                          kind.colourMark.find_first_not_of("0123456789abcdefABCDEF", 1) == std::string::npos;
    if (!kind.colourMark.empty() && !isColour) {
        read.say("mark", "“" + kind.colourMark + "”; a colour such as #a3a08b was expected.");
        kind.colourMark.clear();
    }
    read.number("smallestSize", 1e-6, 1e5, kind.smallestSize);
    read.number("largestSize", 1e-6, 1e5, kind.largestSize);
    read.number("cost", 0, 1e9, kind.cost);
    read.number("movingCost", 0, 1e9, kind.movingCost);
    read.flag("tints", kind.tints);
    read.flag("mirrors", kind.mirrors);
    read.flag("takesImages", kind.takesImages);
    read.flag("isMoved", kind.isMoved);
    read.word("needed", kNeeded, kind.needed);
    kind.imageSlots = textsOf(map, "imageSlots");
    kind.facts = textsOf(map, "facts");
    read.each("buttons", [&](const ValueMap& entry) {
        KindButton button;
        const ValueReader one{entry, problems};
        one.word("does", kButtons, button.does);
        one.text("property", button.property);
        one.text("label", button.label);
        kind.buttons.push_back(std::move(button));
    });
    read.each("properties", [&](const ValueMap& entry) {
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
    read.each("appearances",
              [&](const ValueMap& entry) { kind.appearances.push_back(appearanceFrom(entry, problems)); });
    read.each("outfits", [&](const ValueMap& entry) {
        std::vector<std::string> own;
        auto outfit = outfitFrom(entry, own);
        const std::string name = textOf(entry, "name", "?");
        for (const std::string& problem : own) problems.push_back(fmt::format("outfits.{}.{}", name, problem));
        if (outfit && kind.outfit(outfit->name) != nullptr)
            problems.push_back(fmt::format("outfits.{}: Is there twice.", name));
        else if (outfit)
            kind.outfits.push_back(std::move(*outfit));
    });
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
    if (!kind.mirrors) map.emplace_back("mirrors", Value{false});
    if (kind.takesImages) map.emplace_back("takesImages", Value{true});
    if (kind.isMoved) map.emplace_back("isMoved", Value{true});
    if (kind.needed != Needed::Any) text("needed", std::string(kNeeded[static_cast<std::size_t>(kind.needed)]));
    ValueList properties, appearances, buttons, outfits;
    auto texts = [&](const char* key, const std::vector<std::string>& all) {
        ValueList list;
        for (const std::string& one : all) list.push_back({one});
        if (!list.empty()) map.emplace_back(key, Value{std::move(list)});
    };
    texts("imageSlots", kind.imageSlots);
    texts("facts", kind.facts);
    for (const KindButton& b : kind.buttons) {
        ValueMap one = {{"label", {b.label}}, {"does", {std::string(kButtons[static_cast<std::size_t>(b.does)])}}};
        if (!b.property.empty()) one.emplace_back("property", Value{b.property});
        buttons.push_back({std::move(one)});
    }
    if (!buttons.empty()) map.emplace_back("buttons", Value{std::move(buttons)});
    for (const Property& p : kind.properties) properties.push_back({toValues(p)});
    for (const Appearance& a : kind.appearances) {
        ValueMap one;
        if (!a.when.empty()) one.emplace_back("when", Value{a.when});
        if (!a.item.empty()) one.emplace_back("item", Value{a.item});
        if (a.tint) one.emplace_back("tint", Value{ValueList{{a.tint->x}, {a.tint->y}, {a.tint->z}}});
        if (!a.badge.empty()) one.emplace_back("badge", Value{a.badge});
        if (a.hides) one.emplace_back("hides", Value{true});
        if (!a.surface.empty()) one.emplace_back("surface", Value{a.surface});
        if (!a.image.empty()) one.emplace_back("image", Value{a.image});
        if (a.everySeconds > 0) one.emplace_back("every", Value{a.everySeconds});
        if (a.turnsDegrees != 0) one.emplace_back("turns", Value{a.turnsDegrees});
        appearances.push_back({std::move(one)});
    }
    if (!properties.empty()) map.emplace_back("properties", Value{std::move(properties)});
    if (!appearances.empty()) map.emplace_back("appearances", Value{std::move(appearances)});
    for (const Outfit& outfit : kind.outfits) outfits.push_back({toValues(outfit)});
    if (!outfits.empty()) map.emplace_back("outfits", Value{std::move(outfits)});
    if (!kind.facetValues.empty()) map.emplace_back("facets", Value{kind.facetValues});
    return map;
}

bool isOn(const Appearance& appearance, double seconds) {
    return !(appearance.everySeconds > 0) || std::fmod(seconds, appearance.everySeconds) < appearance.everySeconds / 2;
}

Appearance appearanceOf(const Kind& kind, const ValueMap& values, double seconds) {
    Appearance all;
    for (const Appearance& a : kind.appearances) {
        if ((!a.when.empty() && !a.condition) || !isOn(a, seconds)) continue;
        const Property* property = a.condition ? kind.property(a.condition->property) : nullptr;
        Value room;
        const Value* value = property != nullptr ? valueOr(*property, values, room)
                             : a.condition       ? valueOf(values, a.condition->property)
                                                 : nullptr;
        if (a.condition && !holds(*a.condition, value)) continue;
        if (!a.item.empty()) all.item = a.item;
        if (a.tint) all.tint = a.tint;
        if (!a.badge.empty()) all.badge = a.badge;
        if (!a.surface.empty()) all.surface = a.surface;
        if (!a.image.empty()) all.image = a.image;
        if (a.turnsDegrees != 0) all.turnsDegrees = a.turnsDegrees;
        all.hides = all.hides || a.hides;
    }
    return all;
}

const Value* valueOr(const Property& property, const ValueMap& values, Value& room) {
    if (const Value* own = valueOf(values, property.name)) return own;
    room = defaultOf(property);
    return &room;
}

bool SizeLimits::allows(double factor) const {
    return std::abs(factor) >= low - 1e-9 && std::abs(factor) <= high + 1e-9;
}

double SizeLimits::nearest(double factor) const {
    return std::copysign(std::clamp(std::abs(factor), low, std::max(low, high)), factor);
}

SizeLimits sizesOf(const Kind* kind, const Item* item) {
    SizeLimits limits = kind != nullptr ? SizeLimits{kind->smallestSize, kind->largestSize} : SizeLimits{};
    if (item != nullptr && item->smallestSize) limits.low = *item->smallestSize;
    if (item != nullptr && item->largestSize) limits.high = *item->largestSize;
    // What only one of the two says may lie beyond the other's.
    if (item != nullptr && item->smallestSize && !item->largestSize) limits.high = std::max(limits.high, limits.low);
    if (item != nullptr && item->largestSize && !item->smallestSize) limits.low = std::min(limits.low, limits.high);
    return limits;
}

std::string sizesText(const Kind* kind, const Item* item) {
    const bool own = item != nullptr && (item->smallestSize || item->largestSize);
    const std::string what = own               ? fmt::format("The item {}", item->label)
                             : kind != nullptr ? fmt::format("The kind {}", kind->name)
                                               : std::string("A thing");
    const SizeLimits limits = sizesOf(kind, item);
    if (limits.isFixed()) return what + " may not be sized";
    return fmt::format("{} may be sized from {} to {}", what, base::shortest(limits.low), base::shortest(limits.high));
}

double costOf(const Kind* kind, const Item* item) {
    if (item != nullptr && item->cost) return *item->cost;
    return kind != nullptr ? kind->cost : 0;
}

const Outfit* Kind::outfit(std::string_view wanted) const {
    const auto place = std::find_if(outfits.begin(), outfits.end(), [&](const Outfit& o) { return o.name == wanted; });
    return place == outfits.end() ? nullptr : &*place;
}

std::optional<Outfit> outfitFrom(const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Outfit outfit;
    read.text("name", outfit.name);
    if (outfit.name.empty()) {
        problems.emplace_back("outfits: One has no name.");
        return std::nullopt;
    }
    read.text("item", outfit.item);
    read.colour("tint", outfit.tint);
    const auto members = [&](const char* key, const auto& take) {
        const Value* value = valueOf(map, key);
        const auto* own = value != nullptr ? std::get_if<ValueMap>(&value->data) : nullptr;
        if (value != nullptr && own == nullptr) read.say(key, "is no object.");
        for (const auto& [name, one] : own != nullptr ? *own : ValueMap{}) take(name, one);
    };
    members("values", [&](const std::string& name, const Value& value) { setValue(outfit.values, name, value); });
    members("surfaces", [&](const std::string& slot, const Value& value) {
        if (const auto* text = std::get_if<std::string>(&value.data))
            outfit.surfaces[slot] = *text;
        else
            read.say("surfaces", "“" + slot + "”: a surface's name was expected.");
    });
    constexpr std::array<std::string_view, 5> known = {"name", "item", "tint", "values", "surfaces"};
    outfit.unknown = read.rest(known);
    return outfit;
}

ValueMap toValues(const Outfit& outfit) {
    ValueMap map = {{"name", {outfit.name}}}, surfaces;
    if (!outfit.values.empty()) map.emplace_back("values", Value{outfit.values});
    for (const auto& [slot, surface] : outfit.surfaces) surfaces.emplace_back(slot, Value{surface});
    if (!surfaces.empty()) map.emplace_back("surfaces", Value{std::move(surfaces)});
    if (!outfit.item.empty()) map.emplace_back("item", Value{outfit.item});
    if (outfit.tint) map.emplace_back("tint", vectorValue(*outfit.tint));
    map.insert(map.end(), outfit.unknown.begin(), outfit.unknown.end());
    return map;
}

}  // namespace model
