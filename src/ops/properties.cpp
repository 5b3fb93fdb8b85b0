#include "ops/properties.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <unordered_set>

#include "base/text.h"
#include "base/units.h"
#include "model/facets/points.h"
#include "model/facets/route.h"
#include "model/facets/zone.h"
#include "model/property_types.h"
#include "ops/facet_members.h"
#include "ops/names.h"

namespace ops {

using model::PropertyType;

namespace {

const model::ValueMap& propertiesOf(const model::Scene& scene, Slot s) {
    static const model::ValueMap none;
    return scene.detail(s) ? scene.detail(s)->properties : none;
}

model::DetailPtr withProperties(const model::Scene& scene, Slot s, model::ValueMap values) {
    model::Detail detail = scene.detail(s) ? *scene.detail(s) : model::Detail{};
    detail.properties = std::move(values);
    return detail.empty() ? nullptr : std::make_shared<const model::Detail>(std::move(detail));
}

Status linksFit(const model::Scene& scene, const Property& property, const Value& value) {
    if (property.type == PropertyType::List) {
        const auto* list = std::get_if<model::ValueList>(&value.data);
        for (const Value& one : list != nullptr ? *list : model::ValueList{})
            if (Status fits = linksFit(scene, property.element[0], one); !fits) return fits;
        return {};
    }
    const ObjectId to = model::objectIn(value);
    if (!model::linksObject(property.type) || !to) return {};
    const Slot target = scene.find(to);
    if (target == kNoSlot)
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: there is no object {} to link to.", property.label, base::toText(to)));
    if (mayLinkTo(scene, property, target)) return {};
    return fail(ErrorCode::BadInput, fmt::format("{}: “{}” (of the kind “{}”) is nothing it can link to.",
                                                 property.label, scene.nameText(target), scene.kindText(target)));
}

Status noProperty(const model::Scene& scene, Slot s, const std::string& name) {
    if (!scene.kind(s))
        return fail(ErrorCode::NotFound,
                    fmt::format("“{}” is of no kind, and so has no property “{}”.", scene.nameText(s), name));
    return fail(ErrorCode::NotFound, fmt::format("“{}” is of the kind “{}”, which has no property “{}”.",
                                                 scene.nameText(s), scene.kindText(s), name));
}

}  // namespace

const Property* propertyOf(const model::Library& library, const model::Scene& scene, Slot slot, std::string_view name) {
    const model::Kind* kind = library.kind(scene.kind(slot));
    const Property* own = kind != nullptr ? kind->property(name) : nullptr;
    if (own != nullptr) return own;
    const FacetMember member = memberCalled(name);
    const model::DetailPtr& detail = scene.detail(slot);
    if (!member) return nullptr;
    const bool has = detail && detail->facets.find(*member.type) != nullptr;
    return has || mayBegin(member, kind) ? &propertyOf(member) : nullptr;
}

bool isOfKind(const model::Library& library, const model::Scene& scene, Slot slot, std::string_view kind) {
    std::string_view name = scene.kindText(slot);
    for (int depth = 0; depth < 16 && !name.empty(); ++depth) {
        if (name == kind) return true;
        const model::Kind* known = library.kindNamed(name);
        name = known == nullptr ? std::string_view() : std::string_view(known->inherits);
    }
    return false;
}

const Value* propertyValue(const model::Scene& scene, Slot slot, const Property& property, Value& room) {
    const model::ValueMap& own = propertiesOf(scene, slot);
    const FacetMember member = facetMember(property.name);
    if (!member || model::valueOf(own, property.name) != nullptr) return model::valueOr(property, own, room);
    auto value = memberValue(scene, slot, member);
    room = value ? std::move(*value) : model::defaultOf(property);
    return &room;
}

namespace {

/// A facet's member, when the first of the objects has no such property of its kind. Null: it has.
FacetMember memberNamed(edit::Draft& draft, std::span<const ObjectId> ids, const std::string& name) {
    const FacetMember member = memberCalled(name);
    if (!member || ids.empty()) return {};
    const Slot slot = draft.scene().find(ids[0]);
    const model::Kind* kind = slot != kNoSlot ? draft.session().library().kind(draft.scene().kind(slot)) : nullptr;
    return kind != nullptr && kind->property(name) != nullptr ? FacetMember{} : member;
}

}  // namespace

Result<Value> checkedValue(const model::Scene& scene, const Property& property, const Value& value) {
    if (property.readOnly)
        return fail(ErrorCode::Refused, fmt::format("{} is read-only: it follows from other things.", property.label));
    auto fine = model::fitted(property, value);
    if (!fine) return fine;
    if (Status fits = linksFit(scene, property, *fine); !fits) return tl::unexpected(fits.error());
    return fine;
}

Status changeProperty(edit::Draft& draft, std::span<const ObjectId> ids, const std::string& name,
                      const ChangeValue& change) {
    if (!draft.state()) return draft.state();
    if (const FacetMember member = memberNamed(draft, ids, name)) return changeMember(draft, ids, member, change);
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, ids, "changed"); !free) return free;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot s = scene.find(id);
        const Property* property = propertyOf(draft.session().library(), scene, s, name);
        if (property == nullptr) return noProperty(scene, s, name);
        Value room;
        auto value = change(*property, *propertyValue(scene, s, *property, room));
        if (!value) return tl::unexpected(value.error());
        auto fine = checkedValue(scene, *property, *value);
        if (!fine) return tl::unexpected(fine.error());
        model::ValueMap values = propertiesOf(scene, s);
        if (*fine == model::defaultOf(*property))
            model::eraseValue(values, name);
        else
            model::setValue(values, name, std::move(*fine));
        details.push_back(withProperties(scene, s, std::move(values)));
    }
    return draft.setDetails(ids, details);
}

