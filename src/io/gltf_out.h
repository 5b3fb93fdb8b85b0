#pragma once
// glTF 2.0 out: one model, or a scene as it looks, whole or in part.
#include <filesystem>
#include <functional>
#include <memory>
#include <string>

#include "base/result.h"
#include "io/glb_builder.h"
#include "model/library.h"
#include "model/scene.h"
#include "shape/mesh.h"

namespace io {

/// A mesh as a .glb file's bytes; the same mesh always gives the same bytes.
std::string glbOf(const shape::Mesh& mesh, const std::string& name);

/// Where an item's mesh is found; null when it has none.
using MeshSource = std::function<const shape::Mesh*(base::Name item)>;
/// The bytes of an image in media/. Errors: those of reading it.
using ImageSource = std::function<base::Result<std::string>(const std::string& name)>;

struct ExportOptions {
    std::vector<base::ObjectId> only;  ///< these and what is below them; none: all
    bool hidden = true;                ///< also what is hidden while editing
    bool absent = true;                ///< also what is not there when play starts
    bool instances = false;            ///< alike ones beside each other as EXT_mesh_gpu_instancing
    bool states = true;                ///< variations, tints and surfaces by what properties are
    bool extras = true;                ///< ids, kinds, facets, properties, under "mellow"
    bool asText = false;               ///< a .gltf with a .bin beside it, which is called after `stem`
    bool imagesBeside = false;         ///< of a .gltf: images as files of their own
    std::string stem = "scene";
};
struct ExportSource {
    const model::Scene& scene;
    const model::Library& library;
    MeshSource meshOf;
    ImageSource imageOf;
};
struct ExportedScene {
    std::string bytes;
    std::vector<FileBeside> beside;
    std::vector<std::string> lost;  ///< what the format cannot hold, one sentence each
    std::size_t objects = 0, meshes = 0, materials = 0;
};
/// Everything an open project has for it, which must outlive the source.
struct Workspace;
ExportSource sourceOf(const Workspace& workspace, const model::Scene& scene);
/// Writes it, and first what lies beside it. Errors: Refused, when a file is there and may not be written `over`; Io.
base::Status writeExported(const std::filesystem::path& file, const ExportedScene& exported, bool over);

/// Nodes by the scene's tree; meshes one per look of an item, materials and images shared where equal; lights, cameras,
/// the sun; what glTF has no word for stands in "extras" under "mellow".
ExportedScene exportScene(const ExportSource& source, const ExportOptions& options = {});

}  // namespace io
