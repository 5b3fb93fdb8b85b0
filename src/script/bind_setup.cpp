// What is set for the scene as a whole, and what is said of items.
#include <fmt/format.h>

#include "model/scene_fields.h"
#include "ops/berths.h"
#include "ops/items.h"
#include "ops/keep.h"
#include "ops/outfits.h"
#include "script/bindings.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {
namespace {

using Needs = Binding::Needs;

const model::Member& memberOf(const model::Fields& fields, const std::string& name) {
    const model::Member* member = fields.find(name);
    if (member == nullptr || member->parts.fields != nullptr)
        trouble(fmt::format("there is nothing called “{}” that a script sets", name));
    return *member;
}
Data read(const model::Member& member, const void* thing) {
    return {datumOf(member.property, member.get(thing).value_or(model::defaultOf(member.property)))};
}

Data setting(Context& c, const Data& a) {
    Reader r(c, a);
    const model::Member& member = memberOf(model::sceneFields(), r.text());
    if (!r.more()) return read(member, &c.scene().settings());
    edit::Draft& draft = c.create();
    model::SceneSettings settings = c.scene().settings();
    check(model::setMember(model::sceneFields(), &settings, member, valueOf(c, member.property, r.next())));
    check(draft.setSettings(settings));
    return {};
}

Data itemFact(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string key = r.text();
    const model::Member& member = memberOf(model::itemFields(), r.text());
    const model::Item* item = nullptr;
    for (const model::Item& one : c.library().items())
        if (one.name == key && !one.isSolid && !one.prefab) item = &one;
    if (item == nullptr) trouble(fmt::format("there is no item “{}”", key));
    model::ItemFacts facts = *item;
    if (!r.more()) return read(member, &facts);
    edit::Draft& draft = c.create();
    check(model::setMember(model::itemFields(), &facts, member, valueOf(c, member.property, r.next())));
    check(ops::setItem(draft, c.session().intern(key), facts));
    return {};
}

Data wear(Context& c, const Data& a) {
    Reader r(c, a);
    const Objects ids = r.objects();
    const std::string outfit = r.text("");
    c.flush();
    check(ops::wear(c.change(ids), ids, outfit));
    return {};
}

Data outfits(Context& c, const Data& a) {
    const std::string kind = Reader(c, a).text();
    const model::Kind* known = c.library().kindNamed(kind);
    if (known == nullptr) trouble(fmt::format("there is no kind “{}”", kind));
    std::vector<std::string> names;
    for (const model::Outfit& outfit : known->outfits) names.push_back(outfit.name);
    return {std::move(names)};
}

Data guises(Context& c, const Data&) {
    std::vector<std::string> names;
    for (const auto& [name, guise] : c.library().guises()) names.push_back(name);
    return {std::move(names)};
}

Data views(Context& c, const Data&) {
    std::vector<std::string> names;
    for (const model::Bookmark& view : c.scene().settings().bookmarks) names.push_back(view.name);
    return {std::move(names)};
}

/// Where one looks from and at; with both, the view is kept so.
Data savedView(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string name = r.text();
    if (r.more()) {
        model::Bookmark view;
        view.name = name;
        view.from = r.point();
        view.to = r.point();
        check(ops::keepView(c.create(), view));
        return {};
    }
    for (const model::Bookmark& view : c.scene().settings().bookmarks)
        if (view.name == name) return {view.from, view.to};
    trouble(fmt::format("there is no view “{}”", name));
}

Data intoBerth(Context& c, const Data& a) {
    Reader r(c, a);
    const base::ObjectId id = r.object(), holder = r.object();
    const std::string name = r.text();
    c.flush();
    const auto berth = ops::berthOf(c.library(), c.scene(), holder, name);
    if (!berth) trouble(fmt::format("there is no berth “{}” that is free", name));
    const base::ObjectId ids[] = {id};
    check(ops::putInBerth(c.change(ids), id, *berth));
    return {};
}

}  // namespace

Bindings setupBindings() {
    return {
        {{"setting", "name [, value]",
          "What is set for the scene: sunHeight and sunBearing (degrees), sunColour, sunStrength, sky, ground, haze, "
          "guise, levelLow and levelHigh, viewFrom and viewTo, notes."},
         Needs::Scene,
         false,
         setting},
        {{"itemFact", "item, name [, value]",
          "What is said of an item: label, folder, kind, collision, unit, up, basePoint, smallestSize, largestSize, "
          "cost, "
          "offered, favourite."},
         Needs::Scene,
         false,
         itemFact},
        {{"outfits", "kind", "The names of the outfits of a kind."}, Needs::Scene, false, outfits},
        {{"wear", "objects [, outfit]",
          "They wear an outfit of their kind; without a name none, and stay as they are."},
         Needs::Scene,
         false,
         wear},
        {{"guises", "", "The names of the project's guises; setting(\"guise\", name) shows the scene in one."},
         Needs::Scene,
         false,
         guises},
        {{"views", "", "The names of the views that are kept with the scene."}, Needs::Scene, false, views},
        {{"savedView", "name [, from, to]", "Where a kept view looks from and at; with both, it is kept so."},
         Needs::Scene,
         false,
         savedView},
        {{"intoBerth", "object, holder, name",
          "Puts an object into a free berth of another, to which it belongs then."},
         Needs::Scene,
         false,
         intoBerth},
    };
}

}  // namespace script
