#include "cli/commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <map>
#include <ostream>
#include <streambuf>

#include "base/text.h"
#include "cli/check_commands.h"
#include "cli/cue_commands.h"
#include "cli/dress_commands.h"
#include "cli/export_commands.h"
#include "cli/hand_commands.h"
#include "cli/laying_commands.h"
#include "cli/ledger_commands.h"
#include "cli/names.h"
#include "cli/opened.h"
#include "cli/prefab_commands.h"
#include "cli/property_commands.h"
#include "cli/rehearse_commands.h"
#include "cli/route_commands.h"
#include "cli/scene_commands.h"
#include "cli/script_commands.h"
#include "cli/solid_commands.h"
#include "io/import_scene.h"
#include "io/json_text.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "io/templates.h"
#include "io/validate.h"
#include "model/facets/solid.h"
#include "ops/relations.h"
#include "ops/scenes.h"
#include "query/collision.h"
#include "query/object_filter.h"

namespace cli {
namespace {

namespace fs = std::filesystem;

/// "box", of one that was drawn; else nothing.
std::string solidOf(const model::Scene& scene, Slot s) {
    const auto* solid = scene.facet<model::Solid>(s);
    return solid != nullptr ? model::solidName(solid->shape) : std::string();
}
/// The item by name; what stands for a drawn solid is nobody's business.
std::string shownItem(const model::Scene& scene, Slot s) {
    std::string solid = solidOf(scene, s);
    return solid.empty() ? std::string(scene.itemText(s)) : solid;
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
            if ((*scene)->item(s)) ++items[shownItem(**scene, s)];
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
    Json all = {
        {"project", session.project().name},
        {"scenes", scenes},
        {"objects", objects},
        {"triangles", triangles},
        {"kinds", kinds},
        {"items", items},
        {"bounds", bounds.empty() ? Json() : Json({{"min", io::toJson(bounds.low)}, {"max", io::toJson(bounds.high)}})},
        {"ledger", ledger},
        {"damage", opened->workspace->damage.size()}};
    if (asJson)
        io.out << io::toText(all) << "\n";
    else
        io.out << fmt::format("{}: {} objects, {} triangles, {} kinds, {} items, {} steps in the ledger\n",
                              session.project().name, objects, triangles, kinds.size(), items.size(),
                              session.history().steps().size());
    return exitCode::kFine;
}

Json pose(const base::Transform& t) {
    return {{"position", io::toJson(t.position)},
            {"rotation", {t.rotation.x, t.rotation.y, t.rotation.z, t.rotation.w}},
            {"scale", io::toJson(t.scale)}};
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
                                      scene.kindText(s), shownItem(scene, s));
                continue;
            }
            Json line = {
                {"id", base::toText(scene.id(s))},
                {"name", scene.nameText(s)},
                {"parent", scene.parent(s) == kNoSlot ? Json() : Json(base::toText(scene.id(scene.parent(s))))},
                {"kind", scene.kindText(s)},
                {"item", solidOf(scene, s).empty() ? scene.itemText(s) : std::string_view()},
                {"local", pose(scene.local(s))},
                {"world", pose(base::toTransform(scene.world(s)))},
                {"flags", Json::array()}};
            if (const auto solid = solidOf(scene, s); !solid.empty()) {
                line["solid"] = solid;
                line["numbers"] = io::toJson({model::solidFacts(*scene.facet<model::Solid>(s))});
            }
            for (const auto& [bit, flag] : model::flags::kNames)
                if ((scene.flagsOf(s) & bit) != 0) line["flags"].push_back(std::string(flag));
            const PrefabFacts facts = prefabFacts(*opened->workspace->session, scene, s);
            if (!facts.instance.empty()) line["flags"].push_back("inside");
            if (!facts.prefab.empty()) line["prefab"] = facts.prefab;
            if (!facts.instance.empty()) line["instance"] = facts.instance;
            if (!facts.differences.empty()) line["differences"] = facts.differences;
            const query::CollisionSource bumps = query::collisionSource(opened->session().library(), scene, s);
            line["collision"] = {{"shape", bumps.shape}, {"of", bumps.ofBody ? "body" : "item"}};
            if (const auto& relations = scene.facet<model::Relations>(s)) {
                line["relations"] = Json::array();
                for (const model::Relation& relation : relations->all)
                    line["relations"].push_back(ops::relationText(scene, relation));
            }
            std::string facets;
            for (const model::FacetType* type : model::facetTypes())
                if (const void* facet = scene.detail(s) ? scene.detail(s)->facets.find(*type) : nullptr)
                    io::appendFacet(facets, *type, facet);
            if (!facets.empty()) line["facets"] = Json::parse("{" + facets.substr(1) + "}");
            if (scene.detail(s) && !scene.detail(s)->properties.empty())
                line["properties"] = io::toJson(scene.detail(s)->properties);
            io.out << io::toText(line) << "\n";
        }
    }
    warnOfDamage(*opened->workspace, io);
    return exitCode::kFine;
}

