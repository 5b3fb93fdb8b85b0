// Saving: a document is written beside its file and then put in place, unless others have written that file.
#include <fmt/format.h>

#include <algorithm>

#include "base/hash.h"
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

Result<SaveJob> saveJob(Workspace& workspace, const std::string& document) {
    auto open = workspace.session->scene(document);
    if (!open) return tl::unexpected(open.error());
    auto held = documentFile(workspace, workspace.session->project(), document);
    if (!held) return tl::unexpected(held.error());
    return SaveJob{**open, workspace.folder(), *held, workspace.session->history().present()};
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
    if (save.scene == model::data::kItems) return moveItemModels(workspace);
    if (save.scene == model::data::kAdded)
        if (Status placed = placeAdded(workspace.folder(), workspace.session->entries(save.scene)); !placed)
            return placed;
    if (!save.target.empty() || !model::data::isData(save.scene)) return {};
    return base::removeFile(dataFile(workspace.folder(), save.scene));
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
        stamp(workspace, save.scene, save.target);
    }
    workspace.damagedScenes.erase(save.scene);
    workspace.mine.erase(save.scene);
    return session.markSaved(save.scene, save.step, save.packed);
}

Status saveScene(Workspace& workspace, const std::string& scene) {
    auto job = saveJob(workspace, scene);
    if (!job) return tl::unexpected(job.error());
    auto prepared = prepareSave(*job);
    if (!prepared) return tl::unexpected(prepared.error());
    return finishSave(workspace, *prepared);
}

Status saveSceneAs(Workspace& workspace, const std::string& scene, const std::string& newName) {
    edit::Session& session = *workspace.session;
    if (!base::isPlainFileName(newName))
        return fail(
            ErrorCode::BadInput,
            fmt::format("“{}” cannot be a scene's name: letters, digits, spaces, dots, dashes and underscores can.",
                        newName));
    const fs::path target = sceneFile(workspace.folder(), newName);
    if (base::exists(target)) return fail(ErrorCode::BadInput, fmt::format("There is a scene {} already.", newName));
    auto open = session.scene(scene);
    if (!open) return tl::unexpected(open.error());
    auto copy = parseScene(newName, formatScene(**open), newName, session.project().names, session.library());
    if (!copy) return tl::unexpected(copy.error());
    auto prepared = prepareSave({copy->scene, workspace.folder(), target, session.history().present()});
    if (!prepared) return tl::unexpected(prepared.error());
    session.adoptScene(std::move(copy->scene));
    return finishSave(workspace, *prepared);
}

}  // namespace io
