#include "cli/property_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>
#include <ostream>

#include "base/text.h"
#include "io/csv.h"
#include "io/value_json.h"
#include "ops/properties.h"
#include "query/object_filter.h"

namespace cli {
namespace {

using base::ErrorCode;
using base::fail;
using base::ObjectId;
using base::Status;
using model::kNoSlot;
using model::Slot;
using Json = nlohmann::ordered_json;

struct Arguments {
    std::string path, where, name;
    bool asJson = false, asCsv = false;
};

ops::Ids chosen(const model::Scene& scene, const std::string& where) {
    ops::Ids ids;
    const query::ObjectFilter filter(where);
    for (Slot s : scene.subtree(kNoSlot))
        if (filter.fits(scene, s)) ids.push_back(scene.id(s));
    return ids;
}

Json json(const model::Value& value) {
    std::string text;
    io::appendJson(text, value);
    return Json::parse(text);
}

int get(const Arguments& a, const PropertyVerbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    for (const std::string& name : opened->scenes) {
        auto loaded = opened->session().scene(name);
        if (!loaded) return v.io.fail(loaded.error());
        const model::Scene& scene = **loaded;
        for (ObjectId id : chosen(scene, a.where)) {
            const Slot s = scene.find(id);
            const model::Property* property = ops::propertyOf(opened->session(), scene, s, a.name);
            if (property == nullptr) continue;
            model::Value room;
            const model::Value& value = *ops::propertyValue(scene, s, *property, room);
            if (a.asJson)
                v.io.out << Json{{"id", base::toText(id)},
                                 {"name", scene.nameText(s)},
                                 {a.name, json(value)},
                                 {"default", &value == &room}}
                                .dump()
                         << "\n";
            else
                v.io.out << fmt::format("{}  {}  {}\n", base::toText(id), scene.nameText(s),
                                        model::valueText(*property, value));
        }
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

int set(const Arguments& a, const PropertyVerbs& v) {
    const std::size_t sign = a.name.find('=');
    if (sign == 0 || sign == std::string::npos)
        return v.io.err << "mellow: NAME=VALUE was expected, such as oil=2 or oil=+=1.\n", exitCode::kUsage;
    const std::string name = a.name.substr(0, sign), text = a.name.substr(sign + 1);
    auto opened = open(a.path, io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (opened->scenes.size() != 1) opened->scenes = {opened->session().project().firstScene};
    std::size_t count = 0;
    {
        edit::Draft draft(opened->session(), opened->scenes.front(), "Set " + name);
        if (!draft.state()) return v.io.fail(draft.state().error());
        const ops::Ids ids = chosen(draft.scene(), a.where);
        if (ids.empty()) return v.io.fail({ErrorCode::NotFound, "No object fits --where."});
        count = ids.size();
        draft.rename(fmt::format("Set {} of {}", name, ops::describe(draft.scene(), ids)));
        Status done = ops::changeProperty(draft, ids, name, [&](const model::Property& p, const model::Value& now) {
            return ops::typedValue(p, text, now);
        });
        if (!done) return v.io.fail(done.error());
        if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    }
    if (const int saved = saveAll(*opened->workspace, v.io); saved != exitCode::kFine) return saved;
    if (a.asJson)
        v.io.out << Json{{"set", name}, {"objects", count}}.dump() << "\n";
    else
        v.io.out << fmt::format("{} set for {} objects\n", name, count);
    return exitCode::kFine;
}

int items(const Arguments& a, const PropertyVerbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    io::CsvWriter csv(v.io.out);
    if (a.asCsv) csv.row({"name", "label", "category", "kind", "triangles", "width", "height", "depth", "prefab"});
    for (const model::Item& item : opened->session().library().items()) {
        if (item.isSolid) continue;
        const base::Vec3 size = item.bounds.size();
        if (a.asCsv)
            csv.row({item.name, item.label, item.category, item.kind, std::to_string(item.triangles),
                     base::shortest(size.x), base::shortest(size.y), base::shortest(size.z),
                     item.prefab ? base::toText(item.prefab) : ""});
        else
            v.io.out << fmt::format("{}  {}  {}  {} triangles\n", item.name, item.label, item.category, item.triangles);
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

}  // namespace

void addPropertyCommands(CLI::App& app, const PropertyVerbs& verbs) {
    auto arguments = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    auto add = [&](const char* name, const char* help, const char* what,
                   int (*run)(const Arguments&, const PropertyVerbs&)) {
        auto* command = app.add_subcommand(name, help);
        command->add_option(what, arguments->path)->required();
        command->callback([arguments, verbs, run] { verbs.code = run(*arguments, verbs); });
        return command;
    };
    auto* read = add("get", "A property of objects, those whose kind has it, one a line", "SCENE", get);
    read->add_option("NAME", arguments->name, "The property")->required();
    auto* write =
        add("set", "Sets a property of objects, checked against their kinds, and writes the scene", "SCENE", set);
    write->add_option("NAME=VALUE", arguments->name, "oil=2, state=open, oil=+=1 for one more each")->required();
    for (auto* command : {read, write}) {
        command->add_option("--where", arguments->where, "Which objects, such as: kind:Lantern");
        command->add_flag("--json", arguments->asJson, "As JSON");
    }
    add("items", "What the Stock offers, one a line", "PROJECT", items)
        ->add_flag("--csv", arguments->asCsv, "As a table with a head line");
}

}  // namespace cli
