#pragma once
// glTF 2.0 out, always binary: one model, or a whole scene.
#include <functional>
#include <memory>
#include <string>

#include "base/result.h"
#include "model/scene.h"
#include "shape/mesh.h"

namespace io {

/// A mesh as a .glb file's bytes; the same mesh always gives the same bytes.
std::string glbOf(const shape::Mesh& mesh, const std::string& name);

/// Where an item's mesh is found; null when it has none.
using MeshSource = std::function<const shape::Mesh*(base::Name item)>;

struct ExportedScene {
    std::string bytes;
    std::vector<std::string> lost;  ///< what the format cannot hold, one sentence each
};
/// A scene as a .glb file's bytes: nodes, meshes (one per item), lights, cameras; ids, kinds, flags, notes and
/// properties in "extras" under "mellow".
ExportedScene exportScene(const model::Scene& scene, const MeshSource& meshOf);

}  // namespace io
