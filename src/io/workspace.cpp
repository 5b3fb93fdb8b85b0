#include "io/workspace.h"

#include <fmt/format.h>
#include <sys/stat.h>

#include <algorithm>
#include <unordered_set>

#include "base/hash.h"
#include "base/text.h"
#include "check/rule.h"
#include "edit/ledger_care.h"
#include "edit/scene_list.h"
#include "io/data_file.h"
#include "io/local_folder.h"
#include "io/names.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "io/workspace_parts.h"
#include "model/facets/solid.h"
#include "query/solids.h"

namespace io {
namespace {

namespace fs = std::filesystem;

void takeAdded(Workspace& workspace, model::Project& project, const model::DataEntries& entries,
               std::vector<std::string>& problems) {
    workspace.added.clear();
    for (const auto& [relative, values] : entries)
        if (!relative.empty()) workspace.added.insert(relative);
    // While the project is being opened, what is said of items comes later.
    if (workspace.session)
        takeItems(workspace, project, workspace.session->entries(std::string(model::data::kItems)), problems);
}

/// Brings the library in line with a document of project data; what is wrong in it is damage.
void takeData(Workspace& workspace, model::Project& project, const std::string& document,
              const model::DataEntries& entries) {
    std::vector<std::string> problems;
    if (!model::data::kindIn(document).empty()) takeKind(project, document, entries, problems);
    if (!model::data::recordsIn(document).empty()) takeRecords(project, document, entries, problems);
    takeNamed(project, document, entries, problems);
    takePaper(project, document, entries);
    if (document == model::data::kChecks) (void)check::settingsFrom(entries, check::builtInRules(), problems);
    if (document == model::data::kItems) {
        std::vector<std::string> told;  // when the project was read
        if (const auto head = entries.find(""); head != entries.end()) takeFacts(project, head->second, told);
        takeItems(workspace, project, entries, problems);
    }
    if (document == model::data::kAdded) takeAdded(workspace, project, entries, problems);
    if (workspace.session) return;  // edited here: the verbs have looked
    for (std::string& problem : problems)
        workspace.damage.push_back(damageOf(dataFile(project.folder, document).string(), std::move(problem)));
}

/// The mesh of a solid, for all that are equal.
model::Item solidItem(Workspace& workspace, const model::Solid& solid, base::Name key) {
    auto mesh = std::make_shared<const shape::Mesh>(query::meshOf(solid));
    model::Item item;
    item.label = model::solidName(solid.shape);
    item.label.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(item.label.front())));
    measure(item, *mesh);
    item.isSolid = true;
    workspace.meshes[key] = std::move(mesh);
    return item;
}

/// What is read of it when its file is not there.
edit::LoadedScene nothingOf(const std::string& document, const model::Project& project) {
    return {model::Scene(document, project.names), 0, 0, {}};
}

/// A document can be read more than once while a project is open.
void tellOnce(Workspace& workspace, std::vector<Damage> found) {
    if (found.empty()) return;
    std::unordered_set<std::string> told;
    for (const Damage& d : workspace.damage) told.insert(toText(d));
    for (Damage& d : found)
        if (told.insert(toText(d)).second) workspace.damage.push_back(std::move(d));
}

/// What a text says that the document's file holds, or once held.
Result<ReadDocument> parsedDocument(Workspace& workspace, const model::Project& project, const std::string& document,
                                    const fs::path& file, std::string text) {
    ReadDocument read{{model::Scene(document, project.names), base::hashBytes(text), text.size(), {}}, {}, {}};
    if (model::data::isData(document)) {
        auto entries = parseData(document, text, file.string(), read.damage);
        if (!entries) return tl::unexpected(entries.error());
        read.loaded.scene = edit::dataScene(document, project.names, std::move(*entries));
    } else {
        const std::string shown = file.parent_path().filename().string() + "/" + file.filename().string();
        auto parsed = parseScene(document, text, shown, project.names, project.library, *workspace.progress);
        if (!parsed) return tl::unexpected(parsed.error());
        read.loaded.scene = std::move(parsed->scene);
        read.damage = std::move(parsed->damage);
        tellOnce(workspace, std::move(parsed->unknown));
        read.prefab = parsed->prefab;
    }
    read.loaded.text = std::move(text);
    return read;
}

