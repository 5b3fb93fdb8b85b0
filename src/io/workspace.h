#pragma once
// An open project as the programs use it: session, models, damage, lock; opening, saving, new scenes, imports.
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <unordered_map>

#include "base/files.h"
#include "base/progress.h"
#include "edit/session.h"
#include "io/damage.h"
#include "io/project_file.h"
#include "shape/mesh.h"

namespace io {

enum class OpenMode { Edit, ReadOnly };

struct Workspace {
    std::unique_ptr<edit::Session> session;
    std::map<base::ObjectId, std::filesystem::path> prefabFiles;                ///< as they lie on disk
    std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>> meshes;  // shared with the view's loader
    std::vector<Damage> damage;                                                 ///< grows when a scene is loaded
    std::set<std::string> damagedScenes;  ///< saving one keeps a copy of the damaged file
    std::string readOnlyReason;           ///< what damage asks for, before the session is there
    std::optional<base::FileLock> lock;
    std::shared_ptr<base::Progress> progress;  ///< of what is being read; shared with whoever waits for it

    const shape::Mesh* mesh(base::Name item) const {
        auto place = meshes.find(item);
        return place == meshes.end() ? nullptr : place->second.get();
    }
    const std::filesystem::path& folder() const { return session->project().folder; }
};

/// What an item's mesh says of it: box, triangles, slots.
void measure(model::Item& item, const shape::Mesh& mesh);

/// Time and chance, passed in by the programs' main.
struct Chance {
    std::function<std::int64_t()> nowMs;
    std::uint64_t seed = 1;
};

/// Opens a project for editing or looking. Damage does not stop it: what can be read is there, the session is
/// read-only and says why. `progress` tells of the items, then of the first scene asked for. Errors: NotFound,
/// InUse (another process edits it), BadInput, Unsupported, Io, Cancelled.
base::Result<std::unique_ptr<Workspace>> openWorkspace(
    const std::filesystem::path& path, OpenMode mode, const Chance& chance,
    std::shared_ptr<base::Progress> progress = std::make_shared<base::Progress>());

/// The designer's explicit choice to go on although files are damaged: makes the session writable. Each damaged file
/// is kept beside the new one as NAME.damaged when its scene is saved.
void acceptDamage(Workspace& workspace);

/// A scene, or a prefab's definition, written beside its file, not yet in place. One of a prefab that does not exist
/// any more has no target: its file goes.
struct PreparedSave {
    std::string scene;
    std::filesystem::path target, part;
    std::uint64_t hash = 0, size = 0;
    edit::StepId step = edit::kRoot;
};
/// The long half of saving: may run on a worker, with a snapshot. `step` is the present step of that snapshot.
base::Result<PreparedSave> prepareSave(const model::Scene& snapshot, const std::filesystem::path& folder,
                                       edit::StepId step);
/// The short half: notes it in the ledger and puts the file in place.
base::Status finishSave(Workspace& workspace, const PreparedSave& prepared);
/// Both. `scene` may be a definition's key.
base::Status saveScene(Workspace& workspace, const std::string& scene);
/// Saves a copy under another name and leaves the original as it is. Errors: also a name in use, or unusable.
base::Status saveSceneAs(Workspace& workspace, const std::string& scene, const std::string& newName);

/// Adds a mesh made here to the project's items, and to the open session. Errors: a name that cannot be or is in use;
/// Io.
base::Result<model::Item> addModel(Workspace& workspace, const std::string& name, shape::Mesh mesh);
/// Adds a model to the project's items (a .glb is copied; a text model is packed into one), and to the open session.
/// Errors: those of readModel; a name in use.
base::Result<model::Item> importModel(Workspace& workspace, const std::filesystem::path& model);

}  // namespace io
