#pragma once
// How a facet's source describes its struct, member by member. Sources in model/facets include this, tests that add a
// facet of their own, and what else is filled in by fields.
#include <concepts>
#include <type_traits>
#include <utility>

#include "base/math.h"
#include "model/facet.h"
#include "model/value_reader.h"

namespace model {

/// Metres and factors that cannot be nothing: the least that is taken. Messages call it "above 0".
inline constexpr double kAboveNothing = 1e-9;
inline constexpr double kFarthestMetres = 1e7, kLargestMetres = 1e5;

template <class T>
class FieldsOf {
  public:
    Member& real(const char* key, const char* label, double T::*m, const char* unit, double low, double high) {
        return numeric(key, label, unit, low, high, PropertyType::Number, of(m));
    }
    /// Degrees.
    Member& angle(const char* key, const char* label, double T::*m, double low, double high) {
        return numeric(key, label, "°", low, high, PropertyType::Angle, of(m));
    }
    Member& real(const char* key, const char* label, std::optional<double> T::*m, const char* unit, double low,
                 double high) {
        return optional(numeric(key, label, unit, low, high, PropertyType::Number, of(m)), m);
    }
    template <class Whole>
    Member& whole(const char* key, const char* label, Whole T::*m, double low, double high) {
        Member& made = numeric(key, label, "", low, high, PropertyType::Integer, {});
        made.get = [m](const void* t) { return std::optional(Value{static_cast<std::int64_t>(self(t).*m)}); };
        made.set = [m](void* t, const Value& v) {
            const auto* n = std::get_if<std::int64_t>(&v.data);
            if (n != nullptr) self(t).*m = static_cast<Whole>(*n);
            return n != nullptr;
        };
        return made;
    }
    Member& flag(const char* key, const char* label, bool T::*m) { return plain(key, label, PropertyType::Bool, m); }
    Member& text(const char* key, const char* label, std::string T::*m, PropertyType type = PropertyType::Text) {
        return plain(key, label, type, m);
    }
    Member& vector(const char* key, const char* label, base::Vec3 T::*m, const char* unit, double low, double high) {
        return numbers(key, label, unit, low, high, PropertyType::Vector, m);
    }
    Member& vector(const char* key, const char* label, std::optional<base::Vec3> T::*m, const char* unit, double low,
                   double high) {
        return optional(numbers(key, label, unit, low, high, PropertyType::Vector, m), m);
    }
    Member& colour(const char* key, const char* label, base::Vec3 T::*m) {
        return numbers(key, label, "", 0, 1, PropertyType::Colour, m);
    }
    Member& colour(const char* key, const char* label, std::optional<base::Vec3> T::*m) {
        return optional(numbers(key, label, "", 0, 1, PropertyType::Colour, m), m);
    }
    Member& angle(const char* key, const char* label, std::optional<double> T::*m, double low, double high) {
        return optional(numeric(key, label, "°", low, high, PropertyType::Angle, of(m)), m);
    }
    /// One of some words: the enumerators in their order.
    template <class Enum>
    Member& word(const char* key, const char* label, Enum T::*m, std::vector<std::string> words) {
        Member& made = add(key, label, PropertyType::Choice);
        for (const std::string& w : words) made.property.choices.push_back({w, w});
        made.get = [m, words](const void* t) {
            return std::optional(Value{words[static_cast<std::size_t>(self(t).*m)]});
        };
        made.set = [m, words](void* t, const Value& v) {
            const auto* given = std::get_if<std::string>(&v.data);
            for (std::size_t i = 0; given != nullptr && i < words.size(); ++i)
                if (words[i] == *given) return self(t).*m = static_cast<Enum>(i), true;
            return false;
        };
        return made;
    }
    /// A link to an object.
    Member& link(const char* key, const char* label, base::ObjectId T::*m) {
        Member& made = add(key, label, PropertyType::Object);
        made.get = [m](const void* t) {
            return std::optional(self(t).*m ? objectLink(self(t).*m) : Value{std::string()});
        };
        made.set = [m](void* t, const Value& v) { return self(t).*m = objectIn(v), true; };
        return made;
    }
    /// A list of structs.
    template <class P>
    Member& parts(const char* key, const char* label, std::vector<P> T::*m, const Fields& fields) {
        Member& made = add(key, label, PropertyType::List);
        made.always = true;
        made.inField = false;
        made.parts = {&fields,
                      false,
                      [m](const void* t) { return (self(t).*m).size(); },
                      [m](const void* t, std::size_t i) -> const void* { return &(self(t).*m)[i]; },
                      [m](void* t) -> void* { return &(self(t).*m).emplace_back(); },
                      [m](void* t) { (self(t).*m).clear(); }};
        return made;
    }
    /// What follows from the members: a number that fields, scripts and tables have, and files have not.
    Member& derived(const char* key, const char* label, const char* unit, double low, double high,
                    std::function<double(const T&)> get, std::function<void(T&, double)> set) {
        Member& made = numeric(key, label, unit, low, high, PropertyType::Number, {});
        made.stored = false;
        made.get = [get](const void* t) { return std::optional(Value{get(self(t))}); };
        made.set = [set](void* t, const Value& v) {
            double room = 0;
            const double* n = asNumber(v, room);
            if (n != nullptr) set(self(t), *n);
            return n != nullptr;
        };
        return made;
    }
    /// The same, a text.
    Member& derivedText(const char* key, const char* label, std::function<std::string(const T&)> get,
                        std::function<void(T&, const std::string&)> set) {
        Member& made = add(key, label, PropertyType::Text);
        made.stored = false;
        made.get = [get](const void* t) { return std::optional(Value{get(self(t))}); };
        made.set = [set](void* t, const Value& v) {
            const auto* text = std::get_if<std::string>(&v.data);
            if (text != nullptr) set(self(t), *text);
            return text != nullptr;
        };
        return made;
    }
    Member& add(const char* key, const char* label, PropertyType type) {
        Member& made = fields_.members.emplace_back();
        made.property.name = key;
        made.property.label = label;
        made.property.type = type;
        return made;
    }
    /// The property of the last one.
    Property& last() { return fields_.members.back().property; }
    /// When a member means something.
    static std::function<bool(const void*)> when(std::function<bool(const T&)> shown) {
        return [shown](const void* t) { return shown(self(t)); };
    }