std::uint64_t mostOf(const std::string& document) {
    if (!model::data::isData(document)) return base::most::kScene;
    return model::data::recordsIn(document).empty() ? base::most::kSmall : base::most::kTable;
}

Result<edit::LoadedScene> loadDocument(Workspace& workspace, const model::Project& project, const std::string& name) {
    auto file = documentFile(workspace, project, name);
    if (!file) return tl::unexpected(file.error());
    if (file->empty()) return nothingOf(name, project);  // a definition without a file
    const bool isData = model::data::isData(name);
    stamp(workspace, name, *file);
    auto read = readDocument(workspace, project, name, *file);
    if (!read && isData) {
        if (read.error().code == ErrorCode::NotFound) return nothingOf(name, project);
        // As if it were not there; nothing is written over it while the project is open for reading only.
        workspace.damage.push_back({file->string(), 0, "", read.error().message});
        workspace.damagedScenes.insert(name);
        return nothingOf(name, project);
    }
    if (!read) return tl::unexpected(read.error());
    if (read->damage.empty()) return std::move(read->loaded);
    workspace.damagedScenes.insert(name);
    workspace.damage.insert(workspace.damage.end(), read->damage.begin(), read->damage.end());
    if (isData) return std::move(read->loaded);
    workspace.readOnlyReason =
        fmt::format("{} is damaged in {} {}: it is open for reading only, so that nothing is lost.",
                    file->filename().string(), read->damage.size(), read->damage.size() == 1 ? "place" : "places");
    if (workspace.session) workspace.session->makeReadOnly(workspace.readOnlyReason);
    return std::move(read->loaded);
}

}  // namespace

Result<ReadDocument> readDocument(Workspace& workspace, const model::Project& project, const std::string& document,
                                  const fs::path& file) {
    auto text = base::readFile(file, mostOf(document));
    if (!text) return tl::unexpected(text.error());
    return parsedDocument(workspace, project, document, file, std::move(*text));
}

Result<fs::path> documentFile(const Workspace& workspace, const model::Project& project, const std::string& document) {
    if (!model::isDocument(document))
        return fail(ErrorCode::Refused,
                    fmt::format("“{}” cannot be the name of a scene.", base::forTerminal(document)));
    fs::path file =
        model::data::isData(document) ? dataFile(project.folder, document) : sceneFile(project.folder, document);
    if (const fs::path waits = removedScene(project.folder, document);
        edit::isSceneDocument(document) && !base::exists(file) && base::exists(waits))
        file = waits;
    if (const base::ObjectId prefab = model::prefabOf(document)) {
        const auto place = workspace.prefabFiles.find(prefab);
        if (place == workspace.prefabFiles.end()) return fs::path();
        file = place->second;
    }
    return base::inside(project.folder, file.lexically_relative(project.folder));
}

void stamp(Workspace& workspace, const std::string& document, const fs::path& file) {
    struct stat status {};
    if (::stat(file.c_str(), &status) != 0) {
        workspace.stamps.erase(document);
        return;
    }
    workspace.stamps[document] = {status.st_mtim.tv_sec * 1'000'000'000 + status.st_mtim.tv_nsec,
                                  static_cast<std::uint64_t>(status.st_size)};
}

