#include "io/object_members.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/text.h"
#include "io/object_line.h"

namespace io {
namespace {

constexpr double kLargestScale = 1e5;

}  // namespace

bool usablePosition(const base::Vec3& p) {
    return std::abs(p.x) <= kFarthestMetres && std::abs(p.y) <= kFarthestMetres && std::abs(p.z) <= kFarthestMetres;
}
bool usableScale(const base::Vec3& s) {
    for (int i = 0; i < 3; ++i)
        if (std::abs(s[i]) < 1e-6 || std::abs(s[i]) > kLargestScale) return false;
    return true;
}
bool isUnit(const base::Quat& q) {
    return std::abs(q.x * q.x + q.y * q.y + q.z * q.z + q.w * q.w - 1.0) < 1e-6;
}

std::string_view typeName(dom::element_type type) {
    switch (type) {
        case dom::element_type::ARRAY: return "a list";
        case dom::element_type::OBJECT: return "an object";
        case dom::element_type::STRING: return "text";
        case dom::element_type::BOOL: return "true or false";
        case dom::element_type::NULL_VALUE: return "null";
        default: return "a number";
    }
}

model::Value toValue(dom::element e) {
    switch (e.type()) {
        case dom::element_type::BOOL: return {bool(e)};
        case dom::element_type::INT64: return {std::int64_t(e)};
        case dom::element_type::UINT64: return {double(std::uint64_t(e))};
        case dom::element_type::DOUBLE: return {double(e)};
        case dom::element_type::STRING: return {base::withoutControl(std::string_view(e))};
        case dom::element_type::ARRAY: {
            model::ValueList list;
            for (dom::element child : dom::array(e)) list.push_back(toValue(child));
            return {std::move(list)};
        }
        case dom::element_type::OBJECT: {
            model::ValueMap map;
            for (auto member : dom::object(e)) map.emplace_back(std::string(member.key), toValue(member.value));
            return {std::move(map)};
        }
        default: return {std::string()};
    }
}

void appendUnknown(std::string& out, std::string_view key, dom::element value) {
    if (!out.empty()) out += ',';
    base::appendJsonString(out, key);
    out += ':';
    out += simdjson::minify(value);
}

void Members::note(std::string_view key, std::string message) {
    damage_.push_back({file_, line_, std::string(key), std::move(message)});
}

void Members::wrongType(std::string_view key, dom::element e, std::string_view wanted) {
    note(key, fmt::format("Is {}; {} was expected.", typeName(e.type()), wanted));
}

bool Members::text(std::string_view key, dom::element e, std::string& out) {
    if (!e.is<std::string_view>()) return wrongType(key, e, "text"), false;
    out = base::withoutControl(std::string_view(e));  // the line's reader has told of them
    return true;
}

void Members::flag(std::string_view key, dom::element e, std::uint8_t bit, std::uint8_t& flags) {
    if (!e.is<bool>()) return wrongType(key, e, "true or false");
    if (bool(e)) flags |= bit;
}

void Members::number(std::string_view key, dom::element e, double low, double high, double& out) {
    if (!e.is_number()) return wrongType(key, e, "a number");
    const double value = double(e);
    if (!(value >= low && value <= high))
        return note(key, fmt::format("Is {}; a number from {} to {} was expected.", value, low, high));
    out = value;
}

bool Members::numbers(std::string_view key, dom::element e, double* out, int n) {
    const std::string wanted = fmt::format("a list of {} numbers", n);
    dom::array list;
    if (e.get(list) != simdjson::SUCCESS) return wrongType(key, e, wanted), false;
    if (list.size() != static_cast<std::size_t>(n))
        return note(key, fmt::format("Has {} entries; {} was expected.", list.size(), wanted)), false;
    for (dom::element entry : list) {
        if (!entry.is_number())
            return note(key, fmt::format("Holds {}; {} was expected.", typeName(entry.type()), wanted)), false;
        *out++ = double(entry);
    }
    return true;
}

void Members::id(std::string_view key, dom::element e, base::ObjectId& out) {
    std::string_view text;
    if (e.get(text) != simdjson::SUCCESS) return wrongType(key, e, "an id of sixteen hexadecimal digits");
    if (auto parsed = base::parseObjectId(text))
        out = *parsed;
    else
        note(key, fmt::format("“{}” is no id; sixteen hexadecimal digits, not all zero, were expected.", text));
}

void Members::light(dom::element e, model::Light& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("light", e, "an object");
    for (auto [key, value] : object) {
        if (key == "shape") {
            std::string shape;
            if (text("light.shape", value, shape) && shape != "spot" && shape != "point")
                note("light.shape", fmt::format("“{}” is unknown; “point” or “spot” was expected.", shape));
            if (shape == "spot") out.shape = model::LightShape::Spot;
        } else if (key == "colour")
            vector("light.colour", value, out.colour, 3);
        else if (key == "intensity")
            number("light.intensity", value, 0, 1e9, out.intensity);
        else if (key == "reach")
            number("light.reach", value, 0, kFarthestMetres, out.reachMetres);
        else if (key == "inner")
            number("light.inner", value, 0, 90, out.innerDegrees);
        else if (key == "outer")
            number("light.outer", value, 0, 90, out.outerDegrees);
        else
            appendUnknown(out.unknownKeys, key, value);
    }
}

void Members::camera(dom::element e, model::Camera& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("camera", e, "an object");
    for (auto [key, value] : object) {
        if (key == "fieldOfView")
            number("camera.fieldOfView", value, 1, 170, out.verticalDegrees);
        else if (key == "near")
            number("camera.near", value, 1e-4, kFarthestMetres, out.nearMetres);
        else if (key == "far")
            number("camera.far", value, 1e-3, kFarthestMetres, out.farMetres);
        else
            appendUnknown(out.unknownKeys, key, value);
    }
}

void Members::count(std::string_view key, dom::element e, int& out) {
    double value = out;
    number(key, e, 1, 10'000, value);
    if (value != std::floor(value)) return note(key, fmt::format("Is {}; a whole number was expected.", value));
    out = static_cast<int>(value);
}

void Members::array(dom::element e, model::Array& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("array", e, "an object");
    const std::tuple<std::string_view, double*, double, double> numbers[] = {
        {"radius", &out.radiusMetres, 0, 1e5},  {"sweep", &out.sweepDegrees, -360, 360},
        {"turn", &out.turnDegrees, -360, 360},  {"size", &out.size, 0.1, 10},
        {"jitter", &out.jitterMetres, 0, 1e4},  {"jitterTurn", &out.jitterDegrees, 0, 180},
        {"jitterSize", &out.jitterSize, 0, 0.9}};
    for (auto [key, value] : object) {
        const std::string path = "array." + std::string(key);
        const auto* entry = std::find_if(std::begin(numbers), std::end(numbers),
                                         [&, name = key](const auto& n) { return std::get<0>(n) == name; });
        if (entry != std::end(numbers))
            number(path, value, std::get<2>(*entry), std::get<3>(*entry), *std::get<1>(*entry));
        else if (key == "shape") {
            std::string shape;
            if (text(path, value, shape) && shape != "row" && shape != "grid" && shape != "ring")
                note(path, fmt::format("“{}” is unknown; “row”, “grid” or “ring” was expected.", shape));
            if (shape == "grid") out.shape = model::Array::Shape::Grid;
            if (shape == "ring") out.shape = model::Array::Shape::Ring;
        } else if (key == "counts") {
            dom::array list;
            if (value.get(list) != simdjson::SUCCESS || list.size() != 3) {
                note(path, "Is no list of 3 whole numbers, as was expected.");
                continue;
            }
            for (std::size_t i = 0; dom::element n : list) count(path, n, out.counts[i++]);
        } else if (key == "spacing")
            vector(path, value, out.spacing, 3);
        else if (key == "seed") {
            if (value.get(out.seed) != simdjson::SUCCESS) wrongType(path, value, "a whole number");
        } else
            appendUnknown(out.unknownKeys, key, value);
    }
}

void Members::tint(dom::element e, std::optional<base::Vec3>& out) {
    base::Vec3 colour{1.0};
    if (!vector("tint", e, colour, 3)) return;
    for (int k = 0; k < 3; ++k)
        if (!(colour[k] >= 0 && colour[k] <= 1))
            return note("tint", fmt::format("Holds {}; numbers from 0 to 1 were expected.", colour[k]));
    out = colour;
}

void Members::pose(std::string_view key, dom::element e, base::Transform& out) {
    if (key == "position") {
        base::Vec3 p{0.0};
        if (!vector(key, e, p, 3)) return;
        if (usablePosition(p))
            out.position = p;
        else
            note(key, "Lies more than 10,000 km away; a position within that was expected.");
    } else if (key == "rotation") {
        base::Vec4 v{0.0};
        if (!vector(key, e, v, 4)) return;
        const double length = glm::length(v);
        if (length < 1e-9 || !std::isfinite(length))
            return note(key, "Is a quaternion of no length; one of length 1 was expected.");
        out.rotation = base::Quat(v.w, v.x, v.y, v.z);
        if (!isUnit(out.rotation)) out.rotation /= length;
    } else {
        base::Vec3 s{1.0};
        if (!vector(key, e, s, 3)) return;
        if (usableScale(s))
            out.scale = s;
        else
            note(key, "Has a factor of nearly 0 or beyond 100,000; factors between were expected.");
    }
}

void Members::solid(dom::element e, model::Solid& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("solid", e, "an object");
    for (auto [key, value] : object) {
        if (key == "shape") {
            std::string shape;
            if (!text("solid.shape", value, shape)) continue;
            constexpr auto names = solidNames();
            const auto* place = std::find(names.begin(), names.end(), shape);
            if (place != names.end())
                out.shape = static_cast<model::Solid::Shape>(place - names.begin());
            else
                note("solid.shape", fmt::format("“{}” is unknown; {} was expected.", shape, fmt::join(names, ", ")));
        } else if (key == "size") {
            base::Vec3 size{1.0};
            if (!vector("solid.size", value, size, 3)) continue;
            if (glm::all(glm::greaterThan(size, base::Vec3(0.0))) && glm::all(glm::lessThan(size, base::Vec3(1e5))))
                out.size = size;
            else
                note("solid.size", "Holds a size of nothing or beyond 100 km; metres above 0 were expected.");
        } else if (key == "parts") {
            double parts = out.parts;
            number("solid.parts", value, 0, 1000, parts);
            out.parts = static_cast<int>(parts);
        } else
            appendUnknown(out.unknownKeys, key, value);
    }
}

void Members::flags(std::string_view key, dom::element e, std::uint8_t& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType(key, e, "an object");
    for (auto [name, value] : object)
        if (!oneFlag(name, value, out)) note(key, fmt::format("“{}” is unknown.", name));
}

bool Members::oneFlag(std::string_view key, dom::element e, std::uint8_t& out) {
    const auto* place = std::find_if(std::begin(model::flags::kNames), std::end(model::flags::kNames),
                                     [&](const auto& named) { return named.second == key; });
    if (place == std::end(model::flags::kNames)) return false;
    flag(key, e, place->first, out);
    return true;
}

void Members::name(std::string_view key, dom::element e, base::Name& out) {
    std::string value;
    if (text(key, e, value)) out = names_.intern(value);
}

bool Members::facet(std::string_view key, dom::element e, model::Detail& out) {
    if (key == "array")
        array(e, out.array.emplace());
    else if (key == "tint")
        tint(e, out.tint);
    else if (key == "light")
        light(e, out.light.emplace());
    else if (key == "camera")
        camera(e, out.camera.emplace());
    else if (key == "solid")
        solid(e, out.solid.emplace());
    else if (key == "note") {
        std::string words;
        if (text(key, e, words)) out.note = model::Note{words};
    } else
        return valueFacet(key, e, out);
    return true;
}

bool Members::valueFacet(std::string_view key, dom::element e, model::Detail& out) {
    bool known = false;
    model::eachValueFacet([&](std::string_view name, std::uint32_t, auto member) {
        if (name != key) return;
        known = true;
        if (!e.is<dom::object>()) return wrongType(key, e, "an object");
        std::vector<std::string> problems;
        model::fromValues(std::get<model::ValueMap>(toValue(e).data), problems, (out.*member).emplace());
        for (const std::string& problem : problems) {
            const std::size_t colon = problem.find(": ");
            note(fmt::format("{}.{}", key, problem.substr(0, colon)), problem.substr(colon + 2));
        }
    });
    return known;
}

void Members::object(dom::object members, model::ObjectRecord& out) {
    model::Detail detail;
    for (auto [key, value] : members) {
        if (key == "id")
            id(key, value, out.id);
        else if (key == "parent")
            id(key, value, out.parent);
        else if (key == "before")
            id(key, value, out.before);
        else if (key == "name" || key == "kind" || key == "item")
            name(key, value, key == "name" ? out.name : key == "kind" ? out.kind : out.item);
        else if (key == "position" || key == "rotation" || key == "scale")
            pose(key, value, out.local);
        else if (oneFlag(key, value, out.flags) || facet(key, value, detail))
            continue;
        else if (key == "prefab")
            prefab(value, detail.prefab);
        else if (key == "properties") {
            if (!value.is<dom::object>())
                wrongType(key, value, "an object");
            else
                detail.properties = std::get<model::ValueMap>(toValue(value).data);
        } else
            appendUnknown(detail.unknownKeys, key, value);
    }
    if (!detail.empty()) out.detail = std::make_shared<const model::Detail>(std::move(detail));
}

void Members::prefab(dom::element e, model::PrefabFacet& out) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("prefab", e, "an object");
    auto link = std::make_shared<model::PrefabLink>();
    for (auto [key, value] : object) {
        if (key == "of")
            id("prefab.of", value, link->of);
        else if (key == "changed")
            eachObject("prefab.changed", value, [&](dom::object one) { difference(one, *link); });
        else if (key == "added")
            eachObject("prefab.added", value, [&](dom::object one) {
                Members::object(one, link->added.emplace_back());
                if (link->added.back().id) return;
                note("prefab.added", "Has an object without an id.");
                link->added.pop_back();
            });
        else if (key == "removed") {
            dom::array list;
            if (value.get(list) != simdjson::SUCCESS) {
                wrongType("prefab.removed", value, "a list");
                continue;
            }
            for (dom::element one : list) id("prefab.removed", one, link->removed.emplace_back());
            std::sort(link->removed.begin(), link->removed.end());
        } else
            appendUnknown(link->unknownKeys, key, value);
    }
    if (!link->of) return note("prefab.of", "Is missing; the id of a prefab was expected.");
    out.link = std::move(link);
}

void Members::difference(dom::object members, model::PrefabLink& link) {
    namespace part = model::part;
    constexpr std::pair<std::string_view, std::uint32_t> kParts[] = {
        {"parent", part::kPlace},      {"before", part::kPlace},
        {"name", part::kName},         {"kind", part::kKind},
        {"item", part::kItem},         {"position", part::kPosition},
        {"rotation", part::kRotation}, {"scale", part::kSize},
        {"flags", part::kFlags},       {"light", part::kLight},
        {"camera", part::kCamera},     {"note", part::kNote},
        {"tint", part::kTint},         {"array", part::kArray},
        {"solid", part::kSolid},       {"body", part::kBody},
        {"points", part::kPoints},     {"zone", part::kZone},
        {"surfaces", part::kSurfaces}, {"properties", part::kProperties}};
    model::Difference d;
    model::Detail detail;
    for (auto [key, value] : members) {
        if (key == "id") {
            id("prefab.changed.id", value, d.value.id);
            continue;
        }
        const auto* place = std::find_if(std::begin(kParts), std::end(kParts),
                                         [&, wanted = key](const auto& p) { return p.first == wanted; });
        if (place == std::end(kParts)) {
            note("prefab.changed", fmt::format("“{}” is no part of an object that can differ.", key));
            continue;
        }
        d.parts |= place->second;
        if (value.is_null()) continue;
        if (key == "parent" || key == "before")
            id(key, value, key == "parent" ? d.value.parent : d.value.before);
        else if (key == "name" || key == "kind" || key == "item")
            name(key, value, key == "name" ? d.value.name : key == "kind" ? d.value.kind : d.value.item);
        else if ((place->second & part::kPose) != 0)
            pose(key, value, d.value.local);
        else if (key == "flags")
            flags(key, value, d.value.flags);
        else if (key == "properties")
            properties(value, detail, d);
        else
            facet(key, value, detail);
    }
    if (!detail.empty()) d.value.detail = std::make_shared<const model::Detail>(std::move(detail));
    if (!d.value.id) return note("prefab.changed.id", "Is missing; the id of an object was expected.");
    model::put(link, std::move(d), part::kAll);
}

void Members::properties(dom::element e, model::Detail& detail, model::Difference& d) {
    dom::object object;
    if (e.get(object) != simdjson::SUCCESS) return wrongType("properties", e, "an object");
    for (auto [key, value] : object)
        if (value.is_null())
            d.goneProperties.emplace_back(key);
        else
            detail.properties.emplace_back(std::string(key), toValue(value));
}

}  // namespace io
