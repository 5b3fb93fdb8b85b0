#pragma once
// Meshes out of a glTF document, with their materials; every index in it is followed with care. For this room's
// sources.
#include <map>
#include <string>
#include <vector>

#include "io/gltf_document.h"
#include "shape/mesh.h"

namespace io {

/// Puts meshes of a document, placed anywhere, into one of ours. Throws MalformedModel for what cannot be.
class GltfMesher {
  public:
    GltfMesher(const tinygltf::Model& model, std::vector<std::string>& remarks) : model_(model), remarks_(remarks) {}

    /// Begins a mesh, which has all of the document's materials.
    void begin(shape::Mesh& mesh);
    void add(int mesh, const base::Affine& world, const std::string& nodeName);
    /// Says something of the file, once.
    void remark(std::string text);
    static base::Affine localOf(const tinygltf::Node& node);
    /// Where a node's mesh stands in its axes: once at home, or as EXT_mesh_gpu_instancing says.
    std::vector<base::Affine> placesOf(const tinygltf::Node& node) const;
    /// What lies beside triangles in the document and is not shown: animations, cameras when they are not `wanted`, …
    void remarkOnTheRest(bool wantsNodes);

  private:
    /// How the texture coordinates of a material are changed, and which it takes (KHR_texture_transform).
    struct TextureUse {
        int set = 0;
        double offset[2] = {0, 0}, scale[2] = {1, 1}, turn = 0;
        bool changes = false;
    };
    int imageFor(int texture);
    void addMaterials();
    TextureUse textureUse(const tinygltf::TextureInfo& info);
    void addPrimitive(const tinygltf::Primitive& primitive, const base::Affine& world, base::Aabb& bounds);
    void addVertices(const std::vector<std::uint32_t>& indices, const std::vector<float>& positions,
                     const std::vector<float>& normals, const std::vector<float>& texture, const base::Affine& world,
                     base::Aabb& bounds);
    std::uint32_t materialOf(int material);
    std::size_t countOf(int accessor) const;

    const tinygltf::Model& model_;
    std::vector<std::string>& remarks_;
    shape::Mesh* mesh_ = nullptr;
    std::map<int, int> images_;  // of the mesh, by texture
    std::vector<TextureUse> textures_;
    std::uint32_t defaultMaterial_ = 0;
    std::size_t read_ = 0;  // vertices and indices, also those read several times
};

}  // namespace io
