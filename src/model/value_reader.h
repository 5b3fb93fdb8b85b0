#pragma once
// Reading the members of a map of values, naming what is not as expected. For kinds, facets and surfaces.
#include <algorithm>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "base/math.h"
#include "base/text.h"
#include "model/data.h"

namespace model {

struct ValueReader {
    const ValueMap& map;
    std::vector<std::string>& problems;  ///< "key: what was expected"

    void text(std::string_view key, std::string& out) const {
        if (const Value* value = valueOf(map, key)) take(key, *value, out, "text");
    }
    void flag(std::string_view key, bool& out) const {
        if (const Value* value = valueOf(map, key)) take(key, *value, out, "true or false");
    }
    void number(std::string_view key, double low, double high, double& out) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return;
        double room = 0;
        const double* given = asNumber(*value, room);
        if (given != nullptr && *given >= low && *given <= high)
            out = *given;
        else
            say(key, "a number" + between(low, high) + " was expected.");
    }
    /// So many numbers as the vector has; true if they are there and each is in range.
    template <class V>
    bool vector(std::string_view key, double low, double high, V& out) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return false;
        const auto* list = std::get_if<ValueList>(&value->data);
        V read{};
        bool fine = list != nullptr && list->size() == static_cast<std::size_t>(V::length());
        for (glm::length_t k = 0; fine && k < V::length(); ++k) {
            double room = 0;
            const double* given = asNumber((*list)[static_cast<std::size_t>(k)], room);
            fine = given != nullptr && *given >= low && *given <= high;
            if (fine) read[k] = *given;
        }
        if (fine)
            out = read;
        else
            say(key, std::to_string(V::length()) + " numbers" + between(low, high) + " were expected.");
        return fine;
    }
    /// Linear RGB.
    void colour(std::string_view key, std::optional<base::Vec3>& out) const {
        base::Vec3 rgb{1.0};
        if (vector(key, 0, 1, rgb)) out = rgb;
    }
    /// One of some words, by its place among them.
    template <class Enum>
    void word(std::string_view key, std::span<const std::string_view> words, Enum& out) const {
        std::string given;
        const Value* value = valueOf(map, key);
        if (value == nullptr || !take(key, *value, given, "text")) return;
        std::string wanted;
        for (std::size_t i = 0; i < words.size(); ++i) {
            if (words[i] == given) return out = static_cast<Enum>(i), void();
            wanted.append(i == 0 ? "" : i + 1 == words.size() ? " or " : ", ").append(words[i]);
        }
        say(key, "“" + given + "”; " + wanted + " was expected.");
    }
    /// A list of maps, each read by `read`.
    template <class Read>
    void each(std::string_view key, const Read& read) const {
        const Value* value = valueOf(map, key);
        if (value == nullptr) return;
        const auto* list = std::get_if<ValueList>(&value->data);
        if (list == nullptr) return say(key, "is no list.");
        for (const Value& one : *list)
            if (const auto* entry = std::get_if<ValueMap>(&one.data))
                read(*entry);
            else
                say(key, "holds something that is no object.");
    }
    /// What none of these keys is for.
    ValueMap rest(std::span<const std::string_view> known) const {
        ValueMap others;
        for (const auto& entry : map)
            if (std::find(known.begin(), known.end(), entry.first) == known.end()) others.push_back(entry);
        return others;
    }

    void say(std::string_view key, const std::string& what) const {
        problems.push_back(std::string(key) + ": " + what);
    }

  private:
    static std::string between(double low, double high) {
        return " from " + base::shortest(low) + " to " + base::shortest(high);
    }
    template <class T>
    bool take(std::string_view key, const Value& value, T& out, std::string_view wanted) const {
        const auto* given = std::get_if<T>(&value.data);
        if (given != nullptr)
            out = *given;
        else
            say(key, std::string(wanted) + " was expected.");
        return given != nullptr;
    }
};

/// So many numbers as the vector has; nothing: it is something else.
template <class V>
std::optional<V> vectorIn(const Value& value) {
    const auto* list = std::get_if<ValueList>(&value.data);
    if (list == nullptr || list->size() != static_cast<std::size_t>(V::length())) return std::nullopt;
    V read{};
    for (glm::length_t k = 0; k < V::length(); ++k) {
        double room = 0;
        const double* given = asNumber((*list)[static_cast<std::size_t>(k)], room);
        if (given == nullptr) return std::nullopt;
        read[k] = *given;
    }
    return read;
}

template <class V>
Value vectorValue(const V& v) {
    ValueList list;
    for (glm::length_t k = 0; k < V::length(); ++k) list.push_back({v[k]});
    return {std::move(list)};
}

}  // namespace model
