#include "unpack/draco.h"

#include <draco/compression/decode.h>

namespace unpack {
namespace {

bool take(const draco::Mesh& mesh, Attribute& wanted) {
    const draco::PointAttribute* held =
        wanted.id < 0 ? nullptr : mesh.GetAttributeByUniqueId(static_cast<std::uint32_t>(wanted.id));
    if (held == nullptr || held->num_components() < wanted.components) return false;
    const auto components = static_cast<std::size_t>(wanted.components);
    wanted.values.resize(static_cast<std::size_t>(mesh.num_points()) * components);
    for (std::uint32_t i = 0; i < mesh.num_points(); ++i)
        if (!held->ConvertValue<float>(held->mapped_index(draco::PointIndex(i)),
                                       static_cast<std::int8_t>(wanted.components), &wanted.values[i * components]))
            return false;
    return true;
}

Mesh failed(const char* why) {
    Mesh mesh;
    mesh.problem = why;
    return mesh;
}

}  // namespace

Mesh draco(std::string_view bytes, std::vector<Attribute> wanted, std::size_t most) {
    try {
        ::draco::DecoderBuffer buffer;
        buffer.Init(bytes.data(), bytes.size());
        ::draco::Decoder decoder;
        auto decoded = decoder.DecodeMeshFromBuffer(&buffer);
        if (!decoded.ok()) return failed("cannot be read");
        const ::draco::Mesh& from = *decoded.value();
        if (from.num_points() > most || from.num_faces() > most) return failed("comes to too much");
        Mesh mesh;
        mesh.vertices = from.num_points();
        for (Attribute& one : wanted) {
            if (!take(from, one)) return failed("has not what the file says it has");
            mesh.attributes.push_back(std::move(one));
        }
        for (std::uint32_t f = 0; f < from.num_faces(); ++f)
            for (const ::draco::PointIndex& index : from.face(::draco::FaceIndex(f))) {
                if (index.value() >= mesh.vertices) return failed("names a vertex that is not there");
                mesh.indices.push_back(index.value());
            }
        return mesh;
    } catch (const std::exception&) {
        return failed("needs more memory than there is");
    }
}

}  // namespace unpack
