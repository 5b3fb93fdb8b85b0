#include "cli/commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <map>
#include <nlohmann/json.hpp>
#include <ostream>

#include "cli/check_commands.h"
#include "cli/opened.h"
#include "cli/prefab_commands.h"
#include "cli/property_commands.h"
#include "cli/script_commands.h"
#include "io/gltf_in.h"
#include "io/gltf_out.h"
#include "io/scene_file.h"
#include "io/templates.h"
#include "io/value_json.h"
#include "query/object_filter.h"

namespace cli {
namespace {

namespace fs = std::filesystem;
using base::Status;
using model::kNoSlot;
using model::Slot;
using Json = nlohmann::ordered_json;

Json vec(const base::Vec3& v) {
    return Json::array({v.x, v.y, v.z});
}

int info(const fs::path& path, bool asJson, const io::Chance& chance, const Streams& io) {
    auto opened = open(path, io::OpenMode::ReadOnly, chance);
    if (!opened) return io.fail(opened.error());
    edit::Session& session = *opened->workspace->session;
    std::map<std::string, std::size_t> kinds, items;
    std::size_t objects = 0, triangles = 0;
    base::Aabb bounds;
    Json scenes = Json::array();
    for (const std::string& name : opened->scenes) {
        auto scene = session.scene(name);
        if (!scene) return io.fail(scene.error());
        for (Slot s : (*scene)->subtree(kNoSlot)) {
            if ((*scene)->kind(s)) ++kinds[std::string((*scene)->kindText(s))];
            if ((*scene)->item(s)) ++items[std::string((*scene)->itemText(s))];
            if (const model::Item* item = session.library().item((*scene)->item(s))) triangles += item->triangles;
            bounds.add((*scene)->bounds(s));
        }
        objects += (*scene)->objectCount();
        scenes.push_back({{"name", name}, {"objects", (*scene)->objectCount()}});
    }
    warnOfDamage(*opened->workspace, io);
    Json ledger = {{"steps", session.history().steps().size()},
                   {"present", session.history().present()},
                   {"undo", session.history().undoTarget().has_value()},
                   {"redo", session.history().redoTarget().has_value()}};
    Json all = {{"project", session.project().name},
                {"scenes", scenes},
                {"objects", objects},
                {"triangles", triangles},
                {"kinds", kinds},
                {"items", items},
                {"bounds", bounds.empty() ? Json() : Json({{"min", vec(bounds.low)}, {"max", vec(bounds.high)}})},
                {"ledger", ledger},
                {"damage", opened->workspace->damage.size()}};
    if (asJson)
        io.out << all.dump() << "\n";
    else
        io.out << fmt::format("{}: {} objects, {} triangles, {} kinds, {} items, {} steps in the ledger\n",
                              session.project().name, objects, triangles, kinds.size(), items.size(),
                              session.history().steps().size());
    return exitCode::kFine;
}

Json pose(const base::Transform& t) {
    return {{"position", vec(t.position)},
            {"rotation", {t.rotation.x, t.rotation.y, t.rotation.z, t.rotation.w}},
            {"scale", vec(t.scale)}};
}

int list(const fs::path& path, const std::string& where, bool asJson, const io::Chance& chance, const Streams& io) {
    auto opened = open(path, io::OpenMode::ReadOnly, chance);
    if (!opened) return io.fail(opened.error());
    const query::ObjectFilter filter(where);
    for (const std::string& name : opened->scenes) {
        auto loaded = opened->workspace->session->scene(name);
        if (!loaded) return io.fail(loaded.error());
        const model::Scene& scene = **loaded;
        for (Slot s : scene.subtree(kNoSlot)) {
            if (!filter.fits(scene, s)) continue;
            if (!asJson) {
                io.out << fmt::format("{}  {}  {}  {}\n", base::toText(scene.id(s)), scene.nameText(s),
                                      scene.kindText(s), scene.itemText(s));
                continue;
            }
            Json line = {
                {"id", base::toText(scene.id(s))},
                {"name", scene.nameText(s)},
                {"parent", scene.parent(s) == kNoSlot ? Json() : Json(base::toText(scene.id(scene.parent(s))))},
                {"kind", scene.kindText(s)},
                {"item", scene.itemText(s)},
                {"local", pose(scene.local(s))},
                {"world", pose(base::toTransform(scene.world(s)))},
                {"flags", Json::array()}};
            for (const auto& [bit, flag] : model::flags::kNames)
                if ((scene.flagsOf(s) & bit) != 0) line["flags"].push_back(std::string(flag));
            const PrefabFacts facts = prefabFacts(*opened->workspace->session, scene, s);
            if (!facts.instance.empty()) line["flags"].push_back("inside");
            if (!facts.prefab.empty()) line["prefab"] = facts.prefab;
            if (!facts.instance.empty()) line["instance"] = facts.instance;
            if (!facts.differences.empty()) line["differences"] = facts.differences;
            if (scene.detail(s) && !scene.detail(s)->properties.empty()) {
                std::string text;
                io::appendJson(text, scene.detail(s)->properties);
                line["properties"] = Json::parse(text);
            }
            io.out << line.dump() << "\n";
        }
    }
    warnOfDamage(*opened->workspace, io);
    return exitCode::kFine;
}

/// A file of project data, its schema too.
void validateData(const std::string& document, const fs::path& file, std::vector<io::Damage>& damage) {
    auto text = base::readFile(file);
    auto entries = text ? io::parseData(document, *text, file.string(), damage)
                        : base::Result<model::DataEntries>(tl::unexpected(text.error()));
    if (!entries) return damage.push_back({file.string(), 0, "", entries.error().message}), void();
    const auto head = entries->find("");
    std::vector<std::string> problems;
    if (head != entries->end()) {
        const model::Kind kind = model::kindFrom(head->second, problems);
        (void)io::readFacets(kind.facetValues, problems);
    }
    for (std::string& problem : problems) damage.push_back(io::damageOf(file.string(), std::move(problem)));
}

int validateFile(const fs::path& path, const Streams& io) {
    const std::string name = path.filename().string();
    std::vector<io::Damage> damage;
    auto note = [&](const base::Error& error) { damage.push_back({path.string(), 0, "", error.message}); };
    if (fs::is_directory(path) || name == "project.json") {
        auto project = io::readProject(path);
        if (!project)
            note(project.error());
        else
            damage = project->damage;
        const fs::path folder = fs::is_directory(path) ? path : path.parent_path();
        for (const std::string& document : project ? project->project.dataDocuments : std::vector<std::string>{})
            if (document != model::data::kItems) validateData(document, io::dataFile(folder, document), damage);
    } else if (name.ends_with(".records.jsonl")) {
        validateData(model::data::recordsDocument("any"), path, damage);
    } else if (name.ends_with(".glb") || name.ends_with(".gltf")) {
        auto model = io::readModel(path);
        if (!model) note(model.error());
    } else {
        auto text = base::readFile(path);
        if (!text) return io.fail(text.error());
        if (name.ends_with(".kind.json")) {
            auto kind = io::parseKind(*text, path.string(), damage);
            if (!kind) note(kind.error());
        } else {
            auto scene =
                io::parseScene(path.stem().string(), *text, path.string(), std::make_shared<base::NameTable>(), {});
            if (!scene)
                note(scene.error());
            else
                damage = scene->damage;
        }
    }
    for (const io::Damage& d : damage) io.err << (d.line == 0 && d.key.empty() ? d.message : io::toText(d)) << "\n";
    if (damage.empty()) io.out << path.string() << ": no problems found.\n";
    return damage.empty() ? exitCode::kFine : exitCode::kFindings;
}

/// Takes back or does again `count` steps and writes the scenes they touched.
int travel(const fs::path& path, int count, bool back, const io::Chance& chance, const Streams& io) {
    auto opened = open(path, io::OpenMode::Edit, chance);
    if (!opened) return io.fail(opened.error());
    edit::Session& session = *opened->workspace->session;
    int code = exitCode::kFine;
    for (int i = 0; i < count; ++i) {
        // The step to be taken back is the present one; the one to be done again becomes it.
        const edit::StepInfo* present = session.history().step(session.history().present());
        const std::string name = present != nullptr ? present->name : "";
        for (const std::string& scene : present != nullptr && back ? present->scenes : std::vector<std::string>{})
            if (auto loaded = session.scene(scene); !loaded) return io.fail(loaded.error());
        if (Status done = back ? session.undo() : session.redo(); !done) {
            io.err << fmt::format("mellow: {} ({} of {} done)\n", done.error().message, i, count);
            if (i == 0) code = exitCode::kFailed;
            break;
        }
        const edit::StepInfo* now = session.history().step(session.history().present());
        io.out << (back ? "undone: " + name : "redone: " + now->name) << "\n";
    }
    if (const int saved = saveAll(*opened->workspace, io); saved != exitCode::kFine) code = saved;
    return code;
}

int import(const std::vector<std::string>& models, const fs::path& project, const io::Chance& chance,
           const Streams& io) {
    auto opened = open(project, io::OpenMode::Edit, chance);
    if (!opened) return io.fail(opened.error());
    int code = exitCode::kFine;
    for (const std::string& file : models) {
        auto item = io::importModel(*opened->workspace, file);
        if (!item) {
            code = io.fail(item.error());
            continue;
        }
        io.out << fmt::format("{}: {} triangles, {} materials\n", item->name, item->triangles, item->materials);
        for (const std::string& remark : item->remarks) io.err << fmt::format("mellow: {}: {}\n", item->name, remark);
    }
    return code;
}

int exportTo(const fs::path& path, const fs::path& file, const io::Chance& chance, const Streams& io) {
    auto opened = open(path, io::OpenMode::ReadOnly, chance);
    if (!opened) return io.fail(opened.error());
    if (opened->scenes.size() != 1) {
        const std::string first = opened->workspace->session->project().firstScene;
        opened->scenes = {first};
    }
    auto scene = opened->workspace->session->scene(opened->scenes.front());
    if (!scene) return io.fail(scene.error());
    const io::ExportedScene exported =
        io::exportScene(**scene, [&](base::Name item) { return opened->workspace->mesh(item); });
    warnOfDamage(*opened->workspace, io);
    for (const std::string& lost : exported.lost) io.err << "mellow: " << lost << "\n";
    if (Status written = base::writeFileWhole(file, exported.bytes); !written) return io.fail(written.error());
    io.out << fmt::format("{}: {} objects, {} bytes\n", file.string(), (*scene)->objectCount(), exported.bytes.size());
    return exitCode::kFine;
}

}  // namespace

int run(const std::vector<std::string>& arguments, io::Chance chance, std::ostream& out, std::ostream& err) {
    const Streams io{out, err};
    CLI::App app{"mellow: Mellow Lattice without a window.\nData goes to standard output, messages to standard error.",
                 "mellow"};
    app.require_subcommand(1);
    app.footer(
        "Exit codes: 0 done; 1 problems were found in a file; 2 wrong arguments; 3 it could not be done.\nSCENE and "
        "PATH: a scene file, or a project's folder.");
    std::string path, where, target, templateName = "ground";
    std::vector<std::string> models;
    bool asJson = false;
    int count = 1, code = exitCode::kFine;

    auto* infoCommand =
        app.add_subcommand("info", "What a project or scene holds: objects, triangles, kinds, items, bounds, ledger");
    infoCommand->add_option("PATH", path)->required();
    infoCommand->add_flag("--json", asJson, "As one JSON object");
    infoCommand->callback([&] { code = info(path, asJson, chance, io); });

    auto* listCommand = app.add_subcommand("list", "The objects of a scene, one a line");
    listCommand->add_option("SCENE", path)->required();
    listCommand->add_option("--where", where, "Only those that fit, such as: lantern* kind:Lantern item:bench");
    listCommand->add_flag(
        "--json", asJson,
        "A JSON object a line: id, name, parent, kind, item, local, world, flags; what lies inside an instance "
        "is flagged “inside”, with what differs");
    listCommand->callback([&] { code = list(path, where, asJson, chance, io); });

    auto* validate = app.add_subcommand("validate-file",
                                        "Checks a scene, kind, project or model file; exit code 1 if it has problems");
    validate->add_option("PATH", path)->required();
    validate->callback([&] { code = validateFile(path, io); });

    for (bool back : {true, false}) {
        auto* command =
            app.add_subcommand(back ? "undo" : "redo", back ? "Takes the last N steps back and writes the scenes"
                                                            : "Does N undone steps again and writes the scenes");
        command->add_option("PROJECT", path)->required();
        command->add_option("N", count, "How many steps")->check(CLI::Range(1, 1'000'000));
        command->callback([&, back] { code = travel(path, count, back, chance, io); });
    }

    auto* make = app.add_subcommand("new", "Makes a project in a new folder");
    make->add_option("DIR", path)->required();
    make->add_option("--template", templateName, "ground or empty")->capture_default_str();
    make->callback([&] {
        if (Status made = io::createProject(path, templateName, chance.seed); !made)
            code = io.fail(made.error());
        else
            out << path << "\n";
    });

    auto* importCommand = app.add_subcommand("import", "Adds glTF models to a project's items");
    importCommand->add_option("MODEL", models)->required();
    importCommand->add_option("--into", target, "The project's folder")->required();
    importCommand->callback([&] { code = import(models, target, chance, io); });

    auto* exportCommand = app.add_subcommand("export", "Writes a scene as a binary glTF file");
    exportCommand->add_option("SCENE", path)->required();
    exportCommand->add_option("--to", target, "The .glb file")->required();
    exportCommand->callback([&] { code = exportTo(path, target, chance, io); });

    addPrefabCommands(app, {chance, io, code});
    addPropertyCommands(app, {chance, io, code});
    addScriptCommands(app, {chance, io, code});
    addCheckCommands(app, {chance, io, code});

    try {
        std::vector<std::string> reversed(arguments.rbegin(), arguments.rend());
        app.parse(reversed);
    } catch (const CLI::CallForHelp&) {
        const auto chosen = app.get_subcommands();
        out << (chosen.empty() ? app.help() : chosen.front()->help());
        return exitCode::kFine;
    } catch (const CLI::ParseError& error) {
        err << "mellow: " << error.what() << "\nRun mellow --help for what it takes.\n";
        return exitCode::kUsage;
    }
    return code;
}

}  // namespace cli
