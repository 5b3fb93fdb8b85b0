#include "cli/scene_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/text.h"
#include "cli/fields.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/json_text.h"
#include "io/templates.h"
#include "model/property_types.h"
#include "model/scene_fields.h"
#include "ops/scenes.h"

namespace cli {
namespace {

struct Arguments {
    std::string path, name, to, like = "ground";
    std::vector<std::string> values;
    bool asJson = false;
    std::optional<bool> scratch, isTemplate;
    bool first = false;
    int place = 0;  ///< from 1; 0: as it is
};

int change(const Arguments& a, const Verbs& v, const std::string& step,
           const std::function<Status(const Opened&, edit::Draft&)>& verb) {
    return runStep(a.path, v, std::string(model::data::kItems), step, verb);
}

std::string marksOf(const model::Project& project, const std::string& name) {
    std::string marks;
    const model::SceneEntry* entry = project.scene(name);
    if (project.firstScene == name) marks += " first";
    if (entry != nullptr && entry->scratch) marks += " scratch";
    if (entry != nullptr && entry->isTemplate) marks += " template";
    return marks;
}

int list(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    const model::Project& project = opened->session().project();
    for (const std::string& name : project.sceneNames) {
        auto scene = opened->session().scene(name);
        if (!scene) return v.io.fail(scene.error());
        const model::SceneEntry* said = project.scene(name);
        const model::SceneEntry entry = said != nullptr ? *said : model::SceneEntry{};
        if (a.asJson)
            v.io.out << io::toText({{"name", name},
                                    {"objects", (*scene)->objectCount()},
                                    {"first", project.firstScene == name},
                                    {"scratch", entry.scratch},
                                    {"template", entry.isTemplate}})
                     << "\n";
        else
            v.io.out << fmt::format("{}  {} objects{}\n", name, (*scene)->objectCount(), marksOf(project, name));
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

int make(const Arguments& a, const Verbs& v) {
    return change(a, v, "New scene " + a.name, [&](const Opened& opened, edit::Draft& draft) {
        return edit::isScene(opened.session(), a.like) ? ops::duplicateScene(draft, a.like, a.name)
                                                       : io::createScene(*opened.workspace, draft, a.name, a.like);
    });
}

int duplicate(const Arguments& a, const Verbs& v) {
    return change(a, v, "Duplicate " + a.name + " as " + a.to,
                  [&](const Opened&, edit::Draft& draft) { return ops::duplicateScene(draft, a.name, a.to); });
}

int rename(const Arguments& a, const Verbs& v) {
    return change(a, v, "Rename " + a.name + " to " + a.to,
                  [&](const Opened&, edit::Draft& draft) { return ops::renameScene(draft, a.name, a.to); });
}

int remove(const Arguments& a, const Verbs& v) {
    return change(a, v, "Delete scene " + a.name,
                  [&](const Opened&, edit::Draft& draft) { return ops::deleteScene(draft, a.name); });
}

int mark(const Arguments& a, const Verbs& v) {
    return change(a, v, "Set scene " + a.name, [&](const Opened& opened, edit::Draft& draft) -> Status {
        Status done = ops::changeScene(draft, a.name, [&](model::SceneEntry& entry) {
            entry.scratch = a.scratch.value_or(entry.scratch);
            entry.isTemplate = a.isTemplate.value_or(entry.isTemplate);
        });
        if (done && a.first) done = ops::makeFirstScene(draft, a.name);
        if (!done || a.place == 0) return done;
        std::vector<std::string> names = opened.session().project().sceneNames;
        std::erase(names, a.name);
        names.insert(names.begin() + std::clamp<std::ptrdiff_t>(a.place - 1, 0, std::ssize(names)), a.name);
        return ops::orderScenes(draft, names);
    });
}

int settings(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, a.values.empty() ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    const std::string name =
        opened->scenes.size() == 1 ? opened->scenes.front() : opened->session().project().firstScene;
    auto scene = opened->session().scene(name);
    if (!scene) return v.io.fail(scene.error());
    if (!a.values.empty()) {
        edit::Draft draft(opened->session(), name, "Settings of " + name);
        if (!draft.state()) return v.io.fail(draft.state().error());
        model::SceneSettings changed = draft.scene().settings();
        if (Status set = setFields(model::sceneFields(), &changed, a.values); !set) return v.io.fail(set.error());
        if (Status set = draft.setSettings(changed); !set) return v.io.fail(set.error());
        if (auto kept = draft.commit(); !kept) return v.io.fail(kept.error());
    }
    tellFields(model::sceneFields(), &(*scene)->settings(), a.asJson, v.io);
    return a.values.empty() ? exitCode::kFine : saveAll(*opened->workspace, v.io);
}

int project(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, a.values.empty() ? io::OpenMode::ReadOnly : io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!a.values.empty()) {
        edit::Draft draft(opened->session(), std::string(model::data::kItems), "Settings of the project");
        if (!draft.state()) return v.io.fail(draft.state().error());
        const Status set = edit::changeFacts(
            draft, [&](model::ProjectFacts& facts) { return setFields(model::projectFields(), &facts, a.values); });
        if (!set) return v.io.fail(set.error());
        if (auto kept = draft.commit(); !kept) return v.io.fail(kept.error());
    }
    const model::ProjectFacts& facts = opened->session().project();
    tellFields(model::projectFields(), &facts, a.asJson, v.io);
    return a.values.empty() ? exitCode::kFine : saveAll(*opened->workspace, v.io);
}

}  // namespace

void addSceneCommands(CLI::App& app, const Verbs& verbs) {
    auto a = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    CLI::App& scene = addGroup(app, "scene", "Scenes as wholes: list, new, duplicate, rename, delete, set, settings");
    auto add = [&](const char* name, const char* help, const char* path, int (*run)(const Arguments&, const Verbs&)) {
        return addVerb(scene, name, help, path, a, verbs, run);
    };
    add("list", "The scenes in their order", "PROJECT", list)->add_flag("--json", a->asJson, "A JSON object a line");
    auto* made = add("new", "Makes one from a template, or like another scene", "PROJECT", make);
    made->add_option("NAME", a->name)->required();
    made->add_option("--template", a->like,
                     "ground, empty, required (what the kinds of the project require), or a scene")
        ->capture_default_str();
    auto addPair = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        auto* command = add(name, help, "PROJECT", run);
        command->add_option("NAME", a->name)->required();
        command->add_option("TO", a->to)->required();
    };
    addPair("duplicate", "A copy under another name", duplicate);
    addPair("rename", "Calls it otherwise; what names it follows", rename);
    add("delete", "Takes it out of the project; undo brings it back", "PROJECT", remove)
        ->add_option("NAME", a->name)
        ->required();
    auto* set = add("set", "What is said of it", "PROJECT", mark);
    set->add_option("NAME", a->name)->required();
    set->add_option("--scratch", a->scratch, "true: a place to try, never exported or checked");
    set->add_option("--template", a->isTemplate, "true: new scenes can begin as it");
    set->add_flag("--first", a->first, "The one shown when the project is opened");
    set->add_option("--place", a->place, "In the order of scenes, from 1")->check(CLI::Range(1, 100'000));
    auto* own = add("settings", "Sun, sky and ground: shows them, or sets some", "SCENE", settings);
    own->add_option("KEY=VALUE", a->values, "Such as sunHeight=12");
    own->add_flag("--json", a->asJson, "As JSON");
    auto* whole =
        addVerb(app, "project", "What is said of the project: shows it, or sets some", "PROJECT", a, verbs, project);
    whole->add_option("KEY=VALUE", a->values, "Such as eyeHeight=1.2");
    whole->add_flag("--json", a->asJson, "As JSON");
}

}  // namespace cli
