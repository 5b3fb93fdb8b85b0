#include "io/outside.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/hash.h"
#include "io/data_file.h"
#include "io/names.h"
#include "io/object_line.h"
#include "io/workspace_parts.h"

namespace io {
namespace {

namespace fs = std::filesystem;
using What = OutsideChange::What;

/// Has the file another size or time than when it was last looked at? It has been looked at now.
bool looksOther(Workspace& workspace, const std::string& document, const fs::path& file) {
    const auto before = workspace.stamps.find(document);
    const std::optional<FileStamp> was =
        before == workspace.stamps.end() ? std::nullopt : std::optional(before->second);
    stamp(workspace, document, file);
    const auto now = workspace.stamps.find(document);
    return now == workspace.stamps.end() ? was.has_value() : was != now->second;
}

/// Definitions by the files that hold them now.
std::map<base::ObjectId, fs::path> prefabsOnDisk(const Workspace& workspace) {
    auto parsed = readProject(workspace.folder());
    return parsed ? std::move(parsed->prefabFiles) : workspace.prefabFiles;
}

std::optional<OutsideChange> changeOf(Workspace& workspace, const std::string& document, const fs::path& file) {
    const edit::SaveMark* known = workspace.session->lastSave(document);
    if (!looksOther(workspace, document, file) && (known == nullptr || base::exists(file))) return std::nullopt;
    const auto text = base::readFile(file);
    if (!text && text.error().code != ErrorCode::NotFound) return std::nullopt;  // it is being written; told on Save
    const std::uint64_t hash = text ? base::hashBytes(*text) : 0;
    if (hash == (known != nullptr ? known->hash : 0)) return std::nullopt;
    if (const auto mine = workspace.mine.find(document); mine != workspace.mine.end() && mine->second == hash)
        return std::nullopt;
    workspace.stamps.erase(document);  // until somebody has decided, it is told again
    return OutsideChange{text ? What::Changed : What::Gone,      document, file, hash,
                         workspace.session->isUnsaved(document), {}};
}

/// Documents that came, in files that were not there.
void findNew(Workspace& workspace, std::vector<OutsideChange>& changes) {
    const edit::Session& session = *workspace.session;
    const auto known = session.openDocuments();
    std::vector<Damage> ignored;
    auto parsed = readProject(workspace.folder());
    if (!parsed) return;
    auto add = [&](const std::string& document, const fs::path& file, base::ObjectId prefab) {
        if (std::find(known.begin(), known.end(), document) == known.end())
            changes.push_back({What::New, document, file, 0, false, prefab});
    };
    for (const std::string& document : parsed->project.dataDocuments)
        add(document, dataFile(workspace.folder(), document), {});
    for (const auto& [prefab, file] : parsed->prefabFiles) add(model::definitionKey(prefab), file, prefab);
    const auto& scenes = session.project().sceneFiles;
    for (const std::string& scene : parsed->project.sceneFiles)
        if (std::find(scenes.begin(), scenes.end(), scene) == scenes.end())
            add(scene, sceneFile(workspace.folder(), scene), {});
}

}  // namespace

std::vector<OutsideChange> outsideChanges(Workspace& workspace) {
    std::vector<OutsideChange> changes;
    if (!workspace.session) return changes;
    std::optional<std::map<base::ObjectId, fs::path>> onDisk;
    for (const std::string& document : workspace.session->openDocuments()) {
        if (document == model::data::kAdded || workspace.damagedScenes.contains(document)) continue;
        auto file = documentFile(workspace, workspace.session->project(), document);
        if (!file || file->empty()) continue;
        auto change = changeOf(workspace, document, *file);
        if (!change) continue;
        if (change->what == What::Gone && model::prefabOf(document)) {  // it may have another name now
            if (!onDisk) onDisk = prefabsOnDisk(workspace);
            if (const auto place = onDisk->find(model::prefabOf(document)); place != onDisk->end()) {
                workspace.stamps.erase(document);
                change->what = What::Changed;
                change->file = place->second;
                const auto text = base::readFile(change->file);
                change->hash = text ? base::hashBytes(*text) : 0;
            }
        }
        changes.push_back(std::move(*change));
    }
    findNew(workspace, changes);
    return changes;
}

Status readTheirs(Workspace& workspace, std::span<const OutsideChange> changes) {
    edit::Session& session = *workspace.session;
    std::vector<edit::Session::Theirs> files;
    for (const OutsideChange& change : changes) {
        if (change.what == What::New) continue;
        if (change.what == What::Gone) {
            if (!model::prefabOf(change.document) && !model::data::isData(change.document)) continue;
            files.push_back({change.document, {model::Scene(change.document, session.project().names), 0, 0, {}}});
            continue;
        }
        auto read = readDocument(workspace, session.project(), change.document, change.file);
        if (!read) return tl::unexpected(read.error());
        if (!read->damage.empty())
            return fail(ErrorCode::BadInput,
                        fmt::format("{}: is damaged; nothing of it was taken. {}", change.file.filename().string(),
                                    toText(read->damage.front())));
        files.push_back({change.document, std::move(read->loaded)});
    }
    if (!files.empty()) {
        const std::string name = files.size() == 1 && changes.size() == 1
                                     ? "Read " + changes.front().file.filename().string()
                                     : fmt::format("Read {} files", files.size());
        if (Status taken = session.takeFiles(files, name); !taken) return taken;
    }
    for (const OutsideChange& change : changes) {
        if (const base::ObjectId prefab = model::prefabOf(change.document)) {
            if (change.what == What::Gone)
                workspace.prefabFiles.erase(prefab);
            else
                workspace.prefabFiles[prefab] = change.file;
        }
        if (change.what == What::New)
            if (Status taken = session.takeNewDocument(change.document); !taken) return taken;
        stamp(workspace, change.document, change.file);
    }
    return {};
}

Result<fs::path> keepBeside(const fs::path& file, std::string_view bytes) {
    const fs::path beside = base::freeBeside(file, ".theirs");
    if (Status written = base::writeFileWhole(beside, bytes); !written) return tl::unexpected(written.error());
    return beside;
}

Result<std::vector<fs::path>> keepMine(Workspace& workspace, std::span<const OutsideChange> changes) {
    std::vector<fs::path> kept;
    for (const OutsideChange& change : changes) {
        if (change.what == What::New) continue;
        if (change.what == What::Changed) {
            auto bytes = base::readFile(change.file);
            if (!bytes) return tl::unexpected(bytes.error());
            auto beside = keepBeside(change.file, *bytes);
            if (!beside) return tl::unexpected(beside.error());
            kept.push_back(*beside);
            if (const base::ObjectId prefab = model::prefabOf(change.document))
                workspace.prefabFiles[prefab] = change.file;
        }
        workspace.mine[change.document] = change.hash;
        workspace.session->markUnsaved(change.document);
    }
    return kept;
}

Result<model::Scene> sceneOfTheirs(Workspace& workspace, const OutsideChange& change) {
    auto read = readDocument(workspace, workspace.session->project(), change.document, change.file);
    if (!read) return tl::unexpected(read.error());
    return std::move(read->loaded.scene);
}

}  // namespace io
