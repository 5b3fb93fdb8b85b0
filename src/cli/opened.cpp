#include "cli/opened.h"

#include "ops/live_index.h"

#include <charconv>
#include <ostream>

#include "base/text.h"
#include "cli/names.h"
#include "io/outside.h"
#include "query/collision.h"
#include "query/mesh_index.h"
#include "script/shapes.h"

namespace cli {

namespace fs = std::filesystem;

constexpr std::string_view kSceneEnding = ".scene.jsonl";

int Streams::fail(const base::Error& error) const {
    err << "mellow: " << error.message << "\n";
    return exitCode::kFailed;
}

Result<Opened> open(const fs::path& path, io::OpenMode mode, const io::Chance& chance) {
    const bool isScene = path.filename().string().ends_with(kSceneEnding);
    std::error_code problem;
    const fs::path absolute = fs::absolute(path, problem).lexically_normal();
    if (problem) return base::fail(base::ErrorCode::NotFound, path.string() + ": cannot be found.");
    if (isScene && !base::exists(absolute))
        return base::fail(base::ErrorCode::NotFound, path.string() + ": there is no such scene file.");
    fs::path folder = isScene ? absolute.parent_path().parent_path() : absolute;
    if (folder.filename().empty()) folder = folder.parent_path();
    auto workspace = io::openWorkspace(folder, mode, chance);
    if (!workspace) return tl::unexpected(workspace.error());
    Opened opened{std::move(*workspace), {}, !isScene, {}};
    if (isScene) {
        const std::string name = absolute.filename().string();
        opened.scenes = {name.substr(0, name.size() - kSceneEnding.size())};
    } else {
        opened.scenes = opened.workspace->session->project().sceneNames;
    }
    return opened;
}

script::Shelf shelfOf(const Opened& opened) {
    script::Shelf shelf;
    shelf.setFolder(script::Owner::Project, opened.workspace->folder() / "scripts", opened.session().project().name);
    shelf.refresh();
    return shelf;
}

std::vector<std::string> brokenScripts(const script::Shelf& shelf, const fs::path& but) {
    std::vector<std::string> problems = shelf.unreadable();
    std::error_code ignored;
    for (const script::Script& one : shelf.scripts())
        if (!one.problem.empty() && (but.empty() || !fs::equivalent(one.file, but, ignored)))
            problems.push_back(one.problem);
    return problems;
}

base::Status Opened::haveSay(edit::Draft& draft) const {
    if (base::Status said = behaviours->beforeCommit(draft); !said) return said;
    if (base::Status said = relations->beforeCommit(draft); !said) return said;
    return acts->beforeCommit(draft);
}

bool useBehaviours(Opened& opened, const Streams& io, const io::Chance& chance, const fs::path& but) {
    const script::Shelf shelf = shelfOf(opened);
    const auto broken = brokenScripts(shelf, but);
    for (const std::string& problem : broken) io.err << "mellow: " << problem << "\n";
    if (!broken.empty()) {
        io.err << "mellow: a script of the project cannot be read: nothing was done.\n";
        return false;
    }
    opened.behaviours = std::make_unique<script::Behaviours>();
    script::Behaviours& behaviours = *opened.behaviours;
    behaviours.take(shelf);
    behaviours.settings.shapes = script::shapesIn(*opened.workspace);
    behaviours.settings.nowMs = chance.nowMs();
    behaviours.onSwitchedOff = [&io](const std::string& message) { io.err << "mellow: " << message << "\n"; };
    // Where things are is worked out when something that stays seated asks for it.
    auto indexes = std::make_shared<std::map<const model::Scene*, std::unique_ptr<ops::LiveIndex>>>();  // by the keeper
    opened.relations = std::make_unique<ops::RelationKeeper>(
        opened.session(),
        [indexes, session = &opened.session(), shapes = behaviours.settings.shapes](const model::Scene& scene) {
            auto& index = (*indexes)[&scene];
            if (!index) index = std::make_unique<ops::LiveIndex>(*session, scene, shapes);
            return &index->get();
        });
    opened.relations->say = [&io](const std::string& message) { io.err << "mellow: " << message << "\n"; };
    opened.acts = std::make_unique<ops::ActKeeper>(opened.session());
    opened.session().setBeforeCommit([&behaviours, relations = opened.relations.get(),
                                      acts = opened.acts.get()](edit::Draft& draft) -> base::Status {
        if (base::Status said = behaviours.beforeCommit(draft); !said) return said;
        if (base::Status said = relations->beforeCommit(draft); !said) return said;
        return acts->beforeCommit(draft);
    });
    return true;
}

/// All meshes made ready at once: what gives them may be asked on any thread.
query::Shapes allShapes(const io::Workspace& workspace) {
    auto made = std::make_shared<std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>>>();  // by copies
    for (const auto& [item, mesh] : workspace.meshes)
        if (mesh) (*made)[item] = std::make_unique<query::MeshIndex>(mesh);
    query::MeshLookup seen = [made](base::Name item) -> const query::MeshIndex* {
        const auto place = made->find(item);
        return place == made->end() ? nullptr : place->second.get();
    };
    return query::shapesOf(std::move(seen), query::itemCollisions(workspace.session->library(), workspace.parts));
}

base::Result<Shard> shardFrom(const std::string& text) {
    Shard shard;
    if (text.empty()) return shard;
    const auto slash = text.find('/');
    const auto whole = [&](std::string_view part, std::size_t& into) {
        const auto [end, error] = std::from_chars(part.data(), part.data() + part.size(), into);
        return error == std::errc() && end == part.data() + part.size();
    };
    const std::string_view all = text;
    if (slash == std::string::npos || !whole(all.substr(0, slash), shard.share) ||
        !whole(all.substr(slash + 1), shard.of) || shard.share < 1 || shard.share > shard.of)
        return base::fail(base::ErrorCode::BadInput,
                          "--shard wants i/n, such as 2/8; “" + base::forTerminal(text) + "” is not.");
    return shard;
}

void warnOfDamage(const io::Workspace& workspace, const Streams& io) {
    for (const io::Damage& d : workspace.damage) io.err << "mellow: " << io::toText(d) << "\n";
    for (const std::string& remark : workspace.session->remarks()) io.err << "mellow: " << remark << "\n";
}

int saveAll(io::Workspace& workspace, const Streams& io) {
    if (io.overwrite) {
        const auto changes = io::outsideChanges(workspace);
        if (auto kept = io::keepMine(workspace, changes); !kept) return io.fail(kept.error());
    }
    int code = exitCode::kFine;
    for (const std::string& name : workspace.session->unsavedScenes())
        if (base::Status saved = io::saveScene(workspace, name); !saved) {
            io.err << "mellow: kept in the history, but not written to its file: " << saved.error().message << "\n";
            code = exitCode::kNotWritten;
        }
    return code;
}

int runStep(const fs::path& path, const Verbs& v, std::string document, const std::string& step,
            const std::function<base::Status(const Opened&, edit::Draft&)>& verb) {
    auto opened = open(path, io::OpenMode::Edit, v.chance);
    if (!opened) return v.io.fail(opened.error());
    if (!useBehaviours(*opened, v.io, v.chance)) return exitCode::kScriptBroken;
    if (document.empty()) document = opened->isWhole ? opened->session().project().firstScene : opened->scenes.front();
    {
        edit::Draft draft(opened->session(), document, step);
        if (!draft.state()) return v.io.fail(draft.state().error());
        if (base::Status done = verb(*opened, draft); !done) return v.io.fail(done.error());
        if (auto kept = draft.commit(); !kept) return v.io.fail(kept.error());
    }
    const int code = saveAll(*opened->workspace, v.io);
    if (code == exitCode::kFine) v.io.out << step << "\n";
    return code;
}

base::Status writeOut(const fs::path& file, std::string_view bytes, const Streams& io) {
    if (base::exists(file) && !io.overwrite)
        return base::fail(base::ErrorCode::Refused,
                          file.string() + ": is there already; --overwrite lets it be written over.");
    return base::writeFileWhole(file, bytes);
}

}  // namespace cli
