#pragma once
// Parameters of rules, written short. For this room's sources.
#include "base/math.h"
#include "base/text.h"
#include "model/property.h"

namespace check {

inline model::Property amount(const char* name, const char* label, const char* unit, double usual, double low,
                              double high, const char* help = "") {
    model::Property p;
    p.name = name;
    p.label = label;
    p.unit = unit;
    p.type = model::PropertyType::Number;
    p.fallback = model::Value{usual};
    p.low = low;
    p.high = high;
    p.help = help;
    return p;
}
inline model::Property words(const char* name, const char* label, const char* help, const char* usual = "") {
    model::Property p;
    p.name = name;
    p.label = label;
    p.help = help;
    p.fallback = model::Value{std::string(usual)};
    return p;
}
inline model::Property place(const char* name, const char* label, const base::Vec3& usual) {
    model::Property p;
    p.name = name;
    p.label = label;
    p.unit = "m";
    p.type = model::PropertyType::Vector;
    p.fallback = model::Value{model::ValueList{{usual.x}, {usual.y}, {usual.z}}};
    return p;
}
inline model::Property onOff(const char* name, const char* label, const char* help, bool usual) {
    model::Property p;
    p.name = name;
    p.label = label;
    p.help = help;
    p.type = model::PropertyType::Bool;
    p.fallback = model::Value{usual};
    return p;
}
/// What stands between separators, without spaces round it; what is empty is left out.
inline std::vector<std::string_view> listed(std::string_view text, char separator) {
    auto parts = base::split(text, separator);
    std::erase_if(parts, [](std::string_view part) { return part.empty(); });
    return parts;
}
template <std::same_as<std::string> Gone>
void listed(Gone&&, char) = delete;
inline model::Property except(const char* usual = "") {
    return words("except", "Passes over", "As the Roster takes filters; several after commas", usual);
}

}  // namespace check
