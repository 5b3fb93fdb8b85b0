#include "model/facets/zone.h"

#include <fmt/format.h>

#include "model/facet_builder.h"
#include "model/names.h"

namespace model {
namespace {

using base::Vec2;
using ZoneShape = Zone::Shape;

constexpr double kSmallestMetres = 0.01;

void describeSize(FieldsOf<Zone>& f) {
    Member& size = f.vector("size", "Size", &Zone::size, "m", kAboveNothing, kLargestMetres);
    size.always = true;
    size.inField = false;
    const char *keys[] = {"width", "height", "depth"}, *labels[] = {"Width", "Height", "Depth"};
    for (int k = 0; k < 3; ++k) {
        Member& one = f.derived(
            keys[k], labels[k], "m", kSmallestMetres, kLargestMetres, [k](const Zone& z) { return z.size[k]; },
            [k](Zone& z, double metres) {
                if (z.shape == ZoneShape::Sphere)
                    z.size = base::Vec3(metres);
                else
                    z.size[k] = metres;
            });
        one.property.step = 0.25;
        one.shown = f.when([k](const Zone& z) {
            return z.shape == ZoneShape::Box || (z.shape == ZoneShape::Sphere ? k == 0 : k == 1);
        });
    }
}

void describeCorners(FieldsOf<Zone>& f) {
    Member& corners = f.add("corners", "Corners", PropertyType::List);
    corners.inField = false;
    corners.expected = "a list of corners, each two numbers, x and z, within 100 km, was";
    corners.schema = [] {
        const ValueMap number = {{"type", {std::string("number")}}};
        const ValueMap corner = {{"type", {std::string("array")}},
                                 {"items", {number}},
                                 {"minItems", {std::int64_t{2}}},
                                 {"maxItems", {std::int64_t{2}}}};
        return ValueMap{{"type", {std::string("array")}}, {"items", {corner}}};
    };
    corners.get = [](const void* t) {
        ValueList list;
        for (const Vec2& corner : FieldsOf<Zone>::self(t).corners) list.push_back(vectorValue(corner));
        return std::optional(Value{std::move(list)});
    };
    corners.set = [](void* t, const Value& v) {
        const auto* list = std::get_if<ValueList>(&v.data);
        std::vector<Vec2> read;
        for (const Value& one : list != nullptr ? *list : ValueList{}) {
            const auto corner = vectorIn<Vec2>(one);
            if (!corner || !(std::abs(corner->x) <= kLargestMetres && std::abs(corner->y) <= kLargestMetres))
                return false;
            read.push_back(*corner);
        }
        if (list != nullptr) FieldsOf<Zone>::self(t).corners = std::move(read);
        return list != nullptr;
    };
}

bool crossesItself(const std::vector<Vec2>& c) {
    auto side = [&](std::size_t from, std::size_t to, const Vec2& p) {
        return (c[to].x - c[from].x) * (p.y - c[from].y) - (c[to].y - c[from].y) * (p.x - c[from].x);
    };
    for (std::size_t i = 0; i < c.size(); ++i)
        for (std::size_t k = i + 2; k < c.size(); ++k) {
            const std::size_t i2 = i + 1, k2 = (k + 1) % c.size();
            if (k2 == i) continue;
            if (side(i, i2, c[k]) * side(i, i2, c[k2]) < 0 && side(k, k2, c[i]) * side(k, k2, c[i2]) < 0) return true;
        }
    return false;
}

std::string mend(void* facet) {
    Zone& zone = FieldsOf<Zone>::self(facet);
    if (zone.shape != ZoneShape::Polygon || zone.corners.size() >= 3) return {};
    zone.shape = ZoneShape::Box;
    return "corners: A polygon needs three or more.";
}

/// A box that becomes a polygon keeps its outline.
void complete(void* facet) {
    Zone& zone = FieldsOf<Zone>::self(facet);
    const base::Vec3 half = zone.size / 2.0;
    if (zone.shape == ZoneShape::Polygon && zone.corners.size() < 3)
        zone.corners = {{-half.x, -half.z}, {half.x, -half.z}, {half.x, half.z}, {-half.x, half.z}};
}

base::Status isUsable(const void* facet) {
    const Zone& zone = FieldsOf<Zone>::self(facet);
    for (int k = 0; k < 3; ++k)
        if (!(zone.size[k] >= kSmallestMetres && zone.size[k] <= kLargestMetres))
            return fail(ErrorCode::BadInput,
                        fmt::format("A zone can be from 1 cm to 100 km large each way, not {} m.", zone.size[k]));
    if (zone.shape != ZoneShape::Polygon) return {};
    for (const Vec2& c : zone.corners)
        if (!(std::abs(c.x) <= kLargestMetres && std::abs(c.y) <= kLargestMetres))
            return fail(ErrorCode::BadInput, "The corners of a zone lie within 100 km.");
    if (zone.corners.size() < 3)
        return fail(ErrorCode::BadInput, "A zone drawn as a polygon has three corners or more.");
    if (crossesItself(zone.corners))
        return fail(ErrorCode::BadInput, "The sides of a zone’s polygon cannot cross each other.");
    return {};
}

}  // namespace

bool isInside(const Zone& zone, const base::Vec3& p) {
    const base::Vec3 half = zone.size / 2.0;
    if (zone.shape == ZoneShape::Sphere) return glm::length(p) <= half.x;
    if (p.y < 0 || p.y > zone.size.y) return false;
    if (zone.shape == ZoneShape::Box) return std::abs(p.x) <= half.x && std::abs(p.z) <= half.z;
    // Even and odd: how often a line to one side crosses the polygon.
    bool inside = false;
    const auto& c = zone.corners;
    for (std::size_t i = 0, k = c.size() - 1; i < c.size(); k = i++)
        if ((c[i].y > p.z) != (c[k].y > p.z) && p.x < (c[k].x - c[i].x) * (p.z - c[i].y) / (c[k].y - c[i].y) + c[i].x)
            inside = !inside;
    return inside;
}

const FacetType& Zone::type() {
    static const FacetType type = [] {
        FieldsOf<Zone> f;
        f.word("shape", "Shape", &Zone::shape, {"box", "sphere", "polygon"}).always = true;
        describeSize(f);
        describeCorners(f);
        f.colour("colour", "Colour", &Zone::colour).property.help = "The colour of its lines in the view";
        f.flag("water", "Water", &Zone::water).property.help = "One swims in it, and what is light floats";
        FacetType made = facetTypeOf<Zone>("zone", "Zone", "A volume that means something", f.done());
        made.mend = mend;
        made.complete = complete;
        made.check = isUsable;
        made.pointed = true;
        return made;
    }();
    return type;
}

base::Aabb boxOf(const Zone& zone) {
    const base::Vec3 half = zone.size / 2.0;
    if (zone.shape == ZoneShape::Sphere) return {base::Vec3(-half.x), base::Vec3(half.x)};
    if (zone.shape == ZoneShape::Box) return {{-half.x, 0, -half.z}, {half.x, zone.size.y, half.z}};
    base::Aabb box;
    for (const Vec2& c : zone.corners) {
        box.add({c.x, 0, c.y});
        box.add({c.x, zone.size.y, c.y});
    }
    return box;
}

}  // namespace model