    Fields done() {
        if constexpr (requires(T t) {
                          { t.unknown } -> std::same_as<Unknown&>;
                      })
            fields_.unknown = [](void* t) -> Unknown& { return self(t).unknown; };
        const T fresh{};
        for (Member& m : fields_.members)
            if (m.parts.fields == nullptr) m.property.fallback = m.get(&fresh);
        return std::move(fields_);
    }

    static T& self(void* t) { return *static_cast<T*>(t); }
    static const T& self(const void* t) { return *static_cast<const T*>(t); }

  private:
    struct Access {
        std::function<std::optional<Value>(const void*)> get;
        std::function<bool(void*, const Value&)> set;
    };
    template <class Number>
    static Access of(Number T::*m) {
        return {[m](const void* t) -> std::optional<Value> {
                    if constexpr (std::is_same_v<Number, double>)
                        return Value{self(t).*m};
                    else
                        return self(t).*m ? std::optional(Value{*(self(t).*m)}) : std::nullopt;
                },
                [m](void* t, const Value& v) {
                    double room = 0;
                    const double* n = asNumber(v, room);
                    if (n != nullptr) self(t).*m = *n;
                    return n != nullptr;
                }};
    }
    Member& numeric(const char* key, const char* label, const char* unit, double low, double high, PropertyType type,
                    Access access) {
        Member& made = add(key, label, type);
        made.property.unit = unit;
        made.property.low = low;
        made.property.high = high;
        made.get = std::move(access.get);
        made.set = std::move(access.set);
        return made;
    }
    template <class Held>
    static Member& optional(Member& made, std::optional<Held> T::*m) {
        made.optional = true;
        made.unset = [m](void* t) { (self(t).*m).reset(); };
        return made;
    }
    template <class Held>
    Member& plain(const char* key, const char* label, PropertyType type, Held T::*m) {
        Member& made = add(key, label, type);
        made.get = [m](const void* t) { return std::optional(Value{self(t).*m}); };
        made.set = [m](void* t, const Value& v) {
            const auto* given = std::get_if<Held>(&v.data);
            if (given != nullptr) self(t).*m = *given;
            return given != nullptr;
        };
        return made;
    }
    template <class Held>
    Member& numbers(const char* key, const char* label, const char* unit, double low, double high, PropertyType type,
                    Held T::*m) {
        Member& made = numeric(key, label, unit, low, high, type, {});
        made.get = [m](const void* t) -> std::optional<Value> {
            if constexpr (std::is_same_v<Held, base::Vec3>)
                return vectorValue(self(t).*m);
            else
                return self(t).*m ? std::optional(vectorValue(*(self(t).*m))) : std::nullopt;
        };
        made.set = [m](void* t, const Value& v) {
            const auto read = vectorIn<base::Vec3>(v);
            if (read) self(t).*m = *read;
            return read.has_value();
        };
        return made;
    }

    Fields fields_;
};

/// The type of a facet, once its members are described.
template <class T>
FacetType facetTypeOf(const char* key, const char* label, const char* help, Fields fields) {
    FacetType type;
    type.key = key;
    type.label = label;
    type.help = help;
    type.fields = std::move(fields);
    type.make = []() -> std::shared_ptr<void> { return std::make_shared<T>(); };
    type.copy = [](const void* t) -> std::shared_ptr<void> { return std::make_shared<T>(*static_cast<const T*>(t)); };
    type.equal = [](const void* a, const void* b) { return *static_cast<const T*>(a) == *static_cast<const T*>(b); };
    return type;
}

}  // namespace model