Status setProperty(edit::Draft& draft, std::span<const ObjectId> ids, const std::string& name, const Value& value) {
    return changeProperty(draft, ids, name, [&](const Property&, const Value&) -> Result<Value> { return value; });
}

base::Quantity quantityOf(const Property& property) {
    if (property.type == PropertyType::Angle || property.unit == "°") return base::Quantity::Angle;
    if (property.type == PropertyType::Time || property.unit == "s") return base::Quantity::Time;
    return property.unit == "m" ? base::Quantity::Length : base::Quantity::Factor;
}

namespace {

/// "1, 2, 3", or with parts left out that stay: ", +=0.5 m,".
Result<Value> typedNumbers(const Property& property, const std::vector<std::string_view>& parts, const Value& present) {
    const auto* list = std::get_if<model::ValueList>(&present.data);
    model::ValueList numbers = list != nullptr ? *list : model::ValueList{};
    numbers.resize(parts.size(), Value{0.0});
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const std::string_view part = base::trimmed(parts[i]);
        if (part.empty()) continue;
        double room = 0;
        const double* now = model::asNumber(numbers[i], room);
        auto value = base::evaluateQuantity(part, quantityOf(property), now != nullptr ? *now : 0.0);
        if (!value) return tl::unexpected(value.error());
        numbers[i] = {*value};
    }
    return model::fitted(property, {std::move(numbers)});
}

}  // namespace

Result<Value> typedValue(const Property& property, std::string_view text, const Value& present) {
    const int count = model::traits(property.type).numbers;
    if (count > 1)
        if (const auto parts = base::split(text, ','); parts.size() == static_cast<std::size_t>(count))
            return typedNumbers(property, parts, present);
    if (count != 1 || text.empty()) return model::parsedValue(property, text);
    double room = 0;
    const double* now = model::asNumber(present, room);
    const base::Quantity quantity = quantityOf(property);
    // Its own unit may stand behind a number also where nothing is reckoned with it: "5 kg".
    if (quantity == base::Quantity::Factor && !property.unit.empty() && text.ends_with(property.unit))
        text.remove_suffix(property.unit.size());
    auto value = base::evaluateQuantity(text, quantity, now != nullptr ? *now : 0.0);
    if (!value) return tl::unexpected(value.error());
    if (property.type == PropertyType::Integer) return model::fitted(property, {std::round(*value)});
    return model::fitted(property, {*value});
}

Status resetProperty(edit::Draft& draft, std::span<const ObjectId> ids, const std::string& name) {
    if (!draft.state()) return draft.state();
    if (const FacetMember member = memberNamed(draft, ids, name)) return resetMember(draft, ids, member);
    const model::Scene& scene = draft.scene();
    if (Status free = refuseProtected(scene, ids, "changed"); !free) return free;
    std::vector<model::DetailPtr> details;
    for (ObjectId id : ids) {
        if (Status on = draft.goOn(); !on) return on;
        const Slot s = scene.find(id);
        model::ValueMap values = propertiesOf(scene, s);
        model::eraseValue(values, name);
        details.push_back(withProperties(scene, s, std::move(values)));
    }
    return draft.setDetails(ids, details);
}

