#include "model/guise.h"

#include <array>

#include "model/scene_fields.h"
#include "model/value_reader.h"

namespace model {
namespace {

/// The members of an object under a key; a null pointer to `take` is never given.
template <class Take>
void eachMember(const ValueReader& read, std::string_view key, const Take& take) {
    const Value* value = valueOf(read.map, key);
    if (value == nullptr) return;
    const auto* map = std::get_if<ValueMap>(&value->data);
    if (map == nullptr) return read.say(key, "is no object.");
    for (const auto& [name, one] : *map) take(name, one);
}

void readSwaps(const ValueReader& read, std::string_view key, Guise::Swaps& swaps) {
    eachMember(read, key, [&](const std::string& from, const Value& to) {
        const auto* text = std::get_if<std::string>(&to.data);
        if (text == nullptr || text->empty())
            read.say(key, "“" + from + "” has no name to be shown in its place.");
        else
            swaps[from] = *text;
    });
}

Value valueOfSwaps(const Guise::Swaps& swaps) {
    ValueMap map;
    for (const auto& [from, to] : swaps) map.emplace_back(from, Value{to});
    return {std::move(map)};
}

}  // namespace

Guise guiseFrom(const std::string& name, const ValueMap& map, std::vector<std::string>& problems) {
    const ValueReader read{map, problems};
    Guise guise;
    guise.name = name;
    readSwaps(read, "surfaces", guise.surfaces);
    readSwaps(read, "items", guise.items);
    eachMember(read, "tints", [&](const std::string& kind, const Value& value) {
        if (const auto colour = vectorIn<base::Vec3>(value); colour && base::isFinite(*colour))
            guise.tints[kind] = glm::clamp(*colour, 0.0, 1.0);
        else
            read.say("tints", "“" + kind + "”: three numbers from 0 to 1 were expected.");
    });
    eachMember(read, "light", [&](const std::string& key, const Value& value) {
        SceneSettings usual;
        const Member* member = sceneFields().find(key);
        if (member == nullptr)
            setValue(guise.light, key, value);  // of a newer version
        else if (auto set = setMember(sceneFields(), &usual, *member, value); !set)
            read.say("light." + key, set.error().message);
        else
            setValue(guise.light, key, value);
    });
    constexpr std::array<std::string_view, 4> known = {"surfaces", "items", "tints", "light"};
    guise.unknown = read.rest(known);
    return guise;
}

ValueMap toValues(const Guise& guise) {
    ValueMap map, tints;
    if (!guise.surfaces.empty()) map.emplace_back("surfaces", valueOfSwaps(guise.surfaces));
    if (!guise.items.empty()) map.emplace_back("items", valueOfSwaps(guise.items));
    for (const auto& [kind, colour] : guise.tints) tints.emplace_back(kind, vectorValue(colour));
    if (!tints.empty()) map.emplace_back("tints", Value{std::move(tints)});
    if (!guise.light.empty()) map.emplace_back("light", Value{guise.light});
    map.insert(map.end(), guise.unknown.begin(), guise.unknown.end());
    return map;
}

}  // namespace model
