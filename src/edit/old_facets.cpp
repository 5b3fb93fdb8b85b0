#include "edit/old_facets.h"

#include <algorithm>

#include "base/text.h"
#include "model/facets/array.h"
#include "model/facets/body.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/solid.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "model/facets/zone.h"
#include "model/value_json.h"

namespace edit {
namespace {

using model::FacetType;

std::string text(ByteReader& in) {
    const std::string_view is = in.text();
    if (!base::isValidUtf8(is)) throw MalformedBytes("a text is not UTF-8");
    return std::string(is);
}

base::Vec3 vec(ByteReader& in) {
    base::Vec3 v;
    for (int i = 0; i < 3; ++i) v[i] = in.real();
    return v;
}

void light(const OldFacets& old, model::Light& out) {
    out.shape = old.in.byte() == 0 ? model::Light::Shape::Point : model::Light::Shape::Spot;
    out.colour = vec(old.in);
    for (double* x : {&out.intensity, &out.reachMetres, &out.innerDegrees, &out.outerDegrees}) *x = old.in.real();
    if (old.version > 1) out.unknown.members = text(old.in);
}

void camera(const OldFacets& old, model::Camera& out) {
    for (double* x : {&out.verticalDegrees, &out.nearMetres, &out.farMetres}) *x = old.in.real();
    if (old.version > 1) out.unknown.members = text(old.in);
}

void array(const OldFacets& old, model::Array& out) {
    out.shape = static_cast<model::Array::Shape>(std::min<std::uint8_t>(old.in.byte(), 2));
    for (int& n : out.counts) n = static_cast<int>(std::clamp<std::uint64_t>(old.in.count(), 1, 1'000'000));
    out.spacing = vec(old.in);
    for (double* x : {&out.radiusMetres, &out.sweepDegrees, &out.turnDegrees, &out.size, &out.jitterMetres,
                      &out.jitterDegrees, &out.jitterSize})
        *x = old.in.real();
    out.seed = old.in.count();
    out.unknown.members = text(old.in);
}

void solid(const OldFacets& old, model::Solid& out) {
    out.shape = static_cast<model::Solid::Shape>(std::min<std::uint8_t>(old.in.byte(), 7));
    out.size = vec(old.in);
    out.parts = static_cast<int>(std::min<std::uint64_t>(old.in.count(), 1000));
    out.unknown.members = text(old.in);
}

/// Members from a map, as bodies, points, zones and surfaces were kept.
void fields(const model::Fields& fields, void* of, const model::ValueMap& map);

void member(const model::Member& member, void* of, const model::Value& value) {
    const auto* list = std::get_if<model::ValueList>(&value.data);
    if (member.parts.fields == nullptr) {
        if (!member.set(of, value)) throw MalformedBytes("a facet says what it cannot");
        return;
    }
    for (const model::Value& one : list != nullptr ? *list : model::ValueList{})
        if (const auto* map = std::get_if<model::ValueMap>(&one.data))
            fields(*member.parts.fields, member.parts.add(of), *map);
}

void fields(const model::Fields& fields, void* of, const model::ValueMap& map) {
    for (const auto& [key, value] : map)
        if (const model::Member* known = fields.find(key))
            member(*known, of, value);
        else if (fields.unknown != nullptr)
            model::appendMember(fields.unknown(of).members, key, value);
}

void surfaces(const model::ValueMap& map, model::Surfaces& out) {
    const model::Fields& slot = *model::Surfaces::type().fields.members[0].parts.fields;
    for (const auto& [name, value] : map) {
        out.slots.emplace_back().slot = name;
        if (const auto* says = std::get_if<model::ValueMap>(&value.data)) fields(slot, &out.slots.back(), *says);
    }
}

}  // namespace

void readOldFacets(const OldFacets& old, model::Detail& d) {
    const std::uint8_t more = old.version > 6 ? old.in.byte() : 0;
    if ((old.bits & 2) != 0) light(old, d.edit<model::Light>());
    if ((old.bits & 4) != 0) camera(old, d.edit<model::Camera>());
    if ((old.bits & 8) != 0) d.put(model::Note{text(old.in)});
    if ((old.bits & 16) != 0) d.put(model::Tint{vec(old.in)});
    if ((old.bits & 32) != 0) array(old, d.edit<model::Array>());
    if ((old.bits & 64) != 0) solid(old, d.edit<model::Solid>());
    if ((old.bits & 128) != 0) d.prefab.link = std::make_shared<const model::PrefabLink>(old.link());
    if ((more & 1) != 0) fields(model::Body::type().fields, &d.edit<model::Body>(), old.map());
    if ((more & 2) != 0) fields(model::PointSet::type().fields, &d.edit<model::PointSet>(), old.map());
    if ((more & 4) != 0) fields(model::Zone::type().fields, &d.edit<model::Zone>(), old.map());
    if ((more & 8) != 0) surfaces(old.map(), d.edit<model::Surfaces>());
}

model::PartSet oldParts(std::uint64_t bits) {
    constexpr std::uint64_t kProperties = 16384;
    static const std::pair<std::uint64_t, const FacetType*> facets[] = {
        {256, &model::Light::type()},      {512, &model::Camera::type()},     {1024, &model::Note::type()},
        {2048, &model::Tint::type()},      {4096, &model::Array::type()},     {8192, &model::Solid::type()},
        {32768, &model::Body::type()},     {65536, &model::PointSet::type()}, {131072, &model::Zone::type()},
        {262144, &model::Surfaces::type()}};
    model::PartSet set(static_cast<std::uint32_t>(bits & 255));
    if ((bits & kProperties) != 0) set.add(model::part::kProperties);
    for (const auto& [bit, type] : facets)
        if ((bits & bit) != 0) set.add(*type);
    return set;
}

}  // namespace edit
