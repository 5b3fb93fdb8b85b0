#pragma once
// Meshes that a glTF file holds compressed (KHR_draco_mesh_compression). For this room's sources.
#include <cstdint>
#include <map>
#include <string>
#include <vector>

namespace tinygltf {
class Model;
class Value;
}  // namespace tinygltf

namespace io {

struct DracoMesh {
    std::map<std::string, std::vector<float>> attributes;  ///< those asked for that it has, by their glTF names
    std::vector<std::uint32_t> indices;                    ///< each below the number of vertices
    std::size_t vertices = 0;
};
/// `wanted`: names with the numbers of their components. Throws MalformedModel.
DracoMesh readDraco(const tinygltf::Model& model, const tinygltf::Value& extension,
                    const std::map<std::string, int>& wanted);

}  // namespace io
