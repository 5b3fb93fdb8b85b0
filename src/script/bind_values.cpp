// Properties, links, records, facets.
#include <fmt/format.h>

#include "base/text.h"
#include "io/facet_json.h"
#include "model/facets/body.h"
#include "model/facets/note.h"
#include "model/facets/points.h"
#include "model/facets/surfaces.h"
#include "model/facets/zone.h"
#include "ops/facet_members.h"
#include "ops/facets.h"
#include "ops/properties.h"
#include "ops/records.h"
#include "ops/surfaces.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

model::Value valueOf(Context& c, const model::Property& property, const Datum& d) {
    const bool toRecord = property.type == model::PropertyType::Record ||
                          (!property.element.empty() && property.element[0].type == model::PropertyType::Record);
    auto link = [&](ObjectId id) {
        if (toRecord) return model::recordLink(id);
        if (c.scene().find(id) == kNoSlot) trouble("this object is gone");
        return model::objectLink(id);
    };
    if (const auto* b = std::get_if<bool>(&d)) return {*b};
    if (const auto* n = std::get_if<double>(&d)) {
        if (!std::isfinite(*n)) trouble("argument 2: a finite number was expected");
        return taken(model::fitted(property, {*n}));
    }
    if (const auto* t = std::get_if<std::string>(&d)) return taken(model::parsedValue(property, *t));
    if (const auto* v = std::get_if<Vec3>(&d)) {
        if (!base::isFinite(*v)) trouble("argument 2: a finite vector was expected");
        return taken(model::fitted(property, {model::ValueList{{v->x}, {v->y}, {v->z}}}));
    }
    if (const auto* id = std::get_if<ObjectId>(&d)) return link(*id);
    if (const auto* list = std::get_if<Objects>(&d)) {
        model::ValueList values;
        for (ObjectId id : *list) values.push_back(link(id));
        return {std::move(values)};
    }
    if (const auto* list = std::get_if<std::vector<std::string>>(&d)) {
        model::ValueList values;
        for (const std::string& t : *list) values.push_back({t});
        return taken(model::fitted(property, {std::move(values)}));
    }
    if (std::holds_alternative<Nothing>(d)) return model::defaultOf(property);
    trouble("argument 2: that is no value of a property");
}

