#include "io/gltf_draco.h"

#include <draco/compression/decode.h>
#include <tiny_gltf.h>

#include "io/gltf_accessor.h"
#include "io/gltf_document.h"

namespace io {
namespace {

std::vector<float> valuesOf(const draco::Mesh& mesh, int uniqueId, int components, const std::string& name) {
    const draco::PointAttribute* attribute =
        uniqueId < 0 ? nullptr : mesh.GetAttributeByUniqueId(static_cast<std::uint32_t>(uniqueId));
    if (attribute == nullptr || attribute->num_components() < components)
        throw MalformedModel("its compressed mesh has no usable " + name);
    std::vector<float> values(static_cast<std::size_t>(mesh.num_points()) * static_cast<std::size_t>(components));
    for (std::uint32_t i = 0; i < mesh.num_points(); ++i)
        if (!attribute->ConvertValue<float>(attribute->mapped_index(draco::PointIndex(i)),
                                            static_cast<std::int8_t>(components),
                                            &values[i * static_cast<std::size_t>(components)]))
            throw MalformedModel("its compressed mesh has no usable " + name);
    return values;
}

}  // namespace

DracoMesh readDraco(const tinygltf::Model& model, const tinygltf::Value& extension,
                    const std::map<std::string, int>& wanted) {
    const tinygltf::Value& view = extension.Get("bufferView");
    const std::string bytes = readView(model, view.IsInt() ? view.GetNumberAsInt() : -1, "a compressed mesh");
    draco::DecoderBuffer buffer;
    buffer.Init(bytes.data(), bytes.size());
    draco::Decoder decoder;
    auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
    if (!decoded.ok()) throw MalformedModel("its compressed mesh cannot be read");
    const draco::Mesh& mesh = *decoded.value();
    if (mesh.num_points() > kMostVertices || mesh.num_faces() > kMostVertices)
        throw MalformedModel("its compressed mesh comes to too much");
    DracoMesh read;
    read.vertices = mesh.num_points();
    const tinygltf::Value& attributes = extension.Get("attributes");
    for (const auto& [name, components] : wanted)
        if (const tinygltf::Value& id = attributes.Get(name); id.IsInt())
            read.attributes[name] = valuesOf(mesh, id.GetNumberAsInt(), components, name);
    for (std::uint32_t f = 0; f < mesh.num_faces(); ++f)
        for (const draco::PointIndex& index : mesh.face(draco::FaceIndex(f))) {
            if (index.value() >= read.vertices)
                throw MalformedModel("its compressed mesh names a vertex that is not there");
            read.indices.push_back(index.value());
        }
    return read;
}

}  // namespace io
