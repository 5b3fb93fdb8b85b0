#pragma once
// Model files from outside: read, which takes long and may run on a worker, and made items, which is part of a step.
#include "base/progress.h"
#include "io/gltf_in.h"
#include "io/workspace.h"

namespace io {

struct ModelFile {
    std::string stem;    ///< of the file's name: what the item is called after
    std::string packed;  ///< as the project keeps it: the bytes of a .glb file
    ImportedModel model;
};
/// By its ending: one that can be imported.
bool isModelFile(const std::filesystem::path& file);
/// glTF, and what readForeign() reads. Errors: those of readModel() and of readForeign().
base::Result<ModelFile> readModelFile(const std::filesystem::path& file, const base::Progress* progress = nullptr);
/// Makes it an item, within the draft's step. Its name is made one that can be and is free; its file comes with Save.
base::Result<model::Item> importModel(Workspace& workspace, edit::Draft& draft, ModelFile file);
/// Makes it the model of the item of that key, which freeItemName() gave; within the draft's step. Errors: Io.
base::Status bringModel(Workspace& workspace, edit::Draft& draft, const std::string& key, ModelFile file);

}  // namespace io
