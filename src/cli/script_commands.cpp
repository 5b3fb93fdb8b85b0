#include "cli/script_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>
#include <ostream>

#include "base/files.h"
#include "script/difference.h"
#include "script/engine.h"
#include "script/meshes.h"

namespace cli {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

struct Arguments {
    std::string file, command;
    std::vector<std::string> scenes, args;
    std::uint64_t budget = 0, seed = 1;
    bool preview = false, asJson = false;
};

int codeOf(script::Ending ending) {
    switch (ending) {
        case script::Ending::Done: return exitCode::kFine;
        case script::Ending::Cap:
        case script::Ending::Cancelled: return exitCode::kScriptCap;
        case script::Ending::Refused: return exitCode::kScriptRefused;
        case script::Ending::Error: break;
    }
    return exitCode::kScriptError;
}

Json tableOf(const std::vector<script::Difference>& all) {
    const char* words[] = {"created", "changed", "removed"};
    Json table = Json::array();
    for (const script::Difference& d : all)
        table.push_back(
            {{"what", words[static_cast<int>(d.what)]}, {"id", base::toText(d.id)}, {"name", d.name}, {"how", d.how}});
    return table;
}

int runScript(const Arguments& a, const ScriptVerbs& v) {
    script::Source source;
    source.name = fs::path(a.file).filename().string();
    auto text = base::readFile(a.file);
    if (!text) return v.io.fail(text.error());
    source.text = *text;
    script::Settings settings;
    settings.seed = a.seed;
    settings.nowMs = v.chance.nowMs();
    if (a.budget > 0) settings.limits.instructions = a.budget;
    for (const std::string& one : a.args) {
        const std::size_t sign = one.find('=');
        if (sign == 0 || sign == std::string::npos)
            return v.io.err << "mellow: --arg wants NAME=VALUE, not “" << one << "”.\n", exitCode::kUsage;
        settings.args[one.substr(0, sign)] = one.substr(sign + 1);
    }
    auto opened = open(a.scenes.front(), a.preview ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    useBehaviours(*opened, v.io, v.chance);
    settings.meshes = script::meshesOf(*opened->workspace);
    settings.command = a.command;
    std::vector<std::string> scenes = opened->scenes;
    for (std::size_t i = 1; i < a.scenes.size(); ++i) {
        const std::string name = fs::path(a.scenes[i]).filename().string();
        scenes.push_back(name.substr(0, name.find(".scene.jsonl")));
    }
    const fs::path modules = opened->workspace->folder() / "scripts";
    source.module = [modules](const std::string& name) -> std::optional<std::string> {
        auto found = base::readFile(modules / (name + ".lua"));
        return found ? std::optional(*found) : std::nullopt;
    };
    for (const std::string& name : scenes)
        if (auto loaded = opened->session().scene(name); !loaded) return v.io.fail(loaded.error());
    if (a.preview) opened->session().makeWritable();  // nothing of it is kept: the draft is rolled back
    edit::Draft draft(opened->session(), scenes.front(), fs::path(source.name).stem().string());
    if (!draft.state()) return v.io.fail(draft.state().error());
    Json report = Json::array();
    for (const std::string& name : scenes) {
        if (base::Status turned = draft.turnTo(name); !turned) return v.io.fail(turned.error());
        const model::Scene before = draft.scene();
        const script::Outcome outcome = script::run(draft, source, settings);
        std::vector<std::string> said;
        for (const script::Said& line : outcome.said) {
            said.push_back(line.text);
            if (!a.asJson) v.io.out << line.text << "\n";
        }
        if (outcome.ending != script::Ending::Done) {
            draft.rollback();
            v.io.err << "mellow: " << outcome.message << "\nNothing was changed.\n";
            return codeOf(outcome.ending);
        }
        using What = script::Difference::What;
        const auto all = script::differences(before, draft.scene());
        const std::size_t created = countOf(all, What::Created), changed = countOf(all, What::Changed),
                          removed = countOf(all, What::Removed);
        report.push_back(
            {{"scene", name}, {"created", created}, {"changed", changed}, {"removed", removed}, {"said", said}});
        if (a.preview) report.back()["objects"] = tableOf(all);
        if (!a.asJson)
            v.io.out << fmt::format("{}: {} created, {} changed, {} removed{}\n", name, created, changed, removed,
                                    a.preview ? " (preview: nothing was kept)" : "");
    }
    if (a.asJson) v.io.out << Json{{"script", source.name}, {"preview", a.preview}, {"scenes", report}}.dump() << "\n";
    if (a.preview) {
        draft.rollback();
        return exitCode::kFine;
    }
    if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    return saveAll(*opened->workspace, v.io);
}

/// The reference of what scripts can call, as the manual has it.
int listFunctions(bool asJson, const ScriptVerbs& v) {
    Json all = Json::array();
    for (const script::Function& f : script::functions()) {
        if (asJson)
            all.push_back({{"name", f.name}, {"arguments", f.arguments}, {"help", f.help}});
        else
            v.io.out << fmt::format("{}({})\n    {}\n", f.name, f.arguments, f.help);
    }
    if (asJson) v.io.out << all.dump() << "\n";
    return exitCode::kFine;
}

}  // namespace

void addScriptCommands(CLI::App& app, const ScriptVerbs& verbs) {
    auto arguments = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    auto* command = app.add_subcommand("run", "Runs a Lua script over scenes, as one step or nothing, and writes them");
    command->add_option("SCRIPT", arguments->file)->required();
    command->add_option("SCENE", arguments->scenes)->required();
    command
        ->add_option("--arg", arguments->args, "NAME=VALUE: a field of the command's form, or what the script asks for")
        ->take_all();
    command->add_option("--command", arguments->command, "Which of its commands, when it declares several");
    command->add_option("--seed", arguments->seed, "Of the script's chance");
    command->add_option("--budget", arguments->budget, "The most instructions it may use");
    command->add_flag("--preview", arguments->preview, "Only tells what would change");
    command->add_flag("--json", arguments->asJson, "The report as JSON");
    command->callback([arguments, verbs] { verbs.code = runScript(*arguments, verbs); });
    auto* list = app.add_subcommand("functions", "Lists what scripts can call");
    list->add_flag("--json", arguments->asJson, "As JSON");
    list->callback([arguments, verbs] { verbs.code = listFunctions(arguments->asJson, verbs); });
}

}  // namespace cli
