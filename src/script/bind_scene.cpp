// Finding objects, walking the tree, making and removing.
#include <fmt/format.h>

#include "model/facets/solid.h"
#include "model/facets/tint.h"
#include "ops/group.h"
#include "ops/objects.h"
#include "ops/prefab.h"
#include "ops/records.h"
#include "query/object_filter.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {

namespace {

using Needs = Binding::Needs;

Data find(Context& c, const Data& a) {
    return {query::fitting(c.scene(), Reader(c, a).text(""))};
}
Data named(Context& c, const Data& a) {
    const std::string wanted = Reader(c, a).text();
    const model::Scene& scene = c.scene();
    for (Slot s : scene.subtree(kNoSlot))
        if (scene.nameText(s) == wanted) return {scene.id(s)};
    return {Nothing{}};
}
Data selected(Context& c, const Data&) {
    Objects ids;
    for (ObjectId one : c.session().selection())
        if (c.scene().find(one) != kNoSlot) ids.push_back(one);
    return {std::move(ids)};
}
Data choose(Context& c, const Data& a) {
    Objects ids = Reader(c, a).objects();
    (void)c.create();
    c.session().select(std::move(ids));
    return {};
}
ObjectId instance(Context& c, edit::Draft& draft, ObjectId prefab, const std::string& name,
                  const ops::Placement& placement) {
    model::ObjectRecord made;
    made.id = c.session().random().nextId();
    made.name = c.session().intern(draft.freeNames().next(name));
    made.detail = ops::instanceOf(prefab);
    base::Transform world;
    world.position = placement.position;
    world.rotation = placement.rotation;
    made.parent = placement.parent;
    const Slot parent = c.scene().find(placement.parent);
    const auto into = parent == kNoSlot ? std::nullopt : base::inverse(c.scene().world(parent));
    made.local = into ? base::toTransform(*into * base::toAffine(world)) : world;
    check(draft.create({&made, 1}));
    return made.id;
}

Data place(Context& c, const Data& a) {
    Reader r(c, a);
    edit::Draft& draft = c.create();
    ops::Placement placement;
    const std::string key = r.text();
    placement.item = c.session().intern(key);
    placement.position = r.point();
    if (r.more()) {
        const Datum& given = r.next();
        const base::Quat* turn = std::get_if<base::Quat>(&given);
        const double* about = std::get_if<double>(&given);
        if (turn == nullptr && about == nullptr) r.wrong("a turn, or degrees,");
        placement.rotation = turn != nullptr ? *turn : glm::angleAxis(base::radians(*about), Vec3(0, 1, 0));
        if (!base::isFinite(placement.rotation)) r.wrong("a finite turn");
    } else {
        r.next();
    }
    if (r.more()) placement.parent = r.object();
    // By the name of its file, else by what people call it.
    const model::Library& library = c.library();
    if (library.item(placement.item) == nullptr)
        for (const model::Item& item : library.items())
            if (item.label == key) placement.item = c.session().intern(item.name);
    // One made in this very run is no item yet.
    if (library.item(placement.item) == nullptr)
        if (const ObjectId prefab = c.prefabNamed(key)) return {instance(c, draft, prefab, key, placement)};
    return {taken(ops::place(draft, placement))};
}
Data remove(Context& c, const Data& a) {
    if (const ops::FoundRecord found = recordOf(c, a); found.record != nullptr) {
        check(ops::deleteRecord(c.create(), found.record->id));
        return {};
    }
    const Objects ids = Reader(c, a).objects();
    check(ops::remove(c.create(), ids));
    return {};
}
Data copy(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::duplicate(c.create(), ids))};
}
Data group(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const std::string called = r.text(ops::groupName(c.scene(), ids));
    return {taken(ops::group(c.create(), ids, called))};
}
Data ungroup(Context& c, const Data& a) {
    const Objects ids = Reader(c, a).objects();
    return {taken(ops::ungroup(c.create(), ids))};
}
Data items(Context& c, const Data& a) {
    const std::string category = Reader(c, a).text("");
    std::vector<std::string> names;
    for (const model::Item& item : c.library().items())
        if (!item.isSolid && (category.empty() || item.folder == category)) names.push_back(item.name);
    return {std::move(names)};
}
Data kinds(Context& c, const Data&) {
    std::vector<std::string> names;
    for (const model::Kind& kind : c.library().kinds()) names.push_back(kind.name);
    return {std::move(names)};
}

