#include "cli/check_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <atomic>
#include <ostream>
#include <thread>

#include "check/checker.h"
#include "check/gather.h"
#include "check/verbs.h"
#include "hand/receiver.h"
#include "io/check_report.h"
#include "io/json_text.h"
#include "io/media_facts.h"
#include "ops/live_index.h"
#include "ops/scenes.h"
#include "script/rules.h"

namespace cli {
namespace {

namespace fs = std::filesystem;
using check::Finding;
using check::Severity;

struct Arguments {
    std::vector<std::string> paths, rules;
    std::string format = "text", least = "hint";
    bool fix = false, list = false;
    std::string shard, receiver;
};

/// Each scene on a thread of its own, as many at once as the machine has.
std::vector<io::CheckedScene> checkScenes(Opened& opened, const Arguments& a,
                                          std::shared_ptr<const check::Facts> facts) {
    std::vector<model::Scene> scenes;
    for (const std::string& name : opened.scenes)
        if (auto scene = opened.session().scene(name)) scenes.push_back(**scene);
    std::vector<io::CheckedScene> checked(scenes.size());
    std::atomic<std::size_t> next = 0;
    const std::size_t threads = std::max(1U, std::thread::hardware_concurrency());
    const std::size_t atOnce = std::clamp<std::size_t>(scenes.size(), 1, threads);
    auto work = [&] {
        for (std::size_t i = next++; i < scenes.size(); i = next++) {
            const model::Scene& scene = scenes[i];
            check::Checker checker(facts, threads / atOnce);
            checker.checkAll(scene, nullptr, a.rules);
            io::CheckedScene& out = checked[i];
            out.name = scene.name();
            out.file = "scenes/" + scene.name() + ".scene.jsonl";
            out.findings = checker.findings(scene);
            out.accepted = checker.accepted(scene);
            std::erase_if(out.findings, [&](const Finding& f) { return f.severity < *check::severityFrom(a.least); });
            out.lines = io::objectLines(scene);
            for (const auto& [id, line] : out.lines) out.names.emplace_back(id, scene.nameText(scene.find(id)));
        }
    };
    std::vector<std::thread> workers;
    for (std::size_t i = 1; i < atOnce; ++i) workers.emplace_back(work);
    work();
    for (std::thread& worker : workers) worker.join();
    return checked;
}

/// As one step over all scenes; again, as long as mending brings more to light.
int mendAll(Opened& opened, const Arguments& a, const Verbs& v, const std::shared_ptr<const check::Facts>& facts) {
    constexpr int kRounds = 4;
    edit::Draft draft(opened.session(), opened.scenes.front(), "Fix what checks found");
    if (!draft.state()) return v.io.fail(draft.state().error());
    std::size_t mended = 0;
    for (int round = 0; round < kRounds; ++round) {
        const std::size_t before = mended;
        for (const io::CheckedScene& scene : checkScenes(opened, a, facts)) {
            if (base::Status turned = draft.turnTo(scene.name); !turned) return v.io.fail(turned.error());
            const ops::LiveIndex index(opened.session(), draft.scene(), facts->shapes);
            for (const Finding& f : scene.findings) {
                if (!f.mendable) continue;
                if (auto done = check::mend(draft, *facts->rules, {&f, 1}, index.get(), facts.get()))
                    mended += done->count;
                else
                    v.io.err << "mellow: " << f.message << " " << done.error().message << "\n";
            }
        }
        if (mended == before) break;
    }
    if (base::Status back = draft.turnTo(draft.document()); !back) return v.io.fail(back.error());
    if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    v.io.err << fmt::format("mellow: {} fixed\n", mended);
    return saveAll(*opened.workspace, v.io);
}

/// Those that are not there yet.
void appendRules(std::vector<check::Rule>& to, const std::vector<check::Rule>& more) {
    for (const check::Rule& rule : more)
        if (check::ruleOf(to, rule.id) == nullptr) to.push_back(rule);
}

/// Of the editor, and of the scripts of the projects that were named.
int listRules(const Arguments& a, const Verbs& v) {
    io::Json all = io::Json::array();
    std::vector<check::Rule> rules = check::builtInRules();
    for (const std::string& path : a.paths) {
        auto opened = open(path, io::OpenMode::ReadOnly, v.chance);
        if (!opened) return v.io.fail(opened.error());
        const script::Shelf shelf = shelfOf(*opened);
        for (const std::string& problem : brokenScripts(shelf)) v.io.err << "mellow: " << problem << "\n";
        appendRules(rules, script::rulesOf(shelf));
    }
    for (const check::Rule& rule : rules) {
        auto parameters = io::Json::array();
        for (const model::Property& p : rule.parameters)
            parameters.push_back({{"name", p.name},
                                  {"label", p.label},
                                  {"unit", p.unit},
                                  {"usual", model::valueText(p, model::defaultOf(p))},
                                  {"help", p.help}});
        if (a.format == "json")
            all.push_back({{"id", rule.id},
                           {"label", rule.label},
                           {"severity", severityWord(rule.severity)},
                           {"why", rule.why},
                           {"fix", rule.fixLabel},
                           {"parameters", std::move(parameters)}});
        else
            v.io.out << fmt::format("{:18} {:8} {}\n", rule.id, severityWord(rule.severity), rule.label);
    }
    if (a.format == "json") v.io.out << io::toText(all) << "\n";
    return exitCode::kFine;
}

int checkPaths(const Arguments& a, const Verbs& v) {
    if (a.list) return listRules(a, v);
    if (a.paths.empty()) return v.io.err << "mellow: check wants a project or a scene file.\n", exitCode::kUsage;
    if (!check::severityFrom(a.least))
        return v.io.err << "mellow: --min-severity is hint, caution or error.\n", exitCode::kUsage;
    const auto shard = shardFrom(a.shard);
    if (!shard) return v.io.err << "mellow: " << shard.error().message << "\n", exitCode::kUsage;
    std::size_t ordinal = 0;
    std::vector<io::CheckedScene> all;
    std::vector<check::Rule> rules;
    std::vector<std::string> broken;  // scripts that cannot be read
    for (const std::string& path : a.paths) {
        auto opened = open(path, a.fix ? io::OpenMode::Edit : io::OpenMode::ReadOnly, v.chance);
        if (!opened) return v.io.fail(opened.error());
        if (opened->isWhole) opened->scenes = ops::scenesInPlay(opened->session());
        std::erase_if(opened->scenes, [&](const std::string&) { return !shard->takes(ordinal++); });
        for (const std::string& name : opened->scenes)
            if (auto scene = opened->session().scene(name); !scene) return v.io.fail(scene.error());
        warnOfDamage(*opened->workspace, v.io);
        const script::Shelf shelf = shelfOf(*opened);
        for (std::string& problem : brokenScripts(shelf)) {
            v.io.err << "mellow: " << problem << "\n";
            broken.push_back(std::move(problem));
        }
        std::vector<check::Rule> more = script::rulesOf(shelf);
        if (!a.receiver.empty()) {
            std::vector<std::string> problems;
            const auto receiver = hand::receiverNamed(opened->session().library(), a.receiver, problems);
            if (!receiver) return v.io.fail({base::ErrorCode::NotFound, "There is no receiver “" + a.receiver + "”."});
            for (const std::string& problem : problems) v.io.err << "mellow: " << a.receiver << ": " << problem << "\n";
            for (check::Rule& limit : hand::limitRules(opened->session().library(), *receiver))
                more.push_back(std::move(limit));
        }
        const auto known = check::withRules(std::move(more));
        appendRules(rules, *known);
        for (const std::string& rule : a.rules)
            if (check::ruleOf(*known, rule) == nullptr)
                return v.io.err << "mellow: there is no rule “" << rule << "”; mellow check --list-rules has them.\n",
                       exitCode::kUsage;
        if (opened->scenes.empty()) continue;
        if (a.fix && !useBehaviours(*opened, v.io, v.chance)) return exitCode::kScriptBroken;
        const auto facts = check::gatherFacts(opened->session(), known, allShapes(*opened->workspace),
                                              io::mediaFacts(opened->session()), true, nullptr, true);
        for (const std::string& problem : facts->problems) v.io.err << "mellow: checks.jsonl: " << problem << "\n";
        if (a.fix)
            if (const int code = mendAll(*opened, a, v, facts); code != exitCode::kFine) return code;
        for (io::CheckedScene& scene : checkScenes(*opened, a, facts)) all.push_back(std::move(scene));
    }
    v.io.out << (a.format == "json"    ? io::checkJson(all)
                 : a.format == "sarif" ? io::checkSarif(all, rules, broken)
                 : a.format == "junit" ? io::checkJunit(all, rules)
                                       : io::checkText(all));
    if (!broken.empty()) return exitCode::kScriptBroken;
    Severity worst = Severity::Hint;
    for (const io::CheckedScene& scene : all)
        for (const Finding& f : scene.findings) worst = std::max(worst, f.severity);
    return worst == Severity::Error     ? exitCode::kCheckErrors
           : worst == Severity::Caution ? exitCode::kCheckCautions
                                        : exitCode::kFine;
}

}  // namespace

void addCheckCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    auto* command = app.add_subcommand("check", "Finds what a playtest would");
    command->add_option("PATH", a->paths, "Projects or scene files");
    command->add_option("--format", a->format, "text, json, sarif or junit")
        ->check(CLI::IsMember({"text", "json", "sarif", "junit"}));
    command->add_option("--rule", a->rules, "Only this rule; again for more")->take_all();
    command->add_option("--min-severity", a->least, "hint, caution or error");
    command->add_option("--for", a->receiver, "Also what this receiver cannot take");
    command->add_flag("--fix", a->fix, "Fixes what can be fixed, as one step, and writes the scenes");
    command->add_option("--shard", a->shard,
                        "i/n: only the i-th of n shares of the scenes; mellow report join puts reports together");
    command->add_flag("--list-rules", a->list, "Lists the rules: the editor's, and those of the scripts of PATH");
    command->callback([a, verbs] { verbs.code = checkPaths(*a, verbs); });
}

}  // namespace cli