namespace {

using Needs = Binding::Needs;

const model::Property& inRecord(const ops::FoundRecord& found, const std::string& key) {
    for (const model::Property& p : found.type->properties)
        if (p.name == key) return p;
    trouble(fmt::format("the type “{}” has no property “{}”", found.type->name, key));
}
const model::Property& propertyOf(Context& c, Slot s, const std::string& key) {
    const model::Property* property = ops::propertyOf(c.library(), c.scene(), s, key);
    if (property == nullptr && ops::facetMember(key))
        trouble(fmt::format("this object has no {}", base::lowered(ops::facetMember(key).type->label)));
    if (property == nullptr) trouble(fmt::format("the kind “{}” has no property “{}”", c.scene().kindText(s), key));
    return *property;
}

Data get(Context& c, const Data& a) {
    model::Value room;
    Reader r(c, a);
    if (const ops::FoundRecord found = recordOf(c, a); found.record != nullptr) {
        const model::Property& property = inRecord(found, r.text());
        return {datumOf(property, ops::recordValue(*found.record, property, room))};
    }
    const Slot s = self(c, a);
    const model::Property& property = propertyOf(c, s, r.text());
    return {datumOf(property, *ops::propertyValue(c.scene(), s, property, room))};
}

Data set(Context& c, const Data& a) {
    Reader r(c, a);
    if (const ops::FoundRecord found = recordOf(c, a); found.record != nullptr) {
        const model::Property& property = inRecord(found, r.text());
        if (a.size() < 3) trouble("argument 2: a value was expected");
        const std::string key = property.name;
        const model::Value value = valueOf(c, property, a[2]);
        check(ops::setRecord(c.create(), std::get<ObjectId>(a[0]), key, value));
        return {};
    }
    const Slot s = self(c, a);
    const std::string key = r.text();
    const model::Property& property = propertyOf(c, s, key);
    if (a.size() < 3) trouble("argument 2: a value was expected");
    const ObjectId one = c.scene().id(s);
    check(ops::setProperty(c.change({&one, 1}), {&one, 1}, key, valueOf(c, property, a[2])));
    return {};
}
Data reset(Context& c, const Data& a) {
    const ObjectId one = c.scene().id(self(c, a));
    check(ops::resetProperty(c.change({&one, 1}), {&one, 1}, Reader(c, a).text()));
    return {};
}
Data has(Context& c, const Data& a) {
    Reader r(c, a);
    if (const ops::FoundRecord found = recordOf(c, a); found.record != nullptr) {
        const std::string key = r.text();
        for (const model::Property& p : found.type->properties)
            if (p.name == key) return {true};
        return {false};
    }
    const Slot s = self(c, a);
    return {ops::propertyOf(c.library(), c.scene(), s, r.text()) != nullptr};
}
Data linkedFrom(Context& c, const Data& a) {
    const ObjectId to = c.scene().id(self(c, a));
    Objects from;
    for (const ops::Link& link : ops::links(c.scene()))
        if (link.to == to && (from.empty() || from.back() != link.from)) from.push_back(link.from);
    return {std::move(from)};
}
Data linksTo(Context& c, const Data& a) {
    const ObjectId from = c.scene().id(self(c, a));
    Objects to;
    for (const ops::Link& link : ops::links(c.scene()))
        if (link.from == from && !link.broken) to.push_back(link.to);
    return {std::move(to)};
}
Data records(Context& c, const Data& a) {
    const std::string type = Reader(c, a).text();
    const model::RecordType* found = c.library().recordType(type);
    if (found == nullptr) trouble(fmt::format("there is no type of records “{}”", type));
    Objects ids;
    for (const auto& [id, record] : found->records) ids.push_back(id);
    return {std::move(ids)};
}
Data newRecord(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string type = r.text(), called = r.text();
    return {taken(ops::newRecord(c.create(), type, called))};
}

Data body(Context& c, const Data& a) {
    using Shape = model::Body::Shape;
    using Role = model::Body::Role;
    static const std::initializer_list<std::pair<const char*, Shape>> shapes = {{"mesh", Shape::Mesh},
                                                                                {"box", Shape::Box},
                                                                                {"sphere", Shape::Sphere},
                                                                                {"capsule", Shape::Capsule},
                                                                                {"hull", Shape::Hull}};
    const Slot s = self(c, a);
    const model::DetailPtr& detail = c.scene().detail(s);
    Reader r(c, a);
    if (!r.more()) {
        if (!detail || !detail->get<model::Body>()) return {Nothing{}};
        for (const auto& [word, shape] : shapes)
            if (shape == detail->get<model::Body>()->shape) return {std::string(word)};
    }
    model::Body wanted;
    if (detail && detail->get<model::Body>()) wanted = *detail->get<model::Body>();
    const ObjectId one = c.scene().id(s);
    if (std::get_if<std::string>(&a[1]) != nullptr && std::get<std::string>(a[1]) == "none") {
        check(ops::setBody(c.change({&one, 1}), {&one, 1}, std::nullopt));
        return {};
    }
    wanted.shape = r.word<Shape>(shapes);
    wanted.fitted = true;
    using Wakes = model::Body::Wakes;
    if (r.more()) {
        const auto [role, wakes] =
            r.word<std::pair<Role, Wakes>>({{"fixed", {Role::Fixed, wanted.wakes}},
                                            {"guided", {Role::Guided, wanted.wakes}},
                                            {"loose", {Role::Loose, Wakes::AtOnce}},
                                            {"loose when touched", {Role::Loose, Wakes::WhenBumped}},
                                            {"loose by a cue", {Role::Loose, Wakes::ByCue}}});
        wanted.role = role;
        wanted.wakes = wakes;
    }
    check(ops::setBody(c.change({&one, 1}), {&one, 1}, wanted));
    return {};
}
Data points(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::DetailPtr& detail = c.scene().detail(s);
    Reader r(c, a);
    if (!r.more()) {
        std::vector<Vec3> all;
        if (detail && detail->get<model::PointSet>())
            for (const model::PlacePoint& p : detail->get<model::PointSet>()->points)
                all.push_back(ops::pointInWorld(c.scene(), s, p));
        return {std::move(all)};
    }
    const auto given = r.points();
    const ObjectId one = c.scene().id(s);
    edit::Draft& draft = c.change({&one, 1});
    model::PointSet set =
        detail && detail->get<model::PointSet>() ? *detail->get<model::PointSet>() : model::PointSet{};
    set.points.resize(given.size());
    for (std::size_t i = 0; i < given.size(); ++i) {
        if (!base::isFinite(given[i])) r.wrong("a list of finite vectors");
        set.points[i].at = set.stays ? given[i] : ops::pointInOwner(c.scene(), s, given[i]);
    }
    check(ops::setPoints(draft, one, set));
    return {};
}
Data facet(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const std::string key = r.text();
    const model::FacetType* type = model::facetType(key);
    if (type == nullptr) trouble(fmt::format("there is no facet “{}”", key));
    if (!r.more()) return {c.scene().detail(s) && c.scene().detail(s)->facets.find(*type) != nullptr};
    const bool there = r.truth();
    if (!type->byHand) trouble(fmt::format("the facet “{}” comes with what it belongs to", key));
    const ObjectId one = c.scene().id(s);
    edit::Draft& draft = c.change({&one, 1});
    check(there ? ops::giveFacet(draft, {&one, 1}, *type) : ops::takeFacet(draft, {&one, 1}, *type));
    return {};
}
Data inside(Context& c, const Data& a) {
    const Slot s = self(c, a);
    if (!c.scene().facet<model::Zone>(s)) trouble("this object has no zone");
    return {ops::isInZone(c.scene(), s, Reader(c, a).point())};
}
Data surface(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const std::string slot = r.text();
    if (!r.more()) return {ops::slotOf(c.scene(), s, slot).surface};
    const std::string wanted = r.text();
    const ObjectId one = c.scene().id(s);
    if (wanted.empty())
        check(ops::clearSlot(c.change({&one, 1}), {&one, 1}, slot));
    else
        check(ops::setSlot(c.change({&one, 1}), {&one, 1}, slot,
                           [&](model::SlotSurface& shown) { shown.surface = wanted; }));
    return {};
}
Data note(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::DetailPtr& detail = c.scene().detail(s);
    Reader r(c, a);
    if (!r.more()) return {detail && detail->get<model::Note>() ? detail->get<model::Note>()->text : std::string()};
    const std::string words = r.text();
    if (words.size() > 10'000) trouble("a note has at most 10,000 letters");
    const ObjectId one = c.scene().id(s);
    check(ops::changeDetails(c.change({&one, 1}), {&one, 1}, [&](Slot, model::Detail& d) -> base::Status {
        d.put(words.empty() ? std::nullopt : std::optional(model::Note{words}));
        return {};
    }));
    return {};
}

}  // namespace

Datum datumOf(const model::Property& property, const model::Value& value) {
    using model::PropertyType;
    if (const auto* b = std::get_if<bool>(&value.data)) return *b;
    double n = 0;
    if (const double* number = model::asNumber(value, n)) return *number;
    if (const ObjectId to = model::objectIn(value)) return to;
    if (const ObjectId to = model::recordIn(value)) return to;
    if (linksObject(property.type) || property.type == PropertyType::Record) return Nothing{};
    if (const auto* list = std::get_if<model::ValueList>(&value.data)) {
        if ((property.type == PropertyType::Vector || property.type == PropertyType::Colour) && list->size() == 3) {
            Vec3 v(0.0);
            for (int k = 0; k < 3; ++k)
                if (const double* part = model::asNumber((*list)[static_cast<std::size_t>(k)], n)) v[k] = *part;
            return v;
        }
        const bool links = !property.element.empty() &&
                           (linksObject(property.element[0].type) || property.element[0].type == PropertyType::Record);
        if (links || list->empty()) {
            Objects ids;
            for (const model::Value& one : *list) {
                const ObjectId to = model::objectIn(one);
                ids.push_back(to ? to : model::recordIn(one));
            }
            return ids;
        }
        std::vector<std::string> texts;
        for (const model::Value& one : *list)
            if (const auto* t = std::get_if<std::string>(&one.data)) texts.push_back(*t);
        if (texts.size() == list->size()) return texts;
    }
    return model::valueText(property, value);
}

namespace {

/// A facet as files have it, which a script writes or reads whole: cues, what a use moves.
Data facetJson(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    const std::string key = r.text();
    const model::FacetType* type = model::facetType(key);
    if (type == nullptr) trouble(fmt::format("there is no facet “{}”", key));
    const model::DetailPtr& detail = c.scene().detail(s);
    const void* has = detail ? detail->facets.find(*type) : nullptr;
    if (!r.more()) {
        if (has == nullptr) return {std::string()};
        return {io::facetJson(*type, has)};
    }
    auto made = io::facetFromJson(*type, r.text());
    if (!made) trouble(made.error().message);
    const ObjectId one = c.scene().id(s);
    check(ops::putFacet(c.change({&one, 1}), one, *type, *made));
    return {};
}

}  // namespace

Bindings valueBindings() {
    return {
        {{"get", "property",
          "A property's value: its own, else the default; or a facet's member, such as light.intensity. Links are "
          "objects or records, vectors and colours vectors."},
         Needs::Scene,
         true,
         get},
        {{"set", "property, value", "Sets a property; nil: the default again."}, Needs::Scene, true, set},
        {{"reset", "property", "The default again; takes away what no kind knows."}, Needs::Scene, true, reset},
        {{"has", "property", "Does its kind have this property?"}, Needs::Scene, true, has},
        {{"links", "", "The objects that it links to."}, Needs::Scene, true, linksTo},
        {{"linkedFrom", "", "The objects that link to it."}, Needs::Scene, true, linkedFrom},
        {{"body", "[shape [, role]]",
          "The shape physics bumps into, nil: none; with mesh, box, sphere, capsule or hull: gives it one, fixed, "
          "guided, loose, loose when touched or loose by a cue; none: takes it away."},
         Needs::Scene,
         true,
         body},
        {{"points", "[list]", "Its points, in the world; with a list of vectors: these instead."},
         Needs::Scene,
         true,
         points},
        {{"facet", "name [, there]",
          "Has it this facet: light, camera, note, tint, body, points, zone …; with true or false: gives or takes it."},
         Needs::Scene,
         true,
         facet},
        {{"facetJson", "name [, text]",
          "A facet as files have it, as JSON text, empty: it has none; with a text: that instead. For lists within: "
          "cues, what a use moves."},
         Needs::Scene,
         true,
         facetJson},
        {{"inside", "point", "Is a point of the world in its zone?"}, Needs::Scene, true, inside},
        {{"surface", "slot [, name]", "The surface that a slot shows, empty: its own; with a name: shows that."},
         Needs::Scene,
         true,
         surface},
        {{"note", "[text]", "What is noted at it; with a text: notes that, empty: nothing."}, Needs::Scene, true, note},
        {{"records", "type",
          "The records of a type. They have name, kind, id, get, set, has and alive, as objects do."},
         Needs::Scene,
         false,
         records},
        {{"newRecord", "type, name", "A new record; gives it."}, Needs::Scene, false, newRecord},
    };
}

}  // namespace script
