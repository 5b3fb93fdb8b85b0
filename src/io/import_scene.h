#pragma once
// A glTF file as a scene of its own: its nodes as objects, its meshes as items, its lights and cameras.
#include "io/workspace.h"

namespace io {

struct ImportedScene {
    std::string scene;  ///< its name: the file's, made one that can be and is free
    std::size_t objects = 0, items = 0;
    std::vector<std::string> remarks;  ///< what was left out
};
/// The scene comes into the project with the next Save; its items are part of the draft's step. Errors: those of
/// readModel; of a draft.
base::Result<ImportedScene> importScene(Workspace& workspace, edit::Draft& draft, const std::filesystem::path& file);

}  // namespace io
