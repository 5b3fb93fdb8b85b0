// Saving: a document is written beside its file and then put in place, unless others have written that file.
#include <fmt/format.h>

#include <algorithm>

#include "base/hash.h"
#include "edit/scene_list.h"
#include "io/added.h"
#include "io/data_file.h"
#include "io/names.h"
#include "io/scene_file.h"
#include "io/workspace_parts.h"

namespace io {
namespace {

namespace fs = std::filesystem;

/// The text of a file there is; empty text: there is none. Errors: Io.
Result<std::string> textOf(const fs::path& file) {
    auto text = file.empty() ? Result<std::string>(std::string()) : base::readFile(file);
    if (!text && text.error().code == ErrorCode::NotFound) return std::string();
    return text;
}

Result<PreparedSave> writeBeside(PreparedSave save, const fs::path& folder, const std::string& text) {
    auto within = base::inside(folder, save.target.lexically_relative(folder));
    if (!within) return tl::unexpected(within.error());
    if (Status made = base::makeFolder(save.target.parent_path()); !made) return tl::unexpected(made.error());
    save.hash = base::hashBytes(text);
    save.size = text.size();
    save.packed = edit::packText(text);
    auto part = base::writePart(save.target, text);
    if (!part) return tl::unexpected(part.error());
    save.part = *part;
    return save;
}

}  // namespace

Status moveFile(const fs::path& folder, const fs::path& from, const fs::path& to) {
    for (const fs::path& one : {from, to})
        if (auto within = base::inside(folder, one.lexically_relative(folder)); !within)
            return tl::unexpected(within.error());
    if (!base::exists(from) || base::exists(to)) return {};
    if (Status made = base::makeFolder(to.parent_path()); !made) return made;
    return base::renameFile(from, to);
}

Result<SaveJob> saveJob(Workspace& workspace, const std::string& document) {
    auto open = workspace.session->scene(document);
    if (!open) return tl::unexpected(open.error());
    auto held = documentFile(workspace, workspace.session->project(), document);
    if (!held) return tl::unexpected(held.error());
    return SaveJob{**open, workspace.folder(), *held, workspace.session->history().present(),
                   edit::isSceneDocument(document) && !edit::isScene(*workspace.session, document)};
}

Result<PreparedSave> prepareSave(const SaveJob& job) {
    PreparedSave save;
    save.scene = job.snapshot.name();
    save.step = job.step;
    auto text = textOf(job.held);
    if (!text) return tl::unexpected(text.error());
    save.found = text->empty() && !base::exists(job.held) ? 0 : base::hashBytes(*text);
    if (model::data::isData(save.scene)) {
        const model::DataEntries& entries = job.snapshot.settings().entries();
        if (entries.empty() && save.scene != model::data::kItems) return save;
        save.target = dataFile(job.folder, save.scene);
        return writeBeside(std::move(save), job.folder, formatData(save.scene, entries, *text));
    }
    if (model::prefabOf(save.scene)) {
        if (!job.snapshot.settings().prefab) return save;
        save.target = prefabFile(job.folder, job.snapshot.settings().prefab->name);
    } else {
        if (job.isGone) return save;
        save.target = sceneFile(job.folder, save.scene);
    }
    return writeBeside(std::move(save), job.folder, formatScene(job.snapshot));
}

namespace {

/// A prefab that was renamed takes its file along, so that a crash never leaves two of them; one that was deleted
/// takes it away.
Status movePrefabFile(Workspace& workspace, base::ObjectId prefab, const fs::path& target) {
    auto held = workspace.prefabFiles.find(prefab);
    const bool ours = std::any_of(workspace.prefabFiles.begin(), workspace.prefabFiles.end(),
                                  [&](const auto& entry) { return entry.second == target; });
    if (!target.empty() && !ours && base::exists(target))
        return fail(ErrorCode::Changed,
                    fmt::format("{}: there is a file of others by this name: nothing was written.", target.string()));
    // Another one that had this name, and has another or is gone: its file steps aside until it is saved itself.
    for (auto& [other, file] : workspace.prefabFiles) {
        if (other == prefab || file != target) continue;
        const fs::path aside = prefabFile(file.parent_path().parent_path(), base::toText(other));
        if (Status moved = base::renameFile(file, aside); !moved) return moved;
        file = aside;
    }
    if (held != workspace.prefabFiles.end() && held->second != target)
        if (Status moved = target.empty() ? base::removeFile(held->second) : base::renameFile(held->second, target);
            !moved)
            return moved;
    if (target.empty())
        workspace.prefabFiles.erase(prefab);
    else
        workspace.prefabFiles[prefab] = target;
    return {};
}

/// Files of scenes that are deleted wait beside the ledger; those that are back return. Where one waits already, the
/// one in its place is of others.
Status moveSceneFiles(Workspace& workspace) {
    const fs::path& folder = workspace.folder();
    const model::Project& project = workspace.session->project();
    for (const model::SceneEntry& entry : project.scenes)
        if (entry.gone)
            if (Status moved = moveFile(folder, sceneFile(folder, entry.name), removedScene(folder, entry.name));
                !moved)
                return moved;
    for (const std::string& scene : project.sceneNames)
        if (Status moved = moveFile(folder, removedScene(folder, scene), sceneFile(folder, scene)); !moved)
            return moved;
    return {};
}

/// A damaged file is kept under a name of its own.
Status keepDamaged(const fs::path& file) {
    auto bytes = base::readFile(file);
    if (!bytes) return bytes.error().code == ErrorCode::NotFound ? Status{} : Status(tl::unexpected(bytes.error()));
    const fs::path kept = base::freeBeside(file, ".damaged");
    return base::writeFileWhole(kept, *bytes);
}

/// Has somebody else written the file since it was read or written here?
Status refuseIfChanged(const Workspace& workspace, const PreparedSave& save) {
    if (workspace.damagedScenes.contains(save.scene)) return {};  // a copy is kept
    const edit::SaveMark* known = workspace.session->lastSave(save.scene);
    if (save.found == (known != nullptr ? known->hash : 0)) return {};
    const auto mine = workspace.mine.find(save.scene);
    if (mine != workspace.mine.end() && mine->second == save.found) return {};
    auto file = documentFile(workspace, workspace.session->project(), save.scene);
    return fail(ErrorCode::Changed,
                fmt::format("{} was changed by others since it was read here: it was not written over.",
                            file ? file->lexically_relative(workspace.folder()).string() : save.scene));
}

/// What else belongs to a document besides its own file.
Status moveWhatBelongs(Workspace& workspace, const PreparedSave& save) {
    if (const base::ObjectId prefab = model::prefabOf(save.scene))
        return movePrefabFile(workspace, prefab, save.target);
    if (save.scene == model::data::kItems) {
        if (Status moved = moveItemModels(workspace); !moved) return moved;
        return moveSceneFiles(workspace);
    }
    if (save.scene == model::data::kAdded)
        if (Status placed = placeAdded(workspace.folder(), workspace.session->entries(save.scene)); !placed)
            return placed;
    if (!save.target.empty()) return {};
    if (model::data::isData(save.scene)) return base::removeFile(dataFile(workspace.folder(), save.scene));
    if (Status gone = base::removeFile(removedScene(workspace.folder(), save.scene)); !gone) return gone;
    return base::removeFile(sceneFile(workspace.folder(), save.scene));
}

}  // namespace

Status finishSave(Workspace& workspace, const PreparedSave& save) {
    edit::Session& session = *workspace.session;
    auto finish = [&]() -> Status {
        if (!session.readOnlyReason().empty()) return fail(ErrorCode::Refused, session.readOnlyReason());
        if (Status fine = refuseIfChanged(workspace, save); !fine) return fine;
        if (workspace.damagedScenes.contains(save.scene) && !save.target.empty())
            if (Status kept = keepDamaged(save.target); !kept) return kept;
        if (Status noted = session.noteSave(save.scene, save.hash, save.size, save.step); !noted) return noted;
        return moveWhatBelongs(workspace, save);
    };
    if (Status ready = finish(); !ready) {
        if (!save.part.empty()) (void)base::removeFile(save.part);
        return ready;
    }
    if (!save.target.empty()) {
        if (Status placed = base::putInPlace(save.part, save.target); !placed) return placed;
        if (edit::isSceneDocument(save.scene))
            (void)base::removeFile(removedScene(workspace.folder(), save.scene));  // what it was when it was deleted
        stamp(workspace, save.scene, save.target);
    }
    workspace.damagedScenes.erase(save.scene);
    workspace.mine.erase(save.scene);
    Status marked = session.markSaved(save.scene, save.step, save.packed);
    std::vector<Damage> ignored;
    session.takeSceneFiles(sceneNamesIn(workspace.folder(), ignored));
    return marked;
}

Status saveScene(Workspace& workspace, const std::string& scene) {
    auto job = saveJob(workspace, scene);
    if (!job) return tl::unexpected(job.error());
    auto prepared = prepareSave(*job);
    if (!prepared) return tl::unexpected(prepared.error());
    return finishSave(workspace, *prepared);
}

}  // namespace io