/// A record's name, kind and so on are asked for as an object's are.
bool isRecord(Context& c, const Data& a) {
    return recordOf(c, a).record != nullptr;
}

Data name(Context& c, const Data& a) {
    Reader r(c, a);
    if (isRecord(c, a)) {
        const ObjectId id = std::get<ObjectId>(a[0]);
        if (!r.more()) return {ops::findRecord(c.library(), id).record->name};
        check(ops::renameRecord(c.create(), id, r.text()));
        return {};
    }
    const Slot s = self(c, a);
    if (!r.more()) return {std::string(c.scene().nameText(s))};
    const ObjectId id = c.scene().id(s);
    check(ops::rename(c.change({&id, 1}), id, r.text()));
    return {};
}
Data kind(Context& c, const Data& a) {
    if (isRecord(c, a)) return {ops::findRecord(c.library(), std::get<ObjectId>(a[0])).type->name};
    const Slot s = self(c, a);
    Reader r(c, a);
    if (!r.more()) return {std::string(c.scene().kindText(s))};
    const std::string wanted = r.text();
    if (!wanted.empty() && c.library().kindNamed(wanted) == nullptr)
        trouble(fmt::format("there is no kind “{}”", wanted));
    const ObjectId id = c.scene().id(s);
    const base::Name label = c.session().intern(wanted);
    edit::Draft& draft = c.change({&id, 1});
    check(ops::refuseProtected(c.scene(), {&id, 1}, "changed"));
    check(draft.setLabels(model::LabelField::Kind, {&id, 1}, {&label, 1}));
    return {};
}
Data item(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    if (!r.more()) return {std::string(c.scene().itemText(s))};
    const ObjectId id = c.scene().id(s);
    const std::string wanted = r.text();
    (void)taken(ops::replaceItem(c.change({&id, 1}), {&id, 1}, c.session().intern(wanted)));
    return {};
}
Data id(Context& c, const Data& a) {
    if (isRecord(c, a)) return {base::toText(std::get<ObjectId>(a[0]))};
    return {base::toText(c.scene().id(self(c, a)))};
}
Data parent(Context& c, const Data& a) {
    const Slot up = c.scene().parent(self(c, a));
    return {up == kNoSlot ? Datum(Nothing{}) : Datum(c.scene().id(up))};
}
Data children(Context& c, const Data& a) {
    Objects ids;
    const model::Scene& scene = c.scene();
    for (Slot s = scene.firstChild(self(c, a)); s != kNoSlot; s = scene.nextSibling(s)) ids.push_back(scene.id(s));
    return {std::move(ids)};
}
Data put(Context& c, const Data& a) {
    const ObjectId child = c.scene().id(self(c, a));
    Reader r(c, a);
    const ObjectId to = r.more() ? r.object() : (r.next(), ObjectId{});
    const ObjectId before = r.more() ? r.object() : ObjectId{};
    check(ops::reparent(c.change({&child, 1}), {&child, 1}, to, before));
    return {};
}
Data alive(Context& c, const Data& a) {
    const auto* wanted = a.empty() ? nullptr : std::get_if<ObjectId>(&a[0]);
    return {wanted != nullptr && (c.scene().find(*wanted) != kNoSlot || isRecord(c, a))};
}
template <std::uint8_t Flag>
Data flag(Context& c, const Data& a) {
    const Slot s = self(c, a);
    Reader r(c, a);
    if (!r.more()) return {(c.scene().flagsOf(s) & Flag) != 0};
    const ObjectId one = c.scene().id(s);
    check(ops::setFlag(c.change({&one, 1}), {&one, 1}, Flag, r.truth()));
    return {};
}
Data tint(Context& c, const Data& a) {
    const Slot s = self(c, a);
    const model::DetailPtr& detail = c.scene().detail(s);
    Reader r(c, a);
    if (!r.more()) return {detail && detail->get<model::Tint>() ? detail->get<model::Tint>()->colour : Vec3(1.0)};
    const ObjectId one = c.scene().id(s);
    check(ops::setTint(c.change({&one, 1}), {&one, 1}, r.vector()));
    return {};
}
/// Says it in a message: what tostring() and say() make of an object.
Data shownAs(Context& c, const Data& a) {
    const auto* id = a.empty() ? nullptr : std::get_if<ObjectId>(&a[0]);
    const Slot s = id == nullptr ? kNoSlot : c.scene().find(*id);
    if (s != kNoSlot) return {std::string(c.scene().nameText(s))};
    if (isRecord(c, a)) return {ops::findRecord(c.library(), *id).record->name};
    return {std::string("an object that is gone")};
}

}  // namespace