/// A project as a whole, its scripts too, or one file.
int validate(const fs::path& path, const Streams& io) {
    if (!base::exists(path)) return io.fail({base::ErrorCode::NotFound, path.string() + ": there is no such file."});
    const bool isProject = base::isFolder(path);
    io::Validation found = isProject ? io::validateProject(path) : io::validateFile(path);
    if (isProject) {
        script::Shelf shelf;
        shelf.setFolder(script::Owner::Project, path / "scripts", {});
        shelf.refresh();
        for (const std::string& problem : brokenScripts(shelf))
            found.damage.push_back({(path / "scripts").string(), 0, "", problem});
        if (!shelf.scripts().empty()) found.counts.emplace_back("scripts", shelf.scripts().size());
    }
    constexpr std::size_t kMostTold = 1000;
    for (std::size_t i = 0; i < std::min(found.damage.size(), kMostTold); ++i)
        io.err << io::toText(found.damage[i]) << "\n";
    if (found.damage.size() > kMostTold) io.err << "and " << found.damage.size() - kMostTold << " more\n";
    std::string counts;
    for (const auto& [what, n] : found.counts) counts += fmt::format("{}{} {}", counts.empty() ? "" : ", ", n, what);
    io.out << fmt::format(
        "{}: {}: {}\n", path.string(), counts.empty() ? "nothing" : counts,
        found.damage.empty() ? "no problems found." : fmt::format("{} problems.", found.damage.size()));
    return found.damage.empty() ? exitCode::kFine : exitCode::kFindings;
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
        if (Status done = back ? session.undo() : session.redo(); !done) {
            io.err << fmt::format("mellow: {} ({} of {} done)\n", done.error().message, i, count);
            code = exitCode::kFailed;
            break;
        }
        const edit::StepInfo* now = session.history().step(session.history().present());
        io.out << (back ? "undone: " + name : "redone: " + now->name) << "\n";
    }
    if (const int saved = saveAll(*opened->workspace, io); saved != exitCode::kFine) code = saved;
    return code;
}

/// All of them as one step, or, when one cannot be read, none.
int import(const std::vector<std::string>& models, const fs::path& project, bool asScene, const io::Chance& chance,
           const Streams& io) {
    auto opened = open(project, io::OpenMode::Edit, chance);
    if (!opened) return io.fail(opened.error());
    std::vector<std::string> lines, remarks;
    {
        edit::Draft draft(opened->session(), std::string(model::data::kAdded),
                          models.size() == 1 ? "Import " + fs::path(models.front()).filename().string()
                                             : fmt::format("Import {} models", models.size()));
        if (!draft.state()) return io.fail(draft.state().error());
        for (const std::string& file : models) {
            if (asScene) {
                auto made = io::importScene(*opened->workspace, draft, file);
                if (!made) return io.fail(made.error());
                lines.push_back(fmt::format("{}: {} objects, {} items", made->scene, made->objects, made->items));
                for (const std::string& remark : made->remarks) remarks.push_back(made->scene + ": " + remark);
                continue;
            }
            auto item = io::importModel(*opened->workspace, draft, file);
            if (!item) return io.fail(item.error());
            lines.push_back(
                fmt::format("{}: {} triangles, {} materials", item->name, item->triangles, item->materials));
            for (const std::string& remark : item->remarks) remarks.push_back(item->name + ": " + remark);
        }
        if (auto step = draft.commit(); !step) return io.fail(step.error());
    }
    const int code = saveAll(*opened->workspace, io);
    if (code != exitCode::kFine) return code;
    for (const std::string& line : lines) io.out << line << "\n";
    for (const std::string& remark : remarks) io.err << "mellow: " << remark << "\n";
    return code;
}

/// What is written through it never gives a terminal orders: control characters are written out. Whole lines are passed
/// on.
class PlainText : public std::streambuf {
  public:
    explicit PlainText(std::ostream& to) : to_(to) {}
    ~PlainText() override { pass(held_.size()); }
    PlainText(const PlainText&) = delete;
    PlainText& operator=(const PlainText&) = delete;

