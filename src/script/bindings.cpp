#include "script/bindings.h"

#include <fmt/format.h>

#include <cmath>

#include "base/text.h"
#include "model/property.h"
#include "ops/group.h"
#include "ops/objects.h"
#include "ops/properties.h"
#include "query/object_filter.h"

namespace script {

namespace {

using base::ObjectId;
using base::Vec3;
using model::kNoSlot;
using model::Slot;

[[noreturn]] void trouble(std::string message) {
    throw Trouble{std::move(message), false};
}

void check(const base::Status& status) {
    if (!status) throw Trouble{status.error().message, true};
}
template <class T>
T taken(base::Result<T> result) {
    if (!result) throw Trouble{result.error().message, true};
    return std::move(*result);
}

bool has(const Data& a, std::size_t i) {
    return i < a.size() && !std::holds_alternative<Nothing>(a[i]);
}

double number(const Data& a, std::size_t i) {
    const auto* n = i < a.size() ? std::get_if<double>(&a[i]) : nullptr;
    if (n == nullptr || !std::isfinite(*n)) trouble(fmt::format("argument {}: a finite number was expected", i));
    return *n;
}
std::string text(const Data& a, std::size_t i) {
    const auto* t = i < a.size() ? std::get_if<std::string>(&a[i]) : nullptr;
    if (t == nullptr) trouble(fmt::format("argument {}: a text was expected", i));
    return *t;
}
bool truth(const Data& a, std::size_t i) {
    const auto* b = i < a.size() ? std::get_if<bool>(&a[i]) : nullptr;
    if (b == nullptr) trouble(fmt::format("argument {}: true or false was expected", i));
    return *b;
}
ObjectId object(const Context& c, const Data& a, std::size_t i) {
    const auto* id = i < a.size() ? std::get_if<ObjectId>(&a[i]) : nullptr;
    if (id == nullptr) trouble(fmt::format("argument {}: an object was expected", i));
    if (c.draft.scene().find(*id) == kNoSlot) trouble("this object is gone");
    return *id;
}
std::vector<ObjectId> objects(const Context& c, const Data& a, std::size_t i) {
    if (i < a.size())
        if (const auto* list = std::get_if<std::vector<ObjectId>>(&a[i])) {
            for (ObjectId id : *list)
                if (c.draft.scene().find(id) == kNoSlot) trouble("an object of the list is gone");
            return *list;
        }
    return {object(c, a, i)};
}
Slot self(Context& c, const Data& a) {
    const ObjectId id = object(c, a, 0);
    c.atHand = id;
    return c.draft.scene().find(id);
}
Data three(const Vec3& v) {
    return {v.x, v.y, v.z};
}

void setLocal(Context& c, Slot s, const base::Transform& local) {
    const ObjectId id = c.draft.scene().id(s);
    check(ops::refuseProtected(c.draft.scene(), {&id, 1}, "moved"));
    check(c.draft.setTransforms({&id, 1}, {&local, 1}));
}

base::Affine around(const model::Scene& scene, Slot s) {
    return scene.parent(s) == kNoSlot ? base::Affine{} : scene.world(scene.parent(s));
}

Data at(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::Scene& scene = c.draft.scene();
    if (!has(a, 1)) return three(scene.world(s).translation);
    const auto into = base::inverse(around(scene, s));
    if (!into) throw Trouble{"what it lies in has no usable size", true};
    const Vec3 to(number(a, 1), number(a, 2), number(a, 3));
    if (glm::length(to) > 1e7) trouble("that is beyond 10,000 km");
    base::Transform local = scene.local(s);
    local.position = into->point(to);
    setLocal(c, s, local);
    return {};
}

Data turn(Context& c, const Data& a) {
    const Slot s = self(c, a);
    base::Transform local = c.draft.scene().local(s);
    if (!has(a, 1)) return three(base::toDegrees(local.rotation));
    local.rotation = base::fromDegrees({number(a, 1), number(a, 2), number(a, 3)});
    setLocal(c, s, local);
    return {};
}

Data size(Context& c, const Data& a) {
    const Slot s = self(c, a);
    base::Transform local = c.draft.scene().local(s);
    if (!has(a, 1)) return three(local.scale);
    const Vec3 wanted = has(a, 2) ? Vec3(number(a, 1), number(a, 2), number(a, 3)) : Vec3(number(a, 1));
    const model::Kind* kind = c.draft.session().library().kind(c.draft.scene().kind(s));
    for (int k = 0; k < 3; ++k) {
        if (!(std::abs(wanted[k]) >= 1e-4 && std::abs(wanted[k]) <= 1e5)) trouble("a size is from 0.0001 to 100,000");
        if (kind != nullptr &&
            (std::abs(wanted[k]) < kind->smallestSize - 1e-9 || std::abs(wanted[k]) > kind->largestSize + 1e-9))
            throw Trouble{fmt::format("the kind {} may be sized from {} to {}", kind->name, kind->smallestSize,
                                      kind->largestSize),
                          true};
    }
    local.scale = wanted;
    setLocal(c, s, local);
    return {};
}

Data name(Context& c, const Data& a) {
    const Slot s = self(c, a);
    if (!has(a, 1)) return {std::string(c.draft.scene().nameText(s))};
    check(ops::rename(c.draft, c.draft.scene().id(s), text(a, 1)));
    return {};
}
Data kind(Context& c, const Data& a) {
    return {std::string(c.draft.scene().kindText(self(c, a)))};
}
Data item(Context& c, const Data& a) {
    return {std::string(c.draft.scene().itemText(self(c, a)))};
}
Data id(Context& c, const Data& a) {
    return {base::toText(c.draft.scene().id(self(c, a)))};
}
Data parent(Context& c, const Data& a) {
    const Slot up = c.draft.scene().parent(self(c, a));
    return {up == kNoSlot ? Datum(Nothing{}) : Datum(c.draft.scene().id(up))};
}
Data children(Context& c, const Data& a) {
    const model::Scene& scene = c.draft.scene();
    std::vector<ObjectId> ids;
    for (Slot s = scene.firstChild(self(c, a)); s != kNoSlot; s = scene.nextSibling(s)) ids.push_back(scene.id(s));
    return {ids};
}
Data put(Context& c, const Data& a) {
    const ObjectId child = c.draft.scene().id(self(c, a));
    check(ops::reparent(c.draft, {&child, 1}, has(a, 1) ? object(c, a, 1) : ObjectId{}, {}));
    return {};
}
Data alive(Context& c, const Data& a) {
    const auto* wanted = a.empty() ? nullptr : std::get_if<ObjectId>(&a[0]);
    return {wanted != nullptr && c.draft.scene().find(*wanted) != kNoSlot};
}
template <std::uint8_t Flag>
Data flag(Context& c, const Data& a) {
    const Slot s = self(c, a);
    if (!has(a, 1)) return {(c.draft.scene().flagsOf(s) & Flag) != 0};
    const ObjectId one = c.draft.scene().id(s);
    check(ops::setFlag(c.draft, {&one, 1}, Flag, truth(a, 1)));
    return {};
}
Data tint(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::DetailPtr& detail = c.draft.scene().detail(s);
    if (a.size() < 2) return detail && detail->tint ? three(*detail->tint) : three(Vec3(1.0));
    const ObjectId one = c.draft.scene().id(s);
    check(ops::setTint(c.draft, {&one, 1}, Vec3(number(a, 1), number(a, 2), number(a, 3))));
    return {};
}
Data box(Context& c, const Data& a) {
    const base::Aabb bounds = c.draft.scene().subtreeBounds(self(c, a));
    if (bounds.empty()) return {};
    return {bounds.low.x, bounds.low.y, bounds.low.z, bounds.high.x, bounds.high.y, bounds.high.z};
}

const model::Property& propertyOf(Context& c, Slot s, const std::string& key) {
    const model::Property* property = ops::propertyOf(c.draft.session(), c.draft.scene(), s, key);
    if (property == nullptr)
        trouble(fmt::format("the kind “{}” has no property “{}”", c.draft.scene().kindText(s), key));
    return *property;
}

Data get(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::Property& property = propertyOf(c, s, text(a, 1));
    model::Value room;
    const model::Value& value = *ops::propertyValue(c.draft.scene(), s, property, room);
    if (const auto* b = std::get_if<bool>(&value.data)) return {*b};
    double n = 0;
    if (const double* number = model::asNumber(value, n)) return {*number};
    if (const ObjectId to = model::objectIn(value)) return {to};
    if (const auto* list = std::get_if<model::ValueList>(&value.data);
        list != nullptr && !list->empty() && model::objectIn(list->front())) {
        std::vector<ObjectId> ids;
        for (const model::Value& one : *list) ids.push_back(model::objectIn(one));
        return {ids};
    }
    return {model::valueText(property, value)};
}

Data set(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const std::string key = text(a, 1);
    const model::Property& property = propertyOf(c, s, key);
    if (a.size() < 3) trouble("argument 2: a value was expected");
    model::Value value;
    if (const auto* b = std::get_if<bool>(&a[2])) value = {*b};
    if (const auto* n = std::get_if<double>(&a[2]))
        value = taken(model::fitted(property, {number(a, 2) == *n ? *n : 0.0}));
    if (const auto* t = std::get_if<std::string>(&a[2])) value = taken(model::parsedValue(property, *t));
    if (std::holds_alternative<Nothing>(a[2])) value = model::defaultOf(property);
    if (std::holds_alternative<ObjectId>(a[2])) value = model::objectLink(object(c, a, 2));
    if (std::holds_alternative<std::vector<ObjectId>>(a[2])) {
        model::ValueList list;
        for (ObjectId to : objects(c, a, 2)) list.push_back(model::objectLink(to));
        value = {std::move(list)};
    }
    const ObjectId one = c.draft.scene().id(s);
    check(ops::setProperty(c.draft, {&one, 1}, key, value));
    return {};
}

Data find(Context& c, const Data& a) {
    const model::Scene& scene = c.draft.scene();
    const query::ObjectFilter filter(has(a, 0) ? text(a, 0) : std::string());
    std::vector<ObjectId> ids;
    for (Slot s : scene.subtree(kNoSlot))
        if (filter.fits(scene, s)) ids.push_back(scene.id(s));
    return {ids};
}
Data named(Context& c, const Data& a) {
    const model::Scene& scene = c.draft.scene();
    const std::string wanted = text(a, 0);
    for (Slot s : scene.subtree(kNoSlot))
        if (scene.nameText(s) == wanted) return {scene.id(s)};
    return {Nothing{}};
}
Data selected(Context& c, const Data&) {
    std::vector<ObjectId> ids;
    for (ObjectId one : c.draft.session().selection())
        if (c.draft.scene().find(one) != kNoSlot) ids.push_back(one);
    return {ids};
}
Data choose(Context& c, const Data& a) {
    c.draft.session().select(objects(c, a, 0));
    return {};
}
Data place(Context& c, const Data& a) {
    ops::Placement placement;
    const std::string key = text(a, 0);
    placement.item = c.draft.session().intern(key);
    placement.position = {number(a, 1), number(a, 2), number(a, 3)};
    if (glm::length(placement.position) > 1e7) trouble("that is beyond 10,000 km");
    if (has(a, 4)) placement.rotation = glm::angleAxis(base::radians(number(a, 4)), Vec3(0, 1, 0));
    if (has(a, 5)) placement.parent = object(c, a, 5);
    return {taken(ops::place(c.draft, placement))};
}
Data remove(Context& c, const Data& a) {
    check(ops::remove(c.draft, objects(c, a, 0)));
    return {};
}
Data copy(Context& c, const Data& a) {
    return {taken(ops::duplicate(c.draft, objects(c, a, 0)))};
}
Data group(Context& c, const Data& a) {
    const auto ids = objects(c, a, 0);
    const std::string called = has(a, 1) ? text(a, 1) : ops::groupName(c.draft.scene(), ids);
    return {taken(ops::group(c.draft, ids, called))};
}
Data ungroup(Context& c, const Data& a) {
    return {taken(ops::ungroup(c.draft, objects(c, a, 0)))};
}
std::string shown(const Datum& d) {
    if (const auto* b = std::get_if<bool>(&d)) return *b ? "true" : "false";
    if (const auto* n = std::get_if<double>(&d)) return std::isfinite(*n) ? base::shortest(*n) : "nan";
    if (const auto* t = std::get_if<std::string>(&d)) return *t;
    if (const auto* o = std::get_if<ObjectId>(&d)) return base::toText(*o);
    if (const auto* l = std::get_if<std::vector<ObjectId>>(&d)) return fmt::format("{} objects", l->size());
    return "nil";
}
Data say(Context& c, const Data& a) {
    constexpr std::size_t kMostLines = 10'000;
    if (c.said.size() >= kMostLines) trouble("10,000 lines were said; that is enough");
    std::string line;
    for (const Datum& d : a) line += (line.empty() ? "" : " ") + shown(d);
    c.said.push_back(std::move(line));
    return {};
}
Data random(Context& c, const Data& a) {
    const double low = has(a, 0) ? number(a, 0) : 0.0, high = has(a, 1) ? number(a, 1) : 1.0;
    return {c.random.between(low, high)};
}
Data clock(Context& c, const Data&) {
    return {static_cast<double>(c.settings.nowMs) / 1000.0};
}
Data argument(Context& c, const Data& a) {
    const auto place = c.settings.args.find(text(a, 0));
    if (place == c.settings.args.end()) return {a.size() > 1 ? a[1] : Datum(Nothing{})};
    if (a.size() < 2 || !std::holds_alternative<double>(a[1])) return {place->second};
    char* end = nullptr;
    const double n = std::strtod(place->second.c_str(), &end);
    if (place->second.empty() || *end != '\0')
        trouble(fmt::format("“{}” is “{}”; a number was expected", place->first, place->second));
    return {n};
}

}  // namespace

const std::vector<Binding>& bindings() {
    namespace f = model::flags;
    static const std::vector<Binding> all = {
        {{"find", "[filter]", "The objects that fit words as the Roster takes them, in tree order; all of them."},
         false,
         find},
        {{"named", "name", "The first object of that name; nil when there is none."}, false, named},
        {{"selected", "", "The selected objects."}, false, selected},
        {{"choose", "objects", "Selects one object, or a list of them."}, false, choose},
        {{"place", "item, x, y, z [, turn [, parent]]",
          "Places an item with its base at a point of the world, turned about up by degrees; gives the object."},
         false,
         place},
        {{"remove", "objects", "Removes objects with all below them."}, false, remove},
        {{"copy", "objects", "Copies objects in place; gives the copies."}, false, copy},
        {{"group", "objects [, name]", "Puts objects under a new group; gives it."}, false, group},
        {{"ungroup", "groups", "Puts what groups hold in their place; gives it."}, false, ungroup},
        {{"say", "values...", "Shows a line of values when the run ends."}, false, say},
        {{"random", "[low, high]", "A number from low to high, 0 to 1 by itself; the same in every run of one seed."},
         false,
         random},
        {{"clock", "", "Seconds since 1970, as passed in when the run began."}, false, clock},
        {{"argument", "name [, usual]", "An argument of the run as text, as a number when the usual one is a number."},
         false,
         argument},
        {{"name", "[new]", "The object's name; with a text: renames it."}, true, name},
        {{"kind", "", "The name of its kind; empty: it has none."}, true, kind},
        {{"item", "", "The name of its item; empty: it has none."}, true, item},
        {{"id", "", "Its id as text."}, true, id},
        {{"parent", "", "What it lies in; nil: the scene."}, true, parent},
        {{"children", "", "What lies directly in it."}, true, children},
        {{"put", "[parent]", "Puts it into another object, or to the top; it stays where it is in the world."},
         true,
         put},
        {{"at", "[x, y, z]", "Its place in the world, metres, as three numbers; with three numbers: puts it there."},
         true,
         at},
        {{"turn", "[x, y, z]", "Its turn in its parent, degrees; with three numbers: turns it so."}, true, turn},
        {{"size", "[x [, y, z]]", "Its size, times its own; with one number or three: sizes it."}, true, size},
        {{"box", "", "The box round it and all below it: low x, y, z, high x, y, z; nothing without a mesh."},
         true,
         box},
        {{"tint", "[r, g, b]", "What its colours are multiplied with, linear, 0 to 1."}, true, tint},
        {{"hidden", "[on]", "Is it hidden while editing?"}, true, flag<f::kHidden>},
        {{"protected", "[on]", "Is it protected?"}, true, flag<f::kProtected>},
        {{"get", "property", "A property's value: its own, else the default. Links are objects, lists of links lists."},
         true,
         get},
        {{"set", "property, value", "Sets a property; nil: the default again."}, true, set},
        {{"alive", "", "Is it still there? The one question that may be asked of an object that is gone."},
         true,
         alive}};
    return all;
}

const std::vector<Function>& functions() {
    static const std::vector<Function> all = [] {
        std::vector<Function> list;
        for (const Binding& b : bindings()) {
            list.push_back(b.about);
            if (b.onObject) list.back().name = "object:" + b.about.name;
        }
        return list;
    }();
    return all;
}

}  // namespace script
