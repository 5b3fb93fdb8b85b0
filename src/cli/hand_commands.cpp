#include "cli/hand_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/files.h"
#include "base/text.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "hand/examples.h"
#include "hand/hand_over.h"
#include "hand/take_in.h"
#include "hand/write.h"
#include "io/json_text.h"
#include "ops/scenes.h"

namespace cli {
namespace {

namespace fs = std::filesystem;
using io::Json;

struct Arguments {
    std::string path, to, recipe, file, add, command, save;
    std::vector<std::string> names;
    bool dryRun = false, json = false, outside = false, run = false, back = false, removeGone = false, despite = false,
         examples = false;
};

/// The one scene that is meant.
Result<const model::Scene*> sceneOf(const Opened& opened) {
    const std::string name = opened.isWhole ? opened.session().project().firstScene : opened.scenes.front();
    return opened.session().scene(name);
}

hand::Source sourceOf(const Opened& opened, const model::Scene& scene) {
    return {scene, opened.session().library(), [&](base::ObjectId id) { return opened.session().prefabName(id); }};
}

Result<hand::Recipe> recipeOf(const Opened& opened, const std::string& name) {
    std::vector<std::string> problems;
    auto recipe = hand::recipeNamed(opened.session().library(), name, problems);
    if (!recipe)
        return base::fail(base::ErrorCode::NotFound, "There is no recipe “" + name + "”; mellow recipes lists them.");
    if (!problems.empty()) return base::fail(base::ErrorCode::BadInput, "The recipe " + name + ": " + problems.front());
    return *recipe;
}

// recipes
int addExample(const Arguments& a, const Verbs& v) {
    return runStep(a.path, v, "", "Add the recipe " + a.add, [&](const Opened& opened, edit::Draft& draft) -> Status {
        const auto& all = hand::examples();
        const auto example = std::ranges::find(all, a.add, &hand::Example::name);
        if (example == all.end())
            return base::fail(base::ErrorCode::NotFound, "There is no example “" + a.add + "”; --examples lists them.");
        if (opened.session().library().recipes.contains(a.add))
            return base::fail(base::ErrorCode::Refused, "The project has a recipe “" + a.add + "” already.");
        auto json = io::readOurs(example->text, a.add, "mellow-recipe");
        if (!json) return tl::unexpected(json.error());
        model::ValueMap map = io::toValues(*json);
        model::eraseValue(map, "format");
        model::eraseValue(map, "version");
        return hand::putRecipe(draft, a.add, std::move(map));
    });
}

int listRecipes(const Arguments& a, const Verbs& v) {
    if (!a.add.empty()) return addExample(a, v);
    std::vector<std::string> problems;
    if (a.examples) {
        for (const hand::Example& one : hand::examples()) {
            auto json = io::parseJson(one.text, one.name);
            v.io.out << fmt::format("{}: {}\n", one.name, json ? json->value("label", one.name) : one.name);
        }
        return exitCode::kFine;
    }
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    const model::Library& library = opened->session().library();
    const auto listed = [&](const char* what, const model::Library::Papers& all, const auto& read) {
        Json list = Json::array();
        for (const auto& [name, map] : all) {
            std::vector<std::string> own;
            const auto one = read(name, map, own);
            list.push_back({{"name", name}, {"label", one.label}, {"help", one.help}, {"problems", own}});
            for (const std::string& problem : own) problems.push_back(name + ": " + problem);
            if (!a.json) v.io.out << fmt::format("{} {}: {}\n", what, name, one.label);
        }
        return list;
    };
    const Json all = {{"recipes", listed("recipe", library.recipes, hand::recipeFrom)},
                      {"receivers", listed("receiver", library.receivers, hand::receiverFrom)},
                      {"commands", listed("command", library.commands, hand::commandFrom)}};
    if (a.json) v.io.out << io::toText(all) << "\n";
    for (const std::string& problem : problems) v.io.err << "mellow: " << problem << "\n";
    return problems.empty() ? exitCode::kFine : exitCode::kFindings;
}

// write
int writeList(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    auto recipe = recipeOf(*opened, a.recipe);
    if (!recipe) return v.io.fail(recipe.error());
    auto scene = sceneOf(*opened);
    if (!scene) return v.io.fail(scene.error());
    if (ops::isScratch(opened->session(), (*scene)->name()))
        return v.io.fail(
            {base::ErrorCode::Refused, (*scene)->name() + " is a scratch scene: it is never handed over."});
    const hand::Written written = hand::write(sourceOf(*opened, **scene), *recipe);
    for (const std::string& remark : written.remarks) v.io.err << "mellow: " << remark << "\n";
    if (written.files.empty()) return exitCode::kFailed;
    for (const hand::WrittenFile& file : written.files) {
        if (a.to.empty()) {
            std::string text = file.text;  // lines as they are here, whatever the file would have
            std::erase(text, '\r');
            v.io.out << text;
            continue;
        }
        const fs::path target = fs::path(a.to) / file.name;
        std::error_code problem;
        fs::create_directories(target.parent_path(), problem);
        if (Status done = writeOut(target, file.coded, v.io); !done) return v.io.fail(done.error());
        v.io.out << fmt::format("{}: {} entries, {} bytes\n", target.string(), file.spans.size(), file.coded.size());
    }
    return exitCode::kFine;
}

// handover
const char* stateWord(hand::Delivery::State state) {
    return state == hand::Delivery::State::New ? "new" : state == hand::Delivery::State::Changed ? "changed" : "same";
}

Json reportOf(const hand::HandOverPlan& plan, bool dryRun) {
    Json files = Json::array();
    for (const hand::Delivery& one : plan.files)
        files.push_back({{"file", one.file.string()},
                         {"state", stateWord(one.state)},
                         {"from", one.from},
                         {"entries", one.entries},
                         {"bytes", one.bytes.size()}});
    Json left = Json::object();
    for (const auto& [recipe, n] : plan.passedOver) left[recipe] = n;
    return {{"receiver", plan.receiver}, {"scene", plan.scene}, {"dryRun", dryRun}, {"files", files},
            {"remarks", plan.remarks},   {"leftOut", left}};
}

void tellPlan(const hand::HandOverPlan& plan, const Streams& io) {
    for (const hand::Delivery& one : plan.files)
        io.out << fmt::format("{} ({}, {}): {}{} bytes\n", one.file.string(), stateWord(one.state), one.from,
                              one.entries > 0 ? fmt::format("{} entries, ", one.entries) : "", one.bytes.size());
    for (const auto& [recipe, n] : plan.passedOver)
        io.out << fmt::format("{}: {} objects are left out by its filter\n", recipe, n);
    for (const std::string& remark : plan.remarks) io.err << "mellow: " << remark << "\n";
}

/// Of what the receiver cannot take; how many.
std::size_t tellLimits(const Opened& opened, const model::Scene& scene, const std::string& name, Json& told,
                       const Streams& io, bool asJson) {
    std::vector<std::string> ignored;
    const auto receiver = hand::receiverNamed(opened.session().library(), name, ignored);
    if (!receiver) return 0;
    for (const check::Finding& f : hand::beyondLimits(scene, opened.session().library(), *receiver)) {
        told.push_back(
            {{"rule", f.rule}, {"object", f.object.value != 0 ? base::toText(f.object) : ""}, {"message", f.message}});
        if (!asJson) io.err << "mellow: " << f.message << "\n";
    }
    return told.size();
}

/// The code of the first that does not end well.
int runAll(const std::vector<hand::Command>& commands, const hand::Words& words, const fs::path& project, Json& ran,
           const Streams& io, bool asJson) {
    int worst = 0;
    for (const hand::Command& command : commands) {
        const base::Progress progress;
        if (!asJson) io.out << hand::commandLine(command, words) << "\n";
        auto end = hand::run(
            command, project, words, [&](const std::string& line) { (asJson ? io.err : io.out) << line << "\n"; },
            progress);
        if (!end) {
            io.err << "mellow: " << end.error().message << "\n";
            return exitCode::kFailed;
        }
        ran.push_back({{"command", command.name}, {"code", end->code}});
        if (!asJson || end->code != 0) io.err << fmt::format("mellow: {} ended with {}\n", command.label, end->code);
        if (worst == 0) worst = end->code;
    }
    return worst == 0 ? exitCode::kFine : exitCode::kFailed;
}

int putBack(const Arguments& a, const Opened& opened, const Verbs& v) {
    auto left = hand::putBack(*opened.workspace, a.to, a.outside);
    if (!left) return v.io.fail(left.error());
    for (const std::string& one : *left) v.io.err << "mellow: " << one << "\n";
    v.io.out << "Files lie as they lay before the last hand-over to " << a.to << ".\n";
    return exitCode::kFine;
}

int handOver(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    warnOfDamage(*opened->workspace, v.io);
    if (a.back) return putBack(a, *opened, v);
    auto scene = sceneOf(*opened);
    if (!scene) return v.io.fail(scene.error());
    auto plan = hand::planHandOver(*opened->workspace, **scene, a.to);
    if (!plan) return v.io.fail(plan.error());
    if (!plan->commands.empty() && !a.run && !a.dryRun)
        return v.io.fail(
            {base::ErrorCode::Refused,
             "It runs " + hand::commandLine(plan->commands.front(), plan->words) + ": --run allows that."});
    Json report = reportOf(*plan, a.dryRun), limits = Json::array(), ran = Json::array();
    if (!a.json) tellPlan(*plan, v.io);
    const std::size_t beyond = tellLimits(*opened, **scene, a.to, limits, v.io, a.json);
    int code = exitCode::kFine;
    if (!a.dryRun) {
        if (Status done = hand::deliver(*opened->workspace, *plan, a.outside); !done) return v.io.fail(done.error());
        code = runAll(plan->commands, plan->words, opened->workspace->folder(), ran, v.io, a.json);
    }
    report["limits"] = limits;
    report["commands"] = ran;
    if (a.json) v.io.out << io::toText(report) << "\n";
    return code != exitCode::kFine ? code : beyond > 0 ? exitCode::kFindings : exitCode::kFine;
}

// takein
Json planJson(const hand::TakeInPlan& plan) {
    Json problems = Json::array(), changes = Json::array(), gone = Json::array(), unknown = Json::object();
    for (const hand::ListProblem& p : plan.problems)
        problems.push_back({{"entry", p.row}, {"field", p.field}, {"message", p.message}});
    for (const hand::TakenChange& c : plan.changes)
        changes.push_back({{"id", base::toText(c.id)},
                           {"field", c.field},
                           {"before", c.before},
                           {"after", c.after},
                           {"entry", c.row}});
    for (const base::ObjectId id : plan.gone) gone.push_back(base::toText(id));
    for (const auto& [table, names] : plan.unknown)
        for (const auto& [name, n] : names) unknown[name] = n;
    return {{"new", plan.added},  {"changed", plan.changed.size()}, {"same", plan.same},  {"gone", gone},
            {"changes", changes}, {"problems", problems},           {"unknown", unknown}, {"told", plan.told}};
}

void tellPlan(const hand::TakeInPlan& plan, const model::Scene& scene, const Streams& io) {
    for (const hand::TakenChange& c : plan.changes)
        io.out << fmt::format("{}: {} {} → {}\n", scene.nameText(scene.find(c.id)), c.field, c.before, c.after);
    io.out << fmt::format("{} new, {} changed, {} as they were, {} not in the list\n", plan.added, plan.changed.size(),
                          plan.same, plan.gone.size());
    for (const hand::ListProblem& p : plan.problems)
        io.err << fmt::format("mellow: {}{}: {}\n", p.row > 0 ? fmt::format("entry {}", p.row) : "the list",
                              p.field.empty() ? "" : ", " + p.field, p.message);
    for (const auto& [table, names] : plan.unknown)
        for (const auto& [name, n] : names)
            io.err << fmt::format("mellow: “{}” is no item ({} times); --name \"{}=ITEM\" says which it is\n", name, n,
                                  name);
    for (const std::string& told : plan.told) io.err << "mellow: " << told << "\n";
}

/// By the project's recipe, or one guessed from the file.
Result<hand::Recipe> recipeFor(const Arguments& a, const Opened& opened, const std::string& bytes) {
    if (!a.recipe.empty()) return recipeOf(opened, a.recipe);
    auto recipe = hand::guessed(bytes, fs::path(a.file).filename().string());
    if (recipe && !a.save.empty()) recipe->name = a.save;
    return recipe;
}

int takeIn(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, a.dryRun ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!a.dryRun && !useBehaviours(*opened, v.io, v.chance)) return exitCode::kScriptBroken;
    auto bytes = base::readFile(a.file, base::most::kTable);
    if (!bytes) return v.io.fail(bytes.error());
    auto recipe = recipeFor(a, *opened, *bytes);
    if (!recipe) return v.io.fail(recipe.error());
    auto scene = sceneOf(*opened);
    if (!scene) return v.io.fail(scene.error());
    std::string table;
    for (const hand::Field& field : recipe->fields)
        if (!field.names.empty()) table = field.names;
    hand::Recipe::Names learnt;
    for (const std::string& pair : a.names) {
        const std::size_t equals = pair.rfind('=');
        if (equals == std::string::npos || table.empty())
            return v.io.err << "mellow: --name wants THEIRS=OURS, and a recipe with a table of names.\n",
                   exitCode::kUsage;
        learnt[pair.substr(0, equals)] = pair.substr(equals + 1);
    }
    for (const auto& [theirs, ours] : learnt) recipe->read[table][theirs] = ours;
    auto list = hand::read(*recipe, *bytes, a.file);
    if (!list) return v.io.fail(list.error());
    const hand::TakeInPlan plan = hand::planTakeIn(sourceOf(*opened, **scene), opened->session(), *recipe, *list);
    if (a.json)
        v.io.out << io::toText(planJson(plan)) << "\n";
    else
        tellPlan(plan, **scene, v.io);
    if (a.dryRun) return plan.problems.empty() ? exitCode::kFine : exitCode::kFindings;
    {
        edit::Draft draft(opened->session(), (*scene)->name(), "Take in " + fs::path(a.file).filename().string());
        if (Status done = hand::takeIn(draft, plan, {a.removeGone, a.despite}); !done) return v.io.fail(done.error());
        if (!learnt.empty() && !a.recipe.empty())
            if (Status done = hand::remember(draft, a.recipe, table, learnt); !done) return v.io.fail(done.error());
        if (a.recipe.empty() && !a.save.empty())
            if (Status done = hand::putRecipe(draft, a.save, hand::valuesOf(*recipe)); !done)
                return v.io.fail(done.error());
        if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    }
    const int code = saveAll(*opened->workspace, v.io);
    return code != exitCode::kFine ? code : plan.problems.empty() ? exitCode::kFine : exitCode::kFindings;
}

// launch
int launch(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    std::vector<std::string> problems;
    auto command = hand::commandNamed(opened->session().library(), a.command, problems);
    if (!command)
        return v.io.fail(
            {base::ErrorCode::NotFound, "There is no command “" + a.command + "”; mellow recipes lists them."});
    if (!problems.empty()) return v.io.fail({base::ErrorCode::BadInput, a.command + ": " + problems.front()});
    auto scene = sceneOf(*opened);
    if (!scene) return v.io.fail(scene.error());
    hand::Words words = {{"scene", (*scene)->name()}, {"project", fs::absolute(opened->workspace->folder()).string()}};
    Json ran = Json::array();
    std::vector<hand::Command> commands;
    if (!command->handOver.empty()) {
        auto plan = hand::planHandOver(*opened->workspace, **scene, command->handOver);
        if (!plan) return v.io.fail(plan.error());
        if (Status done = hand::deliver(*opened->workspace, *plan, a.outside); !done) return v.io.fail(done.error());
        words = plan->words;
        commands = plan->commands;
    }
    commands.push_back(*command);
    return runAll(commands, words, opened->workspace->folder(), ran, v.io, false);
}

}  // namespace

