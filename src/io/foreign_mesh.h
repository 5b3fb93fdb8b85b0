#pragma once
// Models of other formats (OBJ, STL, PLY): read by a program of its own, which has little time and little memory.
// docs/formats/models.md.
#include <filesystem>
#include <memory>
#include <string>

#include "io/import_model.h"

namespace io {

/// By its ending.
bool isForeignMesh(const std::filesystem::path& file);
/// The model, and the bytes of a .glb file that holds it. Waits up to `seconds`, and ends the program then; any thread.
/// Errors: NotFound; BadInput naming the file and what is wrong; Cancelled; Io when the program is not there.
base::Result<ModelFile> readForeign(const std::filesystem::path& file, const base::Progress* progress = nullptr,
                                    double seconds = 30);

}  // namespace io
