#include "io/gltf_draco.h"

#include <tiny_gltf.h>

#include "io/gltf_accessor.h"
#include "io/gltf_document.h"
#include "unpack/draco.h"

namespace io {

DracoMesh readDraco(const tinygltf::Model& model, const tinygltf::Value& extension,
                    const std::map<std::string, int>& wanted) {
    const tinygltf::Value& view = extension.Get("bufferView");
    const std::string bytes = readView(model, view.IsInt() ? view.GetNumberAsInt() : -1, "a compressed mesh");
    const tinygltf::Value& attributes = extension.Get("attributes");
    std::vector<std::string> names;
    std::vector<unpack::Attribute> asked;
    for (const auto& [name, components] : wanted)
        if (const tinygltf::Value& id = attributes.Get(name); id.IsInt()) {
            names.push_back(name);
            asked.push_back({id.GetNumberAsInt(), components, {}});
        }
    unpack::Mesh mesh = unpack::draco(bytes, std::move(asked), kMostVertices);
    if (!mesh.problem.empty()) throw MalformedModel("its compressed mesh " + mesh.problem);
    DracoMesh read;
    read.vertices = mesh.vertices;
    read.indices = std::move(mesh.indices);
    for (std::size_t i = 0; i < names.size(); ++i) read.attributes[names[i]] = std::move(mesh.attributes[i].values);
    return read;
}

}  // namespace io