void addHandCommands(CLI::App& app, const Verbs& verbs) {
    const auto make = [] { return std::make_shared<Arguments>(); };  // shared by the callback, which runs while parsing
    auto a = make();
    auto* recipes =
        addVerb(app, "recipes", "The recipes, receivers and commands of a project", "A project", a, verbs, listRecipes);
    recipes->add_option("--add", a->add, "An example, which becomes a recipe of the project");
    recipes->add_flag("--examples", a->examples, "Those there are to begin with");
    recipes->add_flag("--json", a->json, "For other programs");
    a = make();
    auto* write = addVerb(app, "write", "Writes a scene as a list, by a recipe", "SCENE", a, verbs, writeList);
    write->add_option("--recipe", a->recipe, "Its name")->required();
    write->add_option("--to", a->to, "The folder; without it the list goes to standard output");
    a = make();
    auto* over = addVerb(app, "handover", "Hands a scene over to a receiver: writes, enters, copies, runs", "SCENE", a,
                         verbs, handOver);
    over->add_option("--to", a->to, "The receiver’s name")->required();
    over->add_flag("--dry-run", a->dryRun, "Only says what would be written");
    over->add_flag("--outside", a->outside, "Files outside of the project may be written");
    over->add_flag("--run", a->run, "Its commands may be run");
    over->add_flag("--back", a->back, "Puts back what the last hand-over wrote over");
    over->add_flag("--json", a->json, "The report, for other programs");
    a = make();
    auto* take = addVerb(app, "takein", "Takes a list back into a scene, as one step", "SCENE", a, verbs, takeIn);
    take->add_option("FILE", a->file, "The list")->required();
    take->add_option("--recipe", a->recipe,
                     "The recipe that it follows; without it the columns are guessed by their names");
    take->add_option("--save-recipe", a->save, "Keeps what was guessed as a recipe of this name");
    take->add_option("--name", a->names, "THEIRS=OURS: an item’s name, which the recipe keeps; again for more")
        ->take_all();
    take->add_flag("--remove-gone", a->removeGone, "Removes what the list does not have any more");
    take->add_flag("--skip-faulty", a->despite, "Leaves out what is wrong; else nothing happens then");
    take->add_flag("--dry-run", a->dryRun, "Only says what would be otherwise");
    take->add_flag("--json", a->json, "For other programs");
    a = make();
    auto* run = addVerb(app, "launch", "Runs a command of the project, its hand-over first", "SCENE", a, verbs, launch);
    run->add_option("COMMAND", a->command, "Its name")->required();
    run->add_flag("--outside", a->outside, "Its hand-over may write outside of the project");
}

}  // namespace cli