namespace {

/// The property that says what a link must be: itself, or what a list of links holds.
const Property& linkPart(const Property& property) {
    return property.type == PropertyType::List && !property.element.empty() ? property.element[0] : property;
}

/// All stops of all routes.
std::unordered_set<base::ObjectId> stopsIn(const model::Scene& scene) {
    std::unordered_set<base::ObjectId> all;
    for (Slot s = 0; s < scene.slotEnd(); ++s)
        if (const auto* route = scene.alive(s) && scene.detail(s) ? scene.facet<model::Route>(s) : nullptr)
            for (const model::RouteStop& stop : route->stops) all.insert(stop.object);
    return all;
}

bool leadsToObject(const Value& value, ObjectId target) {
    if (model::objectIn(value) == target) return true;
    const auto* list = std::get_if<model::ValueList>(&value.data);
    return list != nullptr &&
           std::any_of(list->begin(), list->end(), [&](const Value& v) { return leadsToObject(v, target); });
}

}  // namespace

bool mayLinkTo(const model::Scene& scene, const Property& property, Slot target) {
    const Property& part = linkPart(property);
    if (!model::linksObject(part.type)) return false;
    const model::DetailPtr& detail = scene.detail(target);
    if (part.type == PropertyType::Zone && (!detail || !detail->get<model::Zone>())) return false;
    if (part.type == PropertyType::Points && (!detail || !detail->get<model::PointSet>())) return false;
    if (part.type == PropertyType::Route && (!detail || !detail->get<model::Route>())) return false;
    const bool isOfKind = part.kinds.empty() ||
                          std::find(part.kinds.begin(), part.kinds.end(), scene.kindText(target)) != part.kinds.end();
    return isOfKind && (part.type != PropertyType::Stop || stopsIn(scene).contains(scene.id(target)));
}

std::vector<LinkTarget> linkTargets(const model::Scene& scene, Slot from, const Property& property, std::size_t most) {
    std::vector<LinkTarget> all;
    Value room;
    const Value& present = *propertyValue(scene, from, property, room);
    const base::Vec3 at = scene.world(from).translation;
    std::optional<std::unordered_set<base::ObjectId>> stops;  // asked once for all of them
    Property asked = linkPart(property);
    if (asked.type == PropertyType::Stop) stops = stopsIn(scene), asked.type = PropertyType::Object;
    for (Slot s = 0; s < scene.slotEnd(); ++s) {
        if (!scene.alive(s) || s == from || (stops && !stops->contains(scene.id(s))) || !mayLinkTo(scene, asked, s))
            continue;
        const base::Vec3 there = scene.bounds(s).empty() ? scene.world(s).translation : scene.bounds(s).centre();
        all.push_back({scene.id(s), glm::length(there - at), leadsToObject(present, scene.id(s))});
    }
    const std::size_t kept = std::min(most, all.size());
    std::partial_sort(all.begin(), all.begin() + static_cast<std::ptrdiff_t>(kept), all.end(),
                      [](const LinkTarget& a, const LinkTarget& b) { return a.metres < b.metres; });
    all.resize(kept);
    return all;
}

Status toggleLink(edit::Draft& draft, std::span<const ObjectId> ids, const std::string& name, ObjectId target) {
    return changeProperty(draft, ids, name, [&](const Property& property, const Value& present) -> Result<Value> {
        if (property.type != PropertyType::List)
            return model::objectIn(present) == target ? Value{std::string()} : model::objectLink(target);
        model::ValueList list;
        if (const auto* held = std::get_if<model::ValueList>(&present.data)) list = *held;
        if (std::erase_if(list, [&](const Value& v) { return model::objectIn(v) == target; }) == 0)
            list.push_back(model::objectLink(target));
        return Value{std::move(list)};
    });
}

std::vector<Link> links(const model::Scene& scene) {
    std::vector<Link> all;
    for (Slot s : scene.subtree(kNoSlot)) {
        if (!scene.detail(s) || !model::hasObjectLink(*scene.detail(s))) continue;
        for (const auto& [name, value] : propertiesOf(scene, s)) {
            model::ValueMap one = {{name, value}};
            model::eachObjectLink(one, [&, key = name](ObjectId& to) {
                all.push_back({scene.id(s), to, key, scene.find(to) == kNoSlot});
            });
        }
        for (const model::Facets::Entry& facet : scene.detail(s)->facets) {
            model::Facets one;
            one.put(*facet.type, facet.value);
            model::eachObjectLink(one, [&](ObjectId& to) {
                all.push_back({scene.id(s), to, facet.type->key, scene.find(to) == kNoSlot});
            });
        }
    }
    return all;
}

}  // namespace ops