Bindings sceneBindings() {
    namespace f = model::flags;
    return {
        {{"find", "[filter]", "The objects that fit words as the Roster takes them, in tree order; all of them."},
         Needs::Scene,
         false,
         find},
        {{"named", "name", "The first object of that name; nil when there is none."}, Needs::Scene, false, named},
        {{"selected", "", "The selected objects."}, Needs::Scene, false, selected},
        {{"choose", "objects", "Selects one object, or a list of them."}, Needs::Scene, false, choose},
        {{"items", "[category]", "The names of the items in the Stock, or in one of its categories."},
         Needs::Scene,
         false,
         items},
        {{"kinds", "", "The names of the project's kinds."}, Needs::Scene, false, kinds},
        {{"place", "item, point [, turn [, parent]]",
          "Places an item with its base on a point of the world, turned (a turn, or degrees about up); gives the "
          "object. The item by its file's name or its label; prefabs too."},
         Needs::Scene,
         false,
         place},
        {{"remove", "objects", "Removes objects with all below them, or a record."}, Needs::Scene, false, remove},
        {{"copy", "objects", "Copies objects in place; gives the copies."}, Needs::Scene, false, copy},
        {{"group", "objects [, name]", "Puts objects under a new group; gives it."}, Needs::Scene, false, group},
        {{"ungroup", "groups", "Puts what groups hold in their place; gives it."}, Needs::Scene, false, ungroup},
        {{"name", "[new]", "The object's name; with a text: renames it."}, Needs::Scene, true, name},
        {{"kind", "[new]", "The name of its kind, empty: none; with a text: makes it of that kind."},
         Needs::Scene,
         true,
         kind},
        {{"item", "[new]", "The name of its item, empty: none; with a text: makes it of that item."},
         Needs::Scene,
         true,
         item},
        {{"id", "", "Its id as text."}, Needs::Scene, true, id},
        {{"parent", "", "What it lies in; nil: the scene."}, Needs::Scene, true, parent},
        {{"children", "", "What lies directly in it."}, Needs::Scene, true, children},
        {{"put", "[parent [, before]]",
          "Puts it into another object, or to the top, in front of one there; it stays where it is in the world."},
         Needs::Scene,
         true,
         put},
        {{"alive", "", "Is it still there? The one question that may be asked of an object that is gone."},
         Needs::Scene,
         true,
         alive},
        {{"tint", "[colour]", "What its colours are multiplied with, linear, 0 to 1."}, Needs::Scene, true, tint},
        {{"hidden", "[on]", "Is it hidden while editing?"}, Needs::Scene, true, flag<f::kHidden>},
        {{"protected", "[on]", "Is it protected?"}, Needs::Scene, true, flag<f::kProtected>},
        {{"unseen", "[on]", "Is it not seen in play?"}, Needs::Scene, true, flag<f::kUnseen>},
        {{"untouched", "[on]", "Is it not solid in play?"}, Needs::Scene, true, flag<f::kUntouched>},
        {{"absent", "[on]", "Is it not there at the start?"}, Needs::Scene, true, flag<f::kAbsent>},
        {{"label", "", "What say() calls it: its name, or that it is gone."}, Needs::Scene, true, shownAs},
    };
}

}  // namespace script
