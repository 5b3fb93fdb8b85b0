#include "cli/prefab_commands.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>
#include <ostream>

#include "base/text.h"
#include "cli/names.h"
#include "cli/verbs.h"
#include "io/json_text.h"
#include "ops/prefab.h"

namespace cli {

namespace {

/// What the subcommands read from their arguments; they outlive the parsing.
struct Arguments {
    std::string path, name, where, folder, what;
    bool asJson = false, keep = false, all = false;
};

std::string documentName(const edit::Session& session, const std::string& document) {
    const ObjectId prefab = model::prefabOf(document);
    return prefab ? "prefab " + session.prefabName(prefab) : document;
}

Json usesJson(const edit::Session& session, const std::vector<ops::Use>& uses) {
    Json all = Json::array();
    for (const ops::Use& use : uses) {
        Json ids = Json::array();
        for (ObjectId id : use.ids) ids.push_back(base::toText(id));
        all.push_back(
            {{model::prefabOf(use.document) ? "prefab" : "scene",
              model::prefabOf(use.document) ? session.prefabName(model::prefabOf(use.document)) : use.document},
             {"count", use.ids.size()},
             {"ids", ids}});
    }
    return all;
}

int list(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    edit::Session& session = opened->session();
    std::map<std::string, ObjectId> byName;
    for (const auto& [id, scene] : session.definitions()) byName[scene->settings().prefab->name] = id;
    for (const auto& [name, id] : byName) {
        auto uses = ops::usedBy(session, id);
        if (!uses) return v.io.fail(uses.error());
        std::size_t instances = 0;
        for (const ops::Use& use : *uses) instances += use.ids.size();
        const model::Scene& scene = *session.definitions().at(id);
        const base::Vec3 size =
            scene.subtreeBounds(kNoSlot).empty() ? base::Vec3(0.0) : scene.subtreeBounds(kNoSlot).size();
        if (a.asJson)
            v.io.out << io::toText({{"name", name},
                                    {"id", base::toText(id)},
                                    {"folder", scene.settings().prefab->folder},
                                    {"objects", scene.objectCount()},
                                    {"size", {size.x, size.y, size.z}},
                                    {"instances", instances}})
                     << "\n";
        else
            v.io.out << fmt::format("{}  {}  {} objects, {} instances\n", base::toText(id), name, scene.objectCount(),
                                    instances);
    }
    warnOfDamage(*opened->workspace, v.io);
    return exitCode::kFine;
}

int usedBy(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::ReadOnly, v.chance);
    if (!opened) return v.io.fail(opened.error());
    edit::Session& session = opened->session();
    const ObjectId prefab = session.prefabNamed(a.name);
    const base::Name item = session.intern(a.name);
    if (!prefab && session.library().item(item) == nullptr)
        return v.io.fail({ErrorCode::NotFound, fmt::format("There is no prefab or item “{}”.", a.name)});
    auto uses = prefab ? ops::usedBy(session, prefab) : ops::usedBy(session, item);
    if (!uses) return v.io.fail(uses.error());
    if (a.asJson) {
        v.io.out << io::toText(usesJson(session, *uses)) << "\n";
        return exitCode::kFine;
    }
    for (const ops::Use& use : *uses)
        v.io.out << fmt::format("{}  {}\n", documentName(session, use.document), use.ids.size());
    return exitCode::kFine;
}

/// A scene open for editing, and its objects that fit; those inside others that fit are left to these.
struct Chosen {
    Opened opened;
    ops::Ids ids;
    const std::string& scene() const { return opened.scenes.front(); }
};
Result<Chosen> choose(const Arguments& a, const Verbs& v) {
    auto opened = open(a.path, io::OpenMode::Edit, v.chance);
    if (!opened) return tl::unexpected(opened.error());
    if (!useBehaviours(*opened, v.io, v.chance))
        return base::fail(ErrorCode::Unsupported, "A script of the project cannot be read.");
    if (opened->scenes.size() != 1)
        return base::fail(ErrorCode::BadInput, "Name a scene file: the project has more than one scene.");
    auto scene = opened->session().scene(opened->scenes.front());
    if (!scene) return tl::unexpected(scene.error());
    auto ids = chosen(**scene, a.where);
    if (!ids) return tl::unexpected(ids.error());
    return Chosen{std::move(*opened), ops::topmost(**scene, *ids)};
}

/// Makes the step and writes the files; then says what came of it.
int finish(edit::Draft& draft, const Chosen& chosen, const Arguments& a, const Verbs& v, const Json& json,
           const std::string& text) {
    if (auto step = draft.commit(); !step) return v.io.fail(step.error());
    const int code = saveAll(*chosen.opened.workspace, v.io);
    if (code == exitCode::kFine) v.io.out << (a.asJson ? io::toText(json) : text) << "\n";
    return code;
}

int make(const Arguments& a, const Verbs& v) {
    auto chosen = choose(a, v);
    if (!chosen)
        return chosen.error().code == ErrorCode::Unsupported ? exitCode::kScriptBroken : v.io.fail(chosen.error());
    edit::Session& session = chosen->opened.session();
    const bool numbered = a.name.find('#') != std::string::npos;
    ops::MakePrefab how{numbered ? ops::freePrefabName(session, a.name) : a.name, a.folder, {}, !a.keep};
    edit::Draft draft(session, chosen->scene(), "Make prefab " + how.name);
    how.basePoint = ops::basePointOf(ops::solidBounds(draft.scene(), chosen->ids), {});
    auto made = ops::makePrefab(draft, chosen->ids, how);
    if (!made) return v.io.fail(made.error());
    return finish(draft, *chosen, a, v,
                  {{"name", how.name},
                   {"id", base::toText(made->prefab)},
                   {"instance", made->instance ? Json(base::toText(made->instance)) : Json()}},
                  fmt::format("{}: {} objects", how.name, session.definitions().at(made->prefab)->objectCount()));
}

int takeApart(const Arguments& a, const Verbs& v) {
    auto chosen = choose(a, v);
    if (!chosen)
        return chosen.error().code == ErrorCode::Unsupported ? exitCode::kScriptBroken : v.io.fail(chosen.error());
    edit::Draft draft(chosen->opened.session(), chosen->scene(), "Take apart");
    draft.rename("Take apart " + ops::describe(draft.scene(), chosen->ids));
    auto freed = ops::takeApart(draft, chosen->ids, a.all);
    if (!freed) return v.io.fail(freed.error());
    Json groups = Json::array();
    for (ObjectId id : *freed) groups.push_back(base::toText(id));
    return finish(draft, *chosen, a, v, {{"groups", groups}}, fmt::format("{} taken apart", freed->size()));
}

/// The differences of the instances that were chosen; of these, those called `what` when it says something.
struct Differing {
    ObjectId instance;
    std::vector<ops::DifferenceEntry> entries;
};
std::vector<Differing> differing(const edit::Session& session, const model::Scene& scene, const ops::Ids& ids,
                                 const std::string& what) {
    std::vector<Differing> all;
    for (ObjectId id : ids) {
        const Slot slot = scene.find(id);
        if (!scene.isInstance(slot)) continue;
        Differing one{id, ops::differences(session, *scene.detail(slot)->prefab)};
        if (!what.empty())
            std::erase_if(one.entries, [&](const ops::DifferenceEntry& entry) { return entry.key() != what; });
        if (!one.entries.empty()) all.push_back(std::move(one));
    }
    return all;
}

int differences(const Arguments& a, const Verbs& v) {
    auto chosen = choose(a, v);
    if (!chosen) return v.io.fail(chosen.error());
    edit::Session& session = chosen->opened.session();
    const model::Scene& scene = **session.scene(chosen->scene());
    for (const Differing& one : differing(session, scene, chosen->ids, a.what))
        for (const ops::DifferenceEntry& entry : one.entries) {
            const auto line = ops::lineOf(session, *scene.detail(scene.find(one.instance))->prefab, entry);
            if (a.asJson)
                v.io.out << io::toText({{"instance", base::toText(one.instance)},
                                        {"object", base::toText(base::joined(one.instance, entry.inner))},
                                        {"name", line.object},
                                        {"what", entry.key()},
                                        {"definition", line.before},
                                        {"here", line.now},
                                        {"gone", entry.gone}})
                         << "\n";
            else
                v.io.out << fmt::format("{}  {}  {}: {} → {}\n", base::toText(one.instance),
                                        base::forTerminal(line.object), entry.key(), base::forTerminal(line.before),
                                        base::forTerminal(line.now));
        }
    return exitCode::kFine;
}

/// To the definition, or back to how it has it.
int settle(const Arguments& a, const Verbs& v, bool give) {
    auto chosen = choose(a, v);
    if (!chosen)
        return chosen.error().code == ErrorCode::Unsupported ? exitCode::kScriptBroken : v.io.fail(chosen.error());
    edit::Session& session = chosen->opened.session();
    edit::Draft draft(session, chosen->scene(), give ? "Give to the definition" : "Take back");
    std::size_t count = 0;
    for (const Differing& one : differing(session, draft.scene(), chosen->ids, a.what)) {
        const base::Status done = give ? ops::giveToDefinition(draft, one.instance, one.entries)
                                       : ops::takeBack(draft, one.instance, one.entries);
        if (!done) return v.io.fail(done.error());
        count += one.entries.size();
    }
    if (count == 0) return v.io.fail({ErrorCode::NotFound, "Nothing of this differs there."});
    return finish(draft, *chosen, a, v, {{give ? "given" : "takenBack", count}},
                  fmt::format("{} {}", count, give ? "given to the definition" : "taken back"));
}

int give(const Arguments& a, const Verbs& v) {
    return settle(a, v, true);
}
int takeBack(const Arguments& a, const Verbs& v) {
    return settle(a, v, false);
}

}  // namespace

