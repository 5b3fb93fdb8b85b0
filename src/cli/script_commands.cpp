#include "cli/script_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/files.h"
#include "cli/names.h"
#include "io/json_text.h"
#include "query/object_filter.h"
#include "script/difference.h"
#include "script/engine.h"
#include "script/shapes.h"

namespace cli {
namespace {

namespace fs = std::filesystem;

struct Arguments {
    std::string file, command, select;
    std::vector<std::string> scenes, args;
    std::uint64_t budget = 0, seed = 1;
    double seconds = 0;  ///< 0: as long as any
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

/// The arguments as they were given. Errors: one that is no NAME=VALUE.
base::Result<std::map<std::string, std::string>> argumentsOf(const std::vector<std::string>& all) {
    std::map<std::string, std::string> args;
    for (const std::string& one : all) {
        const std::size_t sign = one.find('=');
        if (sign == 0 || sign == std::string::npos)
            return base::fail(base::ErrorCode::BadInput, "--arg wants NAME=VALUE, not “" + one + "”.");
        args[one.substr(0, sign)] = one.substr(sign + 1);
    }
    return args;
}

/// The named scenes, loaded. Errors: of loading them.
base::Result<std::vector<std::string>> scenesOf(Opened& opened, const std::vector<std::string>& paths) {
    std::vector<std::string> scenes = opened.scenes;
    for (std::size_t i = 1; i < paths.size(); ++i) {
        const std::string name = fs::path(paths[i]).filename().string();
        scenes.push_back(name.substr(0, name.find(".scene.jsonl")));
    }
    for (const std::string& name : scenes)
        if (auto loaded = opened.session().scene(name); !loaded) return tl::unexpected(loaded.error());
    return scenes;
}

void select(Opened& opened, const model::Scene& scene, const std::string& where) {
    opened.session().select(where.empty() ? std::vector<base::ObjectId>{} : query::fitting(scene, where));
}

int runScript(const Arguments& a, const Verbs& v) {
    script::Source source;
    source.name = fs::path(a.file).filename().string();
    auto text = base::readFile(a.file, base::most::kSmall);
    if (!text) return v.io.fail(text.error());
    source.text = *text;
    script::Settings settings;
    settings.seed = a.seed;
    settings.nowMs = v.chance.nowMs();
    settings.command = a.command;
    if (a.budget > 0) settings.limits.instructions = a.budget;
    if (a.seconds > 0) settings.limits.seconds = a.seconds;
    auto args = argumentsOf(a.args);
    if (!args) return v.io.err << "mellow: " << args.error().message << "\n", exitCode::kUsage;
    settings.args = *args;
    auto opened = open(a.scenes.front(), a.preview ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!useBehaviours(*opened, v.io, v.chance, a.file)) return exitCode::kScriptBroken;
    settings.shapes = script::shapesIn(*opened->workspace);
    source.module = script::modulesIn(opened->workspace->folder() / "scripts");
    auto scenes = scenesOf(*opened, a.scenes);
    if (!scenes) return v.io.fail(scenes.error());
    if (scenes->empty()) return v.io.fail({base::ErrorCode::NotFound, "There is no scene to run it over."});
    if (a.preview) opened->session().makeWritable();  // nothing of it is kept: the draft is rolled back
    edit::Draft draft(opened->session(), scenes->front(), fs::path(source.name).stem().string());
    if (!draft.state()) return v.io.fail(draft.state().error());
    std::vector<model::Scene> before;
    std::vector<std::vector<std::string>> said;
    std::vector<script::FileOut> files;
    for (const std::string& name : *scenes) {
        if (base::Status turned = draft.turnTo(name); !turned) return v.io.fail(turned.error());
        before.push_back(draft.scene());
        select(*opened, draft.scene(), a.select);
        const script::Outcome outcome = script::run(draft, source, settings);
        files.insert(files.end(), outcome.files.begin(), outcome.files.end());
        auto& lines = said.emplace_back();
        for (const script::Said& line : outcome.said) lines.push_back(line.text);
        if (outcome.ending == script::Ending::Done) continue;
        draft.rollback();
        for (const std::string& line : lines) (a.asJson ? v.io.err : v.io.out) << line << "\n";
        v.io.err << "mellow: " << outcome.message << "\nNothing was changed.\n";
        return codeOf(outcome.ending);
    }
    if (a.preview)
        if (base::Status fine = opened->haveSay(draft); !fine) {
            v.io.err << "mellow: " << fine.error().message << "\nNothing was changed.\n";
            return exitCode::kScriptRefused;
        }
    if (!a.preview) {
        if (base::Status back = draft.turnTo(draft.document()); !back) return v.io.fail(back.error());
        if (auto step = draft.commit(); !step) {
            const bool refused = step.error().code == base::ErrorCode::Refused;
            return v.io.fail(step.error()), refused ? exitCode::kScriptRefused : exitCode::kFailed;
        }
        if (base::Status done = script::keepFiles(opened->workspace->folder(), files); !done)
            return v.io.fail(done.error()), exitCode::kNotWritten;
    }
    // What came of it is told when it is true.
    Json report = Json::array();
    std::string lines;
    using What = script::Difference::What;
    for (std::size_t i = 0; i < scenes->size(); ++i) {
        const std::string& name = (*scenes)[i];
        const auto all = script::differences(before[i], **opened->session().scene(name));
        const std::size_t created = countOf(all, What::Created), changed = countOf(all, What::Changed),
                          removed = countOf(all, What::Removed);
        report.push_back(
            {{"scene", name}, {"created", created}, {"changed", changed}, {"removed", removed}, {"said", said[i]}});
        if (a.preview) report.back()["objects"] = tableOf(all);
        for (const std::string& line : said[i]) lines += line + "\n";
        lines += fmt::format("{}: {} created, {} changed, {} removed{}\n", name, created, changed, removed,
                             a.preview ? " (preview: nothing was kept)" : "");
    }
    const int code = a.preview ? exitCode::kFine : saveAll(*opened->workspace, v.io);
    if (a.asJson)
        v.io.out << io::toText(Json{{"script", source.name}, {"preview", a.preview}, {"scenes", report}}) << "\n";
    else
        v.io.out << lines;
    return code;
}

/// The reference of what scripts can call, as the manual has it.
int listFunctions(bool asJson, const Verbs& v) {
    Json all = Json::array();
    for (const script::Function& f : script::functions()) {
        if (asJson)
            all.push_back({{"name", f.name}, {"arguments", f.arguments}, {"help", f.help}});
        else
            v.io.out << fmt::format("{}({})\n    {}\n", f.name, f.arguments, f.help);
    }
    if (asJson) v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

}  // namespace

void addScriptCommands(CLI::App& app, const Verbs& verbs) {
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
    command->add_option("--seconds", arguments->seconds, "The longest it may run")->check(CLI::Range(0.1, 86400.0));
    command->add_option("--select", arguments->select, "What is selected for it, such as: kind:Lantern");
    command->add_flag("--preview", arguments->preview, "Only tells what would change");
    command->add_flag("--json", arguments->asJson, "The report as JSON");
    command->callback([arguments, verbs] { verbs.code = runScript(*arguments, verbs); });
    auto* list = app.add_subcommand("functions", "Lists what scripts can call");
    list->add_flag("--json", arguments->asJson, "As JSON");
    list->callback([arguments, verbs] { verbs.code = listFunctions(arguments->asJson, verbs); });
}

}  // namespace cli
