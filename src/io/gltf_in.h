#pragma once
// glTF 2.0 models in, binary or text: nodes flattened to one mesh with its submeshes and materials. Everything the
// library lets through unchecked is checked here. docs/formats/models.md says what is read.
#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "shape/mesh.h"

namespace io {

struct ImportedModel {
    shape::Mesh mesh;
    std::vector<std::string> remarks;  ///< what was left out: animation, skins, lines
};

/// Files beside it are read only within `root`; none given: within its own folder. Errors: NotFound, Io; BadInput
/// naming what in the file is wrong; Unsupported (required extensions we do not read).
base::Result<ImportedModel> readModel(const std::filesystem::path& path, const std::filesystem::path& root = {});

}  // namespace io