PrefabFacts prefabFacts(const edit::Session& session, const model::Scene& scene, Slot slot) {
    PrefabFacts facts;
    if (scene.isInstance(slot)) facts.prefab = session.prefabName(scene.detail(slot)->prefab->of);
    const Slot around = scene.instanceAround(slot);
    if (around == kNoSlot) return facts;
    facts.instance = base::toText(scene.id(around));
    const model::PrefabLink& link = *scene.detail(around)->prefab;
    if (link.plain()) return facts;
    const ObjectId inner = base::innerOf(scene.id(around), scene.id(slot));
    for (const ops::DifferenceEntry& entry : ops::differences(session, link))
        if (entry.inner == inner) facts.differences.push_back(entry.key());
    return facts;
}

void addPrefabCommands(CLI::App& app, const Verbs& verbs) {
    auto arguments = std::make_shared<Arguments>();  // shared by the callbacks, which run while parsing
    CLI::App& prefab =
        addGroup(app, "prefab", "Prefabs: list, used-by, make, take-apart, differences, give, take-back");
    auto add = [&](const char* name, const char* help, const char* what, int (*run)(const Arguments&, const Verbs&)) {
        auto* command = addVerb(prefab, name, help, what, arguments, verbs, run);
        command->add_flag("--json", arguments->asJson, "As JSON");
        return command;
    };
    add("list", "The project's prefabs, one a line, with how many instances they have", "PROJECT", list);
    auto* used = add("used-by", "The scenes and prefabs that hold a prefab, or an item", "PROJECT", usedBy);
    used->add_option("NAME", arguments->name)->required();
    auto* made = add("make", "Makes a prefab of objects of a scene, in whose place an instance comes", "SCENE", make);
    made->add_option("NAME", arguments->name, "## stands for the next number")->required();
    made->add_option("--where", arguments->where, "Which objects, such as: \"market stall*\"")->required();
    made->add_option("--folder", arguments->folder, "Where the Stock lists it");
    made->add_flag("--keep", arguments->keep, "Leaves the objects as they are");
    auto* apart = add("take-apart", "Makes plain objects of instances", "SCENE", takeApart);
    apart->add_option("--where", arguments->where, "Which instances")->required();
    apart->add_flag("--all", arguments->all, "The instances inside them too");
    auto differ = [&](const char* name, const char* help, int (*run)(const Arguments&, const Verbs&)) {
        auto* command = add(name, help, "SCENE", run);
        command->add_option("--where", arguments->where, "Which instances")->required();
        command->add_option("--what", arguments->what, "Only this, such as: light, position, properties.oil, added");
    };
    differ("differences", "What differs in instances: how it is in the definition and how here", differences);
    differ("give", "Gives what differs in instances to their definitions", give);
    differ("take-back", "Makes instances again as their definitions are", takeBack);
}

}  // namespace cli
