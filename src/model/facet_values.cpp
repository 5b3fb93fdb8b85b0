#include "model/facet_values.h"

#include <fmt/format.h>

#include <array>

#include "model/value_reader.h"

namespace model {

namespace {

constexpr double kFarthestMetres = 1e7, kLargestMetres = 1e5;

constexpr std::array<std::string_view, 4> kRoles = {"fixed", "guided", "loose", "loose when touched"};
constexpr std::array<std::string_view, 5> kBodyShapes = {"mesh", "box", "sphere", "capsule", "hull"};
constexpr std::array<std::string_view, 3> kZoneShapes = {"box", "sphere", "polygon"};
constexpr std::array<std::string_view, 4> kFits = {"tile", "fit", "fill", "stretch"};

template <class Enum, std::size_t N>
Value wordOf(const std::array<std::string_view, N>& words, Enum value) {
    return {std::string(words[static_cast<std::size_t>(value)])};
}

void append(ValueMap& map, const ValueMap& unknown) {
    map.insert(map.end(), unknown.begin(), unknown.end());
}

bool usableSize(const base::Vec3& size) {
    return size.x > 0 && size.y > 0 && size.z > 0;
}

void sizeIn(const ValueReader& read, base::Vec3& out) {
    base::Vec3 size = out;
    if (!read.vector("size", 0, kLargestMetres, size)) return;
    if (usableSize(size))
        out = size;
    else
        read.problems.emplace_back("size: metres above 0 were expected.");
}

ValueMap pointValues(const PlacePoint& p) {
    ValueMap map;
    if (!p.name.empty()) map.emplace_back("name", Value{p.name});
    map.emplace_back("at", vectorValue(p.at));
    if (p.turnDegrees) map.emplace_back("turn", Value{*p.turnDegrees});
    if (p.radiusMetres != 0) map.emplace_back("radius", Value{p.radiusMetres});
    if (p.colour) map.emplace_back("colour", vectorValue(*p.colour));
    append(map, p.unknown);
    return map;
}

PlacePoint pointFrom(const ValueReader& read) {
    PlacePoint p;
    read.text("name", p.name);
    if (valueOf(read.map, "at") == nullptr) read.problems.emplace_back("at: is missing; three numbers were expected.");
    read.vector("at", -kFarthestMetres, kFarthestMetres, p.at);
    if (valueOf(read.map, "turn") != nullptr) read.number("turn", -360, 360, p.turnDegrees.emplace(0));
    read.number("radius", 0, kLargestMetres, p.radiusMetres);
    read.colour("colour", p.colour);
    constexpr std::array<std::string_view, 5> known = {"name", "at", "turn", "radius", "colour"};
    p.unknown = read.rest(known);
    return p;
}

void colourIn(const ValueReader& read, base::Vec3& out) {
    std::optional<base::Vec3> colour;
    read.colour("colour", colour);
    if (colour) out = *colour;
}

}  // namespace

ValueMap toValues(const Body& body) {
    const Body usual;
    ValueMap map = {{"role", wordOf(kRoles, body.role)}, {"shape", wordOf(kBodyShapes, body.shape)}};
    if (!body.fitted) map.emplace_back("fitted", Value{false});
    if (body.centre != usual.centre) map.emplace_back("centre", vectorValue(body.centre));
    if (body.size != usual.size) map.emplace_back("size", vectorValue(body.size));
    if (body.massKilograms != 0) map.emplace_back("mass", Value{body.massKilograms});
    append(map, body.unknown);
    return map;
}

void fromValues(const ValueMap& map, std::vector<std::string>& problems, Body& out) {
    const ValueReader read{map, problems};
    read.word("role", kRoles, out.role);
    read.word("shape", kBodyShapes, out.shape);
    read.flag("fitted", out.fitted);
    read.vector("centre", -kFarthestMetres, kFarthestMetres, out.centre);
    sizeIn(read, out.size);
    read.number("mass", 0, 1e9, out.massKilograms);
    constexpr std::array<std::string_view, 6> known = {"role", "shape", "fitted", "centre", "size", "mass"};
    out.unknown = read.rest(known);
}

ValueMap toValues(const PointSet& set) {
    const PointSet usual;
    ValueMap map;
    if (set.stays) map.emplace_back("stays", Value{true});
    if (set.colour != usual.colour) map.emplace_back("colour", vectorValue(set.colour));
    ValueList points;
    for (const PlacePoint& p : set.points) points.push_back({pointValues(p)});
    map.emplace_back("points", Value{std::move(points)});
    append(map, set.unknown);
    return map;
}

void fromValues(const ValueMap& map, std::vector<std::string>& problems, PointSet& out) {
    const ValueReader read{map, problems};
    read.flag("stays", out.stays);
    colourIn(read, out.colour);
    read.each("points", [&](const ValueMap& one) {
        std::vector<std::string> own;
        out.points.push_back(pointFrom({one, own}));
        for (const std::string& problem : own)
            problems.push_back(fmt::format("points.{}.{}", out.points.size(), problem));
    });
    constexpr std::array<std::string_view, 3> known = {"stays", "colour", "points"};
    out.unknown = read.rest(known);
}

ValueMap toValues(const Zone& zone) {
    const Zone usual;
    ValueMap map = {{"shape", wordOf(kZoneShapes, zone.shape)}, {"size", vectorValue(zone.size)}};
    ValueList corners;
    for (const base::Vec2& corner : zone.corners) corners.push_back(vectorValue(corner));
    if (!corners.empty()) map.emplace_back("corners", Value{std::move(corners)});
    if (zone.colour != usual.colour) map.emplace_back("colour", vectorValue(zone.colour));
    append(map, zone.unknown);
    return map;
}

void fromValues(const ValueMap& map, std::vector<std::string>& problems, Zone& out) {
    const ValueReader read{map, problems};
    read.word("shape", kZoneShapes, out.shape);
    sizeIn(read, out.size);
    colourIn(read, out.colour);
    if (const Value* value = valueOf(map, "corners")) {
        const auto* list = std::get_if<ValueList>(&value->data);
        for (std::size_t i = 0; list != nullptr && i < list->size(); ++i) {
            const ValueMap one = {{"corners", (*list)[i]}};
            base::Vec2 corner{0.0};
            if (ValueReader{one, problems}.vector("corners", -kLargestMetres, kLargestMetres, corner))
                out.corners.push_back(corner);
        }
        if (list == nullptr) problems.emplace_back("corners: is no list.");
    }
    if (out.shape == Zone::Shape::Polygon && out.corners.size() < 3) {
        problems.emplace_back("corners: a polygon needs three or more.");
        out.shape = Zone::Shape::Box;
    }
    constexpr std::array<std::string_view, 4> known = {"shape", "size", "corners", "colour"};
    out.unknown = read.rest(known);
}

ValueMap toValues(const Surfaces& surfaces) {
    ValueMap map;
    for (const SlotSurface& s : surfaces.slots) {
        ValueMap one;
        if (!s.surface.empty()) one.emplace_back("surface", Value{s.surface});
        if (s.tint) one.emplace_back("tint", vectorValue(*s.tint));
        if (!s.image.empty()) one.emplace_back("image", Value{s.image});
        if (s.fit != ImageFit::Tile) one.emplace_back("fit", wordOf(kFits, s.fit));
        append(one, s.unknown);
        map.emplace_back(s.slot, Value{std::move(one)});
    }
    return map;
}

void fromValues(const ValueMap& map, std::vector<std::string>& problems, Surfaces& out) {
    for (const auto& [slot, value] : map) {
        const auto* one = std::get_if<ValueMap>(&value.data);
        if (one == nullptr) {
            problems.push_back(fmt::format("{}: is no object.", slot));
            continue;
        }
        std::vector<std::string> own;
        const ValueReader read{*one, own};
        SlotSurface s;
        s.slot = slot;
        read.text("surface", s.surface);
        read.colour("tint", s.tint);
        read.text("image", s.image);
        read.word("fit", kFits, s.fit);
        constexpr std::array<std::string_view, 4> known = {"surface", "tint", "image", "fit"};
        s.unknown = read.rest(known);
        for (const std::string& problem : own) problems.push_back(fmt::format("{}.{}", slot, problem));
        out.slots.push_back(std::move(s));
    }
}

}  // namespace model
