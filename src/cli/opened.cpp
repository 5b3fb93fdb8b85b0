#include "cli/opened.h"

#include <ostream>

#include "script/meshes.h"
#include "script/rules.h"

namespace cli {

namespace fs = std::filesystem;
using base::Result;

constexpr std::string_view kSceneEnding = ".scene.jsonl";

int Streams::fail(const base::Error& error) const {
    err << "mellow: " << error.message << "\n";
    return exitCode::kFailed;
}

Result<Opened> open(const fs::path& path, io::OpenMode mode, const io::Chance& chance) {
    const bool isScene = path.filename().string().ends_with(kSceneEnding);
    const fs::path absolute = fs::absolute(path).lexically_normal();
    if (isScene && !fs::exists(absolute))
        return base::fail(base::ErrorCode::NotFound, path.string() + ": there is no such scene file.");
    fs::path folder = isScene ? absolute.parent_path().parent_path() : absolute;
    if (folder.filename().empty()) folder = folder.parent_path();
    auto workspace = io::openWorkspace(folder, mode, chance);
    if (!workspace) return tl::unexpected(workspace.error());
    Opened opened{std::move(*workspace), {}, {}};
    if (isScene) {
        const std::string name = absolute.filename().string();
        opened.scenes = {name.substr(0, name.size() - kSceneEnding.size())};
    } else {
        opened.scenes = opened.workspace->session->project().sceneNames;
    }
    return opened;
}

script::Shelf shelfOf(const Opened& opened, const Streams& io) {
    script::Shelf shelf;
    shelf.setFolder(script::Owner::Project, opened.workspace->folder() / "scripts", opened.session().project().name);
    shelf.refresh();
    for (const script::Script& one : shelf.scripts())
        if (!one.problem.empty()) io.err << "mellow: " << one.problem << "\n";
    return shelf;
}

std::shared_ptr<const std::vector<check::Rule>> rulesOf(const Opened& opened, const Streams& io) {
    return check::withRules(script::rulesOf(shelfOf(opened, io)));
}

void useBehaviours(Opened& opened, const Streams& io, const io::Chance& chance) {
    const script::Shelf shelf = shelfOf(opened, io);
    opened.behaviours = std::make_unique<script::Behaviours>();
    script::Behaviours& behaviours = *opened.behaviours;
    behaviours.take(shelf);
    behaviours.settings.meshes = script::meshesOf(*opened.workspace);
    behaviours.settings.nowMs = chance.nowMs();
    behaviours.onSwitchedOff = [&io](const std::string& message) { io.err << "mellow: " << message << "\n"; };
    if (!behaviours.empty())
        opened.session().setBeforeCommit([&behaviours](edit::Draft& draft) { return behaviours.beforeCommit(draft); });
}

void warnOfDamage(const io::Workspace& workspace, const Streams& io) {
    for (const io::Damage& d : workspace.damage) io.err << "mellow: " << io::toText(d) << "\n";
}

int saveAll(io::Workspace& workspace, const Streams& io) {
    int code = exitCode::kFine;
    for (const std::string& name : workspace.session->unsavedScenes())
        if (base::Status saved = io::saveScene(workspace, name); !saved) code = io.fail(saved.error());
    return code;
}

}  // namespace cli
