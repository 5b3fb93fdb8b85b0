#pragma once
// Collects a glTF 2.0 document and its binary data; what is equal is there once: views, accessors, images, materials,
// meshes. For this room's sources.
#include <map>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

#include "io/json_text.h"
#include "shape/mesh.h"

namespace io {

/// A file that lies beside another.
struct FileBeside {
    std::string name;  ///< relative to the file it belongs to; "/" between folders
    std::string bytes;
};

class GlbBuilder {
  public:
    /// `imagesBeside`: images are files beside it instead of part of it.
    explicit GlbBuilder(bool imagesBeside = false);

    Json& root() { return root_; }
    /// The index it has then in a list of the document.
    int append(const char* list, Json value);
    /// The mesh's index in "meshes"; colours of its materials times `tint` (linear RGB).
    int addMesh(const shape::Mesh& mesh, const std::string& name, const base::Vec3& tint = base::Vec3(1.0));
    /// A column of `count` rows of floats for EXT_mesh_gpu_instancing: its accessor.
    int addRows(const std::vector<float>& rows, std::size_t count, const char* type);
    void use(const std::string& extension, bool required);

    /// The bytes of a .glb.
    std::string finishBinary();
    /// The text of a .gltf; its data is the file "STEM.bin".
    std::string finishText(const std::string& stem);
    /// Images, and the data of a .gltf; after finishing.
    std::vector<FileBeside> takeBeside() { return std::move(beside_); }

  private:
    /// Appends what is not in the list yet.
    int shared(const char* list, const Json& value);
    int addView(std::string_view bytes, int target);
    template <std::size_t N>
    int addColumn(const std::vector<std::array<float, N>>& column, const char* type);
    int addPositions(const shape::Mesh& mesh);
    int addMaterial(const shape::Material& material, const shape::Mesh& mesh, const base::Vec3& tint);
    int addImage(const shape::Image& image);

    Json root_;
    std::string binary_;
    bool imagesBeside_;
    std::vector<FileBeside> beside_;
    std::unordered_map<std::uint64_t, std::vector<int>> views_;  // by the hash of their bytes
    std::map<std::string, int> shared_;                          // by list and text
    std::map<std::string, int> images_;                          // by their bytes
};

}  // namespace io