  protected:
    int overflow(int c) override {
        if (c != traits_type::eof()) held_ += static_cast<char>(c);
        if (c == '\n') pass(held_.size());
        return 0;
    }
    std::streamsize xsputn(const char* text, std::streamsize n) override {
        held_.append(text, static_cast<std::size_t>(n));
        if (const std::size_t end = held_.rfind('\n'); end != std::string::npos) pass(end + 1);
        return n;
    }

  private:
    void pass(std::size_t n) {
        to_ << base::forTerminal(std::string_view(held_).substr(0, n));
        held_.erase(0, n);
    }
    std::ostream& to_;
    std::string held_;
};

}  // namespace

namespace {

int runPlain(const std::vector<std::string>& arguments, const io::Chance& chance, std::ostream& out,
             std::ostream& err) {
    Streams io{out, err};
    CLI::App app{"mellow: Mellow Lattice without a window.\nData goes to standard output, messages to standard error.",
                 "mellow"};
    app.require_subcommand(1);
    app.set_version_flag("--version", "mellow " MELLOW_VERSION);
    app.footer(
        "Exit codes: 0 done; 1 problems were found in a file; 2 wrong arguments; 3 it could not be done; 4 a script "
        "has an "
        "error; 5 it used up its budget; 6 it was refused something; 7, 8 check found cautions, errors; 9 kept in the "
        "history, but a file was not written; 10 a script of the project cannot be read.\nSCENE and PATH: a scene "
        "file, "
        "or a project's folder.");
    std::string path, where, target, templateName = "ground";
    std::vector<std::string> models;
    bool asJson = false, asScene = false;
    int count = 1, code = exitCode::kFine;
    app.fallthrough();
    app.add_flag("--overwrite", io.overwrite,
                 "Write over files that others have changed (theirs are kept beside), or that are there already");

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

    auto* validateCommand = app.add_subcommand(
        "validate-file", "Looks a whole project through, or one file of it; exit code 1 if it has problems");
    validateCommand->add_option("PATH", path)->required();
    validateCommand->callback([&] { code = validate(path, io); });

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
    importCommand->add_flag("--as-scene", asScene,
                            "As a scene each, with its tree, names, lights and cameras; its meshes become items");
    importCommand->callback([&] { code = import(models, target, asScene, chance, io); });

    addPrefabCommands(app, {chance, io, code});
    addPropertyCommands(app, {chance, io, code});
    addSceneCommands(app, {chance, io, code});
    addDressCommands(app, {chance, io, code});
    addLayingCommands(app, {chance, io, code});
    addSolidCommands(app, {chance, io, code});
    addScriptCommands(app, {chance, io, code});
    addCheckCommands(app, {chance, io, code});
    addRehearseCommands(app, {chance, io, code});
    addExportCommands(app, {chance, io, code});
    addHandCommands(app, {chance, io, code});
    addCueCommands(app, {chance, io, code});
    addRouteCommands(app, {chance, io, code});
    addLedgerCommands(app, {chance, io, code});

    try {
        std::vector<std::string> reversed(arguments.rbegin(), arguments.rend());
        app.parse(reversed);
    } catch (const CLI::CallForHelp&) {
        const auto chosen = app.get_subcommands();
        out << (chosen.empty() ? app.help() : chosen.front()->help());
        return exitCode::kFine;
    } catch (const CLI::CallForVersion& version) {
        out << version.what() << "\n";
        return exitCode::kFine;
    } catch (const CLI::ParseError& error) {
        err << "mellow: " << error.what() << "\nRun mellow --help for what it takes.\n";
        return exitCode::kUsage;
    }
    return code;
}

}  // namespace

int run(const std::vector<std::string>& arguments, io::Chance chance, std::ostream& out, std::ostream& err) {
    PlainText plainOut(out), plainErr(err);
    std::ostream safeOut(&plainOut), safeErr(&plainErr);
    for (const std::string& argument : arguments)
        if (!base::isValidUtf8(argument) && !base::exists(argument)) {
            safeErr << "mellow: an argument is not UTF-8 text: " << argument << "\n";
            return exitCode::kUsage;
        }
    try {
        return runPlain(arguments, chance, safeOut, safeErr);
    } catch (const std::bad_alloc&) {
        safeErr << "mellow: there is not enough memory for this.\n";
    } catch (const std::exception& problem) {
        safeErr << "mellow: this should not have happened: " << problem.what() << "\n";
    }
    return exitCode::kFailed;
}

}  // namespace cli
