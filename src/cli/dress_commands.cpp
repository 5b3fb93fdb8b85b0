#include "cli/dress_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "cli/fields.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/json_text.h"
#include "model/property_types.h"
#include "model/scene_fields.h"
#include "ops/berths.h"
#include "ops/guises.h"
#include "ops/outfits.h"

namespace cli {
namespace {

struct Arguments {
    std::string path, name, to, kind, object, holder;
    std::vector<std::string> values;
    bool asJson = false, withItem = false;
};

/// Runs a verb as one step on the scene that the path names, or the first, and writes the files.
int change(const Arguments& a, const Verbs& v, const std::string& step,
           const std::function<Status(edit::Draft&)>& verb) {
    return runStep(a.path, v, {}, step, [&](const Opened&, edit::Draft& draft) { return verb(draft); });
}

io::Json jsonOf(const model::Outfit& outfit, const std::string& kind) {
    io::Json one = {{"kind", kind}};
    for (const auto& [key, value] : model::toValues(outfit)) one[key] = io::toJson(value);
    return one;
}

int listOutfits(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    for (const model::Kind& kind : opened->session().library().kinds())
        for (const model::Outfit& outfit : kind.outfits) {
            if (!a.kind.empty() && a.kind != kind.name) continue;
            if (a.asJson)
                v.io.out << io::toText(jsonOf(outfit, kind.name)) << "\n";
            else
                v.io.out << fmt::format("{}  {}\n", kind.name, outfit.name);
        }
    return exitCode::kFine;
}

int keepOutfit(const Arguments& a, const Verbs& v) {
    return change(a, v, "Outfit " + a.name, [&](edit::Draft& draft) -> Status {
        const auto id = objectOf(draft.scene(), a.object);
        if (!id) return tl::unexpected(id.error());
        const Slot slot = draft.scene().find(*id);
        const std::string kind(draft.scene().kindText(slot));
        const model::Outfit outfit = ops::outfitOf(draft.session(), draft.scene(), slot, a.name, a.withItem);
        if (auto put = ops::putOutfit(draft, kind, outfit); !put) return tl::unexpected(put.error());
        return ops::wear(draft, {&*id, 1}, a.name);
    });
}

int deleteOutfit(const Arguments& a, const Verbs& v) {
    return change(a, v, "Remove outfit " + a.name,
                  [&](edit::Draft& draft) { return ops::removeOutfit(draft, a.kind, a.name); });
}

int listGuises(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    for (const auto& [name, guise] : opened->session().library().guises()) {
        if (a.asJson) {
            io::Json one = {{"name", name}};
            for (const auto& [key, value] : model::toValues(guise)) one[key] = io::toJson(value);
            v.io.out << io::toText(one) << "\n";
        } else {
            v.io.out << fmt::format("{}  {} surfaces, {} items, {} tints, {} of light\n", name, guise.surfaces.size(),
                                    guise.items.size(), guise.tints.size(), guise.light.size());
        }
    }
    return exitCode::kFine;
}

/// "surface:moss=snow", "item:reed=reed-dry", "tint:Plant=#ffffff", "light:sunStrength=0.4"; empty: not any more.
Status setInGuise(model::Guise& guise, const std::string& text) {
    const std::size_t colon = text.find(':'), sign = text.find('=', colon == std::string::npos ? 0 : colon);
    if (colon == std::string::npos || sign == std::string::npos)
        return base::fail(ErrorCode::BadInput,
                          fmt::format("“{}”: surface:FROM=TO, item:FROM=TO, tint:KIND=COLOUR or light:KEY=VALUE was "
                                      "expected.",
                                      text));
    const std::string what = text.substr(0, colon), from = text.substr(colon + 1, sign - colon - 1),
                      to = text.substr(sign + 1);
    if (what == "surface" || what == "item") {
        model::Guise::Swaps& swaps = what == "item" ? guise.items : guise.surfaces;
        if (to.empty())
            swaps.erase(from);
        else
            swaps[from] = to;
        return {};
    }
    if (what == "tint") {
        guise.tints.erase(from);
        if (to.empty()) return {};
        model::Property colour;
        colour.label = "tint";
        colour.type = model::PropertyType::Colour;
        auto value = model::parsedValue(colour, to);
        if (!value) return tl::unexpected(value.error());
        const auto& parts = std::get<model::ValueList>(value->data);
        for (int k = 0; k < 3; ++k) {
            double room = 0;
            guise.tints[from][k] = *model::asNumber(parts[static_cast<std::size_t>(k)], room);
        }
        return {};
    }
    const model::Member* member = what == "light" ? model::sceneFields().find(from) : nullptr;
    if (member == nullptr)
        return base::fail(ErrorCode::NotFound, fmt::format("“{}”: a guise has no “{}:{}”.", text, what, from));
    model::eraseValue(guise.light, from);
    if (to.empty()) return {};
    auto value = model::parsedValue(member->property, to);
    if (!value) return tl::unexpected(value.error());
    model::setValue(guise.light, from, *value);
    return {};
}

int setGuise(const Arguments& a, const Verbs& v) {
    return change(a, v, "Guise " + a.name, [&](edit::Draft& draft) -> Status {
        const model::Guise* known = draft.session().library().guise(a.name);
        model::Guise guise = known != nullptr ? *known : model::Guise{};
        guise.name = a.name;
        for (const std::string& one : a.values)
            if (Status set = setInGuise(guise, one); !set) return set;
        return ops::putGuise(draft, guise);
    });
}

int renameGuise(const Arguments& a, const Verbs& v) {
    return change(a, v, fmt::format("Rename guise {} to {}", a.name, a.to),
                  [&](edit::Draft& draft) { return ops::renameGuise(draft, a.name, a.to); });
}

int deleteGuise(const Arguments& a, const Verbs& v) {
    return change(a, v, "Remove guise " + a.name, [&](edit::Draft& draft) { return ops::removeGuise(draft, a.name); });
}

int berth(const Arguments& a, const Verbs& v) {
    return change(a, v, "Into the berth " + a.name, [&](edit::Draft& draft) -> Status {
        const auto object = objectOf(draft.scene(), a.object), holder = objectOf(draft.scene(), a.holder);
        if (!object) return tl::unexpected(object.error());
        if (!holder) return tl::unexpected(holder.error());
        const auto place = ops::berthOf(draft.session().library(), draft.scene(), *holder, a.name);
        if (!place)
            return base::fail(ErrorCode::NotFound,
                              fmt::format("“{}” has no berth “{}” that is free.",
                                          draft.scene().nameText(draft.scene().find(*holder)), a.name));
        return ops::putInBerth(draft, *object, *place);
    });
}

}  // namespace

void addDressCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    const auto add = [&](CLI::App& to, const char* name, const char* help, const char* path,
                         int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(to, name, help, path, a, verbs, run);
    };
    const auto named = [&](CLI::App* command, const char* what, std::string& value) {
        command->add_option(what, value)->required();
        return command;
    };
    CLI::App& outfit = addGroup(app, "outfit", "Named sets of what objects of a kind have: list, keep, delete");
    auto* listed = add(outfit, "list", "Those of every kind", "PROJECT", listOutfits);
    listed->add_option("--kind", a->kind, "Of this kind only");
    listed->add_flag("--json", a->asJson, "A JSON object a line");
    auto* kept = named(
        add(outfit, "keep", "What an object has becomes one of its kind; who wears it follows", "SCENE", keepOutfit),
        "OBJECT", a->object);
    named(kept, "NAME", a->name)->add_flag("--item", a->withItem, "Its item, too: the variation");
    named(named(add(outfit, "delete", "Who wears it stays as it is", "PROJECT", deleteOutfit), "KIND", a->kind), "NAME",
          a->name);
    CLI::App& guise = addGroup(app, "guise", "Named looks of the whole scene: list, set, rename, delete");
    add(guise, "list", "The project’s", "PROJECT", listGuises)->add_flag("--json", a->asJson, "A JSON object a line");
    named(add(guise, "set", "Makes one, or changes it", "PROJECT", setGuise), "NAME", a->name)
        ->add_option("WHAT=TO", a->values,
                     "surface:FROM=TO, item:FROM=TO, tint:KIND=COLOUR, light:KEY=VALUE; nothing after =: no longer");
    named(named(add(guise, "rename", "Scenes that are shown in it follow", "PROJECT", renameGuise), "NAME", a->name),
          "TO", a->to);
    named(add(guise, "delete", "Scenes that are shown in it are shown as they are", "PROJECT", deleteGuise), "NAME",
          a->name);
    auto* into = add(app, "berth", "Puts an object into a berth of another", "SCENE", berth);
    named(named(named(into, "OBJECT", a->object), "HOLDER", a->holder), "NAME", a->name);
}

}  // namespace cli
