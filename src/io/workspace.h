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
#include "edit/draft.h"
#include "io/damage.h"
#include "io/project_file.h"
#include "shape/mesh.h"

namespace io {

enum class OpenMode { Edit, ReadOnly };

/// How a file on disk was when it was last looked at.
struct FileStamp {
    std::int64_t timeNs = 0;
    std::uint64_t size = 0;
    friend bool operator==(const FileStamp&, const FileStamp&) = default;
};

struct Workspace {
    std::unique_ptr<edit::Session> session;
    std::map<base::ObjectId, std::filesystem::path> prefabFiles;                ///< as they lie on disk
    std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>> meshes;  // shared with the view's loader
    std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>> parts;   ///< that are only collision; as meshes
    /// How a mesh is made of its file; without an entry as it stands there.
    struct MeshAs {
        model::FileUnit unit = model::FileUnit::Metre;
        model::FileUp up = model::FileUp::Y;
        std::string part;                          ///< the node that is collision
        std::shared_ptr<const shape::Mesh> plain;  ///< as the file has it; shared until the next change
        friend bool operator==(const MeshAs&, const MeshAs&) = default;
    };
    std::unordered_map<base::Name, MeshAs> madeAs;
    std::vector<Damage> damage;                 ///< grows when a scene is loaded
    std::set<std::string> damagedScenes;        ///< saving one keeps a copy of the damaged file
    std::string readOnlyReason;                 ///< what damage asks for, before the session is there
    std::set<std::string> added;                ///< files that steps brought, at present; see io/added.h
    std::map<std::string, FileStamp> stamps;    ///< by document, of its file
    std::map<std::string, std::uint64_t> mine;  ///< documents to be written over a file with this hash, of others
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
/// read-only and says why; opened for looking, it does without a history that cannot be read. `progress` tells of the
/// items, then of the first scene asked for. Errors: NotFound, InUse (another process edits it), Denied (nothing can be
/// written there: it can be looked at), BadLedger (setHistoryAside helps), BadInput, Unsupported, Io, Cancelled.
base::Result<std::unique_ptr<Workspace>> openWorkspace(
    const std::filesystem::path& path, OpenMode mode, const Chance& chance,
    std::shared_ptr<base::Progress> progress = std::make_shared<base::Progress>());

/// Keeps a project's history beside under another name, so that a new one starts when it is opened. Gives where it is
/// now. Errors: NotFound (there is none), InUse, Io.
base::Result<std::filesystem::path> setHistoryAside(const std::filesystem::path& project);

/// The designer's explicit choice to go on although files are damaged: makes the session writable. Each damaged file
/// is kept beside the new one as NAME.damaged when its scene is saved.
void acceptDamage(Workspace& workspace);

/// A document that is to be written, as it is at a step.
struct SaveJob {
    model::Scene snapshot;
    std::filesystem::path folder;
    std::filesystem::path held;  ///< its file until now; empty: it has none
    edit::StepId step = edit::kRoot;
    bool isGone = false;  ///< a scene that is not there at present: its file goes
};
/// Errors: those of loading it.
base::Result<SaveJob> saveJob(Workspace& workspace, const std::string& document);

/// A document written beside its file, not yet in place. One that does not exist any more has no target: its file goes.
struct PreparedSave {
    std::string scene;
    std::filesystem::path target, part;
    std::uint64_t hash = 0, size = 0;
    std::uint64_t found = 0;  ///< hash of its file until now; 0: there is none
    edit::StepId step = edit::kRoot;
    std::string packed;  ///< what the ledger keeps of it
};
/// The long half of saving: may run on a worker.
base::Result<PreparedSave> prepareSave(const SaveJob& job);
/// The short half: notes it in the ledger and puts the file in place. Errors: also Changed, when others have written
/// the file since it was read here; nothing is written then.
base::Status finishSave(Workspace& workspace, const PreparedSave& prepared);
/// Both. `scene` may be any document.
base::Status saveScene(Workspace& workspace, const std::string& scene);
/// Makes a mesh an item of the project, within the draft's step; its file comes with Save. Errors: a name that cannot
/// be or is in use; Io.
base::Result<model::Item> addModel(Workspace& workspace, edit::Draft& draft, const std::string& name, shape::Mesh mesh);
/// The nearest name that no item has or had, nor a file that waits, unless that holds the same bytes.
std::string freeItemName(const Workspace& workspace, const std::string& wanted, std::string_view bytes);
/// Makes a model file an item, the same way (a .glb is copied; a text model is packed into one). Its name is made one
/// that can be and is free. Errors: those of readModel.
base::Result<model::Item> importModel(Workspace& workspace, edit::Draft& draft, const std::filesystem::path& model);

}  // namespace io
