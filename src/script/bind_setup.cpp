// What is set for the scene as a whole, and what is said of items.
#include <fmt/format.h>

#include "model/scene_fields.h"
#include "ops/items.h"
#include "script/bindings.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {
namespace {

using Needs = Binding::Needs;

const model::Member& memberOf(const model::Fields& fields, const std::string& name) {
    const model::Member* member = fields.find(name);
    if (member == nullptr) trouble(fmt::format("there is nothing called “{}” to be set", name));
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

}  // namespace

Bindings setupBindings() {
    return {
        {{"setting", "name [, value]",
          "What is set for the scene: sunHeight and sunBearing (degrees), sunColour, sunStrength, sky, ground, haze, "
          "notes."},
         Needs::Scene,
         false,
         setting},
        {{"itemFact", "item, name [, value]", "What is said of an item: label, folder, kind, collision, offered."},
         Needs::Scene,
         false,
         itemFact},
    };
}

}  // namespace script