namespace {

/// For editing: the lock, and what processes left that were killed.
Status takeLock(Workspace& workspace, const fs::path& folder, const fs::path& local) {
    auto denied = [&](const base::Error& error) -> Status {
        if (error.code != ErrorCode::Denied) return tl::unexpected(error);
        return fail(
            ErrorCode::Denied,
            fmt::format("{}: nothing can be written there; it can be opened for reading only.", folder.string()));
    };
    if (Status made = base::makeFolder(local); !made) return denied(made.error());
    auto lock = base::FileLock::take(local / "lock");
    if (!lock) return denied(lock.error());
    workspace.lock.emplace(std::move(*lock));
    for (const char* part : {"", "scenes", "prefabs", "kinds", "records", "items", "media", "scripts", ".mellow",
                             ".mellow/added/items", ".mellow/added/media"})
        base::removeStrayParts(folder / part);
    if (auto finished = edit::finishRepair(local / "ledger.db"); !finished) return tl::unexpected(finished.error());
    return {};
}

/// Whoever only looks does without a history that cannot be read.
Result<std::unique_ptr<edit::Ledger>> openLedger(Workspace& workspace, const fs::path& file, bool readOnly) {
    auto ledger = edit::Ledger::open(file, readOnly);
    base::Error problem;
    if (ledger) {
        const auto history = (*ledger)->history();
        const auto saves = (*ledger)->saves();
        if (history && saves) return ledger;
        problem = history ? saves.error() : history.error();
    } else {
        problem = ledger.error();
    }
    if (!readOnly) return tl::unexpected(problem);
    workspace.damage.push_back({file.string(), 0, "", problem.message});
    return edit::Ledger::none();
}

}  // namespace

Result<std::unique_ptr<Workspace>> openWorkspace(const fs::path& path, OpenMode mode, const Chance& chance,
                                                 std::shared_ptr<base::Progress> progress) {
    auto parsed = readProject(path);
    if (!parsed) return tl::unexpected(parsed.error());
    auto workspace = std::make_unique<Workspace>();
    workspace->progress = std::move(progress);
    workspace->damage = std::move(parsed->damage);
    workspace->prefabFiles = std::move(parsed->prefabFiles);
    const fs::path folder = parsed->project.folder;
    auto local = localFolder(folder);
    if (!local) return tl::unexpected(local.error());
    if (mode == OpenMode::Edit)
        if (Status locked = takeLock(*workspace, folder, *local); !locked) return tl::unexpected(locked.error());
    loadItems(parsed->project, *workspace);
    if (workspace->progress->cancelled())
        return fail(ErrorCode::Cancelled, fmt::format("{}: opening it was called off.", path.string()));
    auto ledger = openLedger(*workspace, *local / "ledger.db", mode == OpenMode::ReadOnly);
    if (!ledger) return tl::unexpected(ledger.error());
    edit::Surroundings around;
    around.nowMs = chance.nowMs;
    around.seed = chance.seed;
    if (mode == OpenMode::ReadOnly) around.readOnlyReason = "The project is open for reading only.";
    around.loadScene = [owner = workspace.get()](const model::Project& project, const std::string& name) {
        return loadDocument(*owner, project, name);
    };
    around.readScene = [owner = workspace.get()](const model::Project& project, const std::string& name,
                                                 const std::string& text) -> Result<model::Scene> {
        auto file = documentFile(*owner, project, name);
        if (!file) return tl::unexpected(file.error());
        auto read = parsedDocument(*owner, project, name, *file, text);
        if (!read) return tl::unexpected(read.error());
        return std::move(read->loaded.scene);
    };
    around.takeData = [owner = workspace.get()](model::Project& project, const std::string& document,
                                                const model::DataEntries& entries) {
        takeData(*owner, project, document, entries);
    };
    around.makeSolid = [owner = workspace.get()](const model::Solid& solid, base::Name key) {
        return solidItem(*owner, solid, key);
    };
    auto session = edit::Session::open(std::move(parsed->project), std::move(*ledger), std::move(around));
    if (!session) return tl::unexpected(session.error());
    workspace->session = std::move(*session);
    if (!workspace->readOnlyReason.empty()) workspace->session->makeReadOnly(workspace->readOnlyReason);
    return workspace;
}

Result<fs::path> setHistoryAside(const fs::path& project) {
    auto local = localFolder(project);
    if (!local) return local;
    const fs::path ledger = *local / "ledger.db";
    if (!base::exists(ledger)) return fail(ErrorCode::NotFound, project.string() + ": has no history.");
    auto lock = base::FileLock::take(*local / "lock");
    if (!lock) return tl::unexpected(lock.error());
    return edit::setLedgerAside(ledger);
}

void acceptDamage(Workspace& workspace) {
    workspace.session->makeWritable();
}

}  // namespace io
