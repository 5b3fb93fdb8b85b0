#pragma once
// What others have done to the files of an open project: a pull, an editor, another program.
#include <span>

#include "io/workspace.h"

namespace io {

struct OutsideChange {
    enum class What { Changed, Gone, New } what = What::Changed;
    std::string document;
    std::filesystem::path file;
    std::uint64_t hash = 0;   ///< of the file as it is now; 0: it is gone
    bool isUnsaved = false;   ///< the document has steps that its file never had
    base::ObjectId prefab{};  ///< of a new definition
    friend bool operator==(const OutsideChange&, const OutsideChange&) = default;
};

/// Files that are not what they were when they were read or written here, and new ones; of documents that are open.
/// Only files whose size or time is another one are read.
std::vector<OutsideChange> outsideChanges(Workspace& workspace);

/// The documents become what the files hold: one step, which can be undone. New ones come into the project. A scene
/// whose file is gone stays. Errors: those of reading them, also when one is damaged; nothing has changed then.
base::Status readTheirs(Workspace& workspace, std::span<const OutsideChange> changes);

/// Keeps what others wrote beside a file, at the first free name: NAME.theirs, NAME.theirs-2. Gives where. Errors: Io.
base::Result<std::filesystem::path> keepBeside(const std::filesystem::path& file, std::string_view bytes);
/// The next Save writes over the files; as they are now they are kept beside, as NAME.theirs. Gives these. Errors: Io.
base::Result<std::vector<std::filesystem::path>> keepMine(Workspace& workspace, std::span<const OutsideChange> changes);

/// The scene in a file that others have written, for comparing. Errors: those of reading it.
base::Result<model::Scene> sceneOfTheirs(Workspace& workspace, const OutsideChange& change);

}  // namespace io
