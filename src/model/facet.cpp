#include "model/facet.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <functional>

#include "base/text.h"
#include "model/names.h"

namespace model {

using base::Status;

const Member* Fields::find(std::string_view key) const {
    const auto place =
        std::find_if(members.begin(), members.end(), [&](const Member& m) { return m.property.name == key; });
    return place == members.end() ? nullptr : &*place;
}

const FacetType* facetType(std::string_view key) {
    for (const FacetType* type : facetTypes())
        if (type->key == key) return type;
    return nullptr;
}

namespace {

auto placeOf(auto& entries, const FacetType& type) {
    return std::lower_bound(entries.begin(), entries.end(), &type, [](const Facets::Entry& e, const FacetType* t) {
        return std::less<const FacetType*>()(e.type, t);
    });
}

bool sameValue(const FacetType& type, const void* a, const void* b) {
    return a == b || (a != nullptr && b != nullptr && type.equal(a, b));
}

}  // namespace

const void* Facets::find(const FacetType& type) const {
    for (const Entry& e : entries_)
        if (e.type == &type) return e.value.get();
    return nullptr;
}

void Facets::put(const FacetType& type, std::shared_ptr<const void> value) {
    const auto place = placeOf(entries_, type);
    if (place != entries_.end() && place->type == &type)
        place->value = std::move(value);
    else
        entries_.insert(place, {&type, std::move(value)});
}

void Facets::drop(const FacetType& type) {
    std::erase_if(entries_, [&](const Entry& e) { return e.type == &type; });
}

void Facets::take(const FacetType& type, const Facets& from) {
    const auto place = placeOf(from.entries_, type);
    if (place != from.entries_.end() && place->type == &type)
        put(type, place->value);
    else
        drop(type);
}

bool operator==(const Facets& a, const Facets& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const Facets::Entry& x, const Facets::Entry& y) {
        return x.type == y.type && sameValue(*x.type, x.value.get(), y.value.get());
    });
}

bool sameFacet(const FacetType& type, const Facets& a, const Facets& b) {
    return sameValue(type, a.find(type), b.find(type));
}

Status setMember(const Fields& fields, void* facet, const Member& member, const Value& value) {
    const Property& p = member.property;
    Value fits = value;
    if (member.expected.empty()) {
        auto fine = fitted(p, value);
        if (!fine) return tl::unexpected(fine.error());
        fits = std::move(*fine);
    }
    if (!member.set(facet, fits))
        return fail(ErrorCode::BadInput, fmt::format("{}: {} expected.", p.label,
                                                     member.expected.empty() ? "something else was" : member.expected));
    if (fields.unknown != nullptr) eraseValue(fields.unknown(facet).words, p.name);
    return {};
}

bool isUsual(const Member& member, const void* facet) {
    if (member.parts.fields != nullptr) return member.parts.size(facet) == 0;
    const std::optional<Value> now = member.get(facet);
    return now ? member.property.fallback && *now == *member.property.fallback : member.optional;
}

namespace {

std::string fieldsText(const Fields& fields, const void* facet, const Member* without = nullptr);

std::string partsText(const Member& member, const void* facet) {
    const std::size_t n = member.parts.size(facet);
    if (!member.parts.named)
        return fmt::format("{} {}", n, n == 1 ? member.property.unit : base::lowered(member.property.label));
    std::string all;
    const Member& name = member.parts.fields->members[0];
    for (std::size_t i = 0; i < n; ++i) {
        const void* one = member.parts.at(facet, i);
        const std::string says = fieldsText(*member.parts.fields, one, &name);
        all += fmt::format("{}{}: {}", i == 0 ? "" : "; ", memberText(name, one), says.empty() ? "its own" : says);
    }
    return all.empty() ? "none" : all;
}

std::string fieldsText(const Fields& fields, const void* facet, const Member* without) {
    std::string all;
    for (const Member& m : fields.members)
        if (&m != without && m.stored && (m.always || !isUsual(m, facet)))
            all.append(all.empty() ? "" : ", ").append(memberText(m, facet));
    return all;
}

}  // namespace

std::string memberText(const Member& member, const void* facet) {
    if (member.parts.fields != nullptr) return partsText(member, facet);
    const std::optional<Value> value = member.get(facet);
    if (!value) return "none";
    const Property& p = member.property;
    if (p.type == PropertyType::Bool) return (std::get<bool>(value->data) ? "" : "not ") + base::lowered(p.label);
    if (p.type == PropertyType::Choice)
        for (const Choice& c : p.choices)
            if (value->data == Value{c.value}.data) return c.label;
    std::string text;
    const auto* list = std::get_if<ValueList>(&value->data);
    for (const Value& one : list != nullptr ? *list : ValueList{*value}) {
        double room = 0;
        const double* number = asNumber(one, room);
        text.append(text.empty() ? "" : p.type == PropertyType::Colour ? ", " : " × ");
        text += number != nullptr ? base::shortest(std::round(*number * 1000) / 1000) : valueText(p, one);
    }
    if (p.type == PropertyType::List) text = fmt::format("{} {}", list->size(), base::lowered(p.label));
    if (p.type == PropertyType::Angle) return text + "°";
    return p.unit.empty() || list != nullptr ? text : text + " " + p.unit;
}

std::string facetText(const FacetType& type, const void* facet) {
    const std::string text = fieldsText(type.fields, facet);
    return text.empty() ? "as usual" : text;
}

namespace {

bool linksSomething(const Member& m) {
    return linksObject(m.property.type) || (!m.property.element.empty() && linksObject(m.property.element[0].type));
}

template <class Visit>
void eachLinkMember(const Fields& fields, const void* facet, const Visit& visit) {
    for (const Member& m : fields.members) {
        if (linksSomething(m) && m.stored) visit(m, facet);
        for (std::size_t i = 0; m.parts.fields != nullptr && i < m.parts.size(facet); ++i)
            eachLinkMember(*m.parts.fields, m.parts.at(facet, i), visit);
    }
}

}  // namespace

bool eachObjectLink(Facets& facets, const std::function<void(base::ObjectId&)>& visit) {
    bool any = false;
    const Facets before = facets;
    for (const Facets::Entry& e : before) {
        bool links = false;
        eachLinkMember(e.type->fields, e.value.get(), [&](const Member&, const void*) { links = true; });
        if (!links) continue;
        const std::shared_ptr<void> other = e.type->copy(e.value.get());
        bool changed = false;
        eachLinkMember(e.type->fields, other.get(), [&](const Member& m, const void* holder) {
            std::optional<Value> value = m.get(holder);
            if (!value) return;
            ValueMap one = {{m.property.name, *value}};
            if (!eachObjectLink(one, visit)) return;
            m.set(const_cast<void*>(holder), one[0].second);  // the copy is ours
            changed = true;
        });
        if (changed) facets.put(*e.type, other);
        any = any || changed;
    }
    return any;
}

bool hasObjectLink(const Facets& facets) {
    bool any = false;
    for (const Facets::Entry& e : facets)
        eachLinkMember(e.type->fields, e.value.get(), [&](const Member& m, const void* holder) {
            const std::optional<Value> value = m.get(holder);
            any = any || (value && hasObjectLink(ValueMap{{m.property.name, *value}}));
        });
    return any;
}

}  // namespace model
