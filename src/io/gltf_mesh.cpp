#include "io/gltf_mesh.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "io/gltf_accessor.h"
#include "io/gltf_draco.h"
#include "io/image_head.h"

namespace io {

void GltfMesher::remark(std::string text) {
    if (std::find(remarks_.begin(), remarks_.end(), text) == remarks_.end()) remarks_.push_back(std::move(text));
}

void GltfMesher::begin(shape::Mesh& mesh) {
    mesh_ = &mesh;
    images_.clear();
    textures_.clear();
    addMaterials();
}

void GltfMesher::remarkOnTheRest(bool wantsNodes) {
    if (!model_.animations.empty()) remark("Animation is not read.");
    if (!model_.skins.empty()) remark("Skins are not read; meshes stand as modelled.");
    if (wantsNodes) return;
    if (!model_.cameras.empty()) remark("Cameras are not part of an item; “as a scene” keeps them.");
    if (!model_.lights.empty() || model_.extensions.contains("KHR_lights_punctual"))
        remark("Lights are not part of an item; “as a scene” keeps them.");
}

int GltfMesher::imageFor(int texture) {
    if (texture < 0) return -1;
    if (const auto held = images_.find(texture); held != images_.end()) return held->second;
    images_[texture] = -1;
    if (static_cast<std::size_t>(texture) >= model_.textures.size())
        throw MalformedModel(fmt::format("texture {} does not exist", texture));
    const int source = model_.textures[static_cast<std::size_t>(texture)].source;
    if (source < 0) return remark("A texture without an image is left out."), -1;
    if (static_cast<std::size_t>(source) >= model_.images.size())
        throw MalformedModel(fmt::format("image {} does not exist", source));
    const tinygltf::Image& image = model_.images[static_cast<std::size_t>(source)];
    shape::Image kept;
    kept.bytes = image.bufferView >= 0 ? readView(model_, image.bufferView, "image")
                                       : std::string(image.image.begin(), image.image.end());
    if (kept.bytes.empty()) return remark(fmt::format("The image “{}” is missing.", shownUri(image.uri))), -1;
    kept.mimeType = kept.bytes.starts_with("\x89PNG") ? "image/png" : "image/jpeg";
    if (kept.mimeType == "image/jpeg" && !kept.bytes.starts_with("\xFF\xD8"))
        return remark("An image that is neither PNG nor JPEG is left out."), -1;
    if (auto head = imageHeadOf(kept.bytes, "An image"); !head) return remark(head.error().message), -1;
    mesh_->images.push_back(std::move(kept));
    return images_[texture] = static_cast<int>(mesh_->images.size()) - 1;
}

GltfMesher::TextureUse GltfMesher::textureUse(const tinygltf::TextureInfo& info) {
    TextureUse use;
    use.set = info.texCoord;
    const auto extension = info.extensions.find("KHR_texture_transform");
    if (extension == info.extensions.end() || !extension->second.IsObject()) return use;
    const tinygltf::Value& says = extension->second;
    auto number = [&](const tinygltf::Value& value) {
        if (!value.IsNumber() || !std::isfinite(value.GetNumberAsDouble()) || std::abs(value.GetNumberAsDouble()) > 1e6)
            throw MalformedModel("a texture transform holds what is no usable number");
        return value.GetNumberAsDouble();
    };
    auto pair = [&](const char* key, double* out) {
        if (!says.Has(key)) return;
        const tinygltf::Value& list = says.Get(key);
        if (!list.IsArray() || list.ArrayLen() != 2)
            throw MalformedModel(fmt::format("a texture transform: {} is no list of 2 numbers", key));
        for (int i = 0; i < 2; ++i) out[i] = number(list.Get(i));
    };
    pair("offset", use.offset);
    pair("scale", use.scale);
    if (says.Has("rotation")) use.turn = number(says.Get("rotation"));
    if (says.Has("texCoord")) use.set = static_cast<int>(number(says.Get("texCoord")));
    use.changes = true;
    return use;
}

void GltfMesher::addMaterials() {
    for (const tinygltf::Material& from : model_.materials) {
        shape::Material m;
        m.name = from.name;
        const auto& pbr = from.pbrMetallicRoughness;
        if (pbr.baseColorFactor.size() == 4)
            for (std::size_t i = 0; i < 4; ++i) m.baseColour[i] = static_cast<float>(pbr.baseColorFactor[i]);
        for (float c : m.baseColour)
            if (!std::isfinite(c)) throw MalformedModel("a base colour is not finite");
        constexpr double kSame = 1e-6;
        if (pbr.roughnessFactor >= 0 && std::abs(pbr.roughnessFactor - shape::kMirrorsNothing) > kSame &&
            pbr.roughnessFactor < 1)
            m.gloss = static_cast<float>(1 - pbr.roughnessFactor);
        m.image = imageFor(pbr.baseColorTexture.index);
        textures_.push_back(textureUse(pbr.baseColorTexture));
        m.doubleSided = from.doubleSided;
        m.alphaMask = from.alphaMode == "MASK";
        if (from.alphaMode == "BLEND") remark("Blended transparency is drawn opaque.");
        m.alphaCutoff = static_cast<float>(from.alphaCutoff);
        // Here what shines has its own colour: as much of it as comes nearest.
        for (std::size_t k = 0; k < std::min<std::size_t>(3, from.emissiveFactor.size()); ++k)
            if (const double e = from.emissiveFactor[k]; std::isfinite(e) && e > 0)
                m.emission = std::max(m.emission,
                                      static_cast<float>(std::min(e / std::max<double>(m.baseColour[k], 1e-3), 1.0)));
        if (from.normalTexture.index >= 0) remark("Normal textures are not shown.");
        if (from.occlusionTexture.index >= 0) remark("Occlusion textures are not shown.");
        if (from.emissiveTexture.index >= 0) remark("Emissive textures are not shown.");
        if (pbr.metallicRoughnessTexture.index >= 0) remark("Metal and roughness textures are not shown.");
        mesh_->materials.push_back(std::move(m));
    }
    defaultMaterial_ = static_cast<std::uint32_t>(mesh_->materials.size());
}

base::Affine GltfMesher::localOf(const tinygltf::Node& node) {
    base::Affine a;
    if (node.matrix.size() == 16) {
        for (std::size_t c = 0; c < 3; ++c)
            for (std::size_t r = 0; r < 3; ++r)
                a.linear[static_cast<int>(c)][static_cast<int>(r)] = node.matrix[c * 4 + r];
        a.translation = {node.matrix[12], node.matrix[13], node.matrix[14]};
    } else {
        base::Transform t;
        if (node.translation.size() == 3) t.position = {node.translation[0], node.translation[1], node.translation[2]};
        if (node.rotation.size() == 4)
            t.rotation = base::Quat(node.rotation[3], node.rotation[0], node.rotation[1], node.rotation[2]);
        if (node.scale.size() == 3) t.scale = {node.scale[0], node.scale[1], node.scale[2]};
        if (base::isFinite(t.rotation) && glm::length(t.rotation) < 1e-9)
            throw MalformedModel(fmt::format("node “{}” has a rotation of no length", node.name));
        t.rotation = glm::normalize(t.rotation);
        a = base::toAffine(t);
    }
    bool finite = base::isFinite(a.translation);
    for (int c = 0; c < 3; ++c) finite = finite && base::isFinite(a.linear[c]);
    if (!finite) throw MalformedModel(fmt::format("node “{}” is placed at a number that is not finite", node.name));
    return a;
}

std::vector<base::Affine> GltfMesher::placesOf(const tinygltf::Node& node) const {
    const auto extension = node.extensions.find("EXT_mesh_gpu_instancing");
    if (extension == node.extensions.end()) return {base::Affine{}};
    const tinygltf::Value& says = extension->second;
    if (!says.IsObject() || !says.Has("attributes") || !says.Get("attributes").IsObject())
        throw MalformedModel(fmt::format("node “{}” has instances without attributes", node.name));
    const auto column = [&](const char* key, int parts) {
        const tinygltf::Value& all = says.Get("attributes");
        if (!all.Has(key)) return std::vector<float>{};
        if (!all.Get(key).IsInt())
            throw MalformedModel(fmt::format("the instances of node “{}” are unusable", node.name));
        return readFloats(model_, all.Get(key).GetNumberAsInt(), parts, "instance");
    };
    const std::vector<float> places = column("TRANSLATION", 3), turns = column("ROTATION", 4),
                             sizes = column("SCALE", 3);
    const std::size_t n = std::max({places.size() / 3, turns.size() / 4, sizes.size() / 3});
    if (n > kMostNodes) throw MalformedModel(fmt::format("it comes to more than {} nodes", kMostNodes));
    std::vector<base::Affine> result;
    for (std::size_t i = 0; i < n; ++i) {
        tinygltf::Node one;
        one.name = node.name;
        const auto take = [&](const std::vector<float>& from, std::size_t parts, std::vector<double>& to) {
            if (!from.empty() && from.size() != n * parts)
                throw MalformedModel(
                    fmt::format("the instances of node “{}” are not as many in each column", node.name));
            if (!from.empty())
                to.assign(from.begin() + static_cast<std::ptrdiff_t>(i * parts),
                          from.begin() + static_cast<std::ptrdiff_t>((i + 1) * parts));
        };
        take(places, 3, one.translation);
        take(turns, 4, one.rotation);
        take(sizes, 3, one.scale);
        result.push_back(localOf(one));
    }
    return result;
}

void GltfMesher::add(int index, const base::Affine& world, const std::string& nodeName) {
    if (static_cast<std::size_t>(index) >= model_.meshes.size())
        throw MalformedModel(fmt::format("mesh {} does not exist", index));
    const tinygltf::Mesh& mesh = model_.meshes[static_cast<std::size_t>(index)];
    shape::MeshNode info;
    info.name = nodeName.empty() ? mesh.name : nodeName;
    info.firstIndex = static_cast<std::uint32_t>(mesh_->indices.size());
    for (const tinygltf::Primitive& primitive : mesh.primitives) addPrimitive(primitive, world, info.bounds);
    info.indexCount = static_cast<std::uint32_t>(mesh_->indices.size()) - info.firstIndex;
    mesh_->nodes.push_back(std::move(info));
}

namespace {

std::vector<std::uint32_t> asTriangles(std::vector<std::uint32_t> in, int mode) {
    if (mode == TINYGLTF_MODE_TRIANGLES) {
        in.resize(in.size() / 3 * 3);
        return in;
    }
    std::vector<std::uint32_t> out;
    for (std::size_t i = 2; i < in.size(); ++i) {
        const bool fan = mode == TINYGLTF_MODE_TRIANGLE_FAN;
        const std::uint32_t a = fan ? in[0] : in[i - 2];
        const bool odd = !fan && i % 2 == 1;
        out.push_back(a);
        out.push_back(odd ? in[i] : in[i - 1]);
        out.push_back(odd ? in[i - 1] : in[i]);
    }
    return out;
}

}  // namespace

std::size_t GltfMesher::countOf(int accessor) const {
    const bool there = accessor >= 0 && static_cast<std::size_t>(accessor) < model_.accessors.size();
    return there ? model_.accessors[static_cast<std::size_t>(accessor)].count : 0;
}

void GltfMesher::addPrimitive(const tinygltf::Primitive& p, const base::Affine& world, base::Aabb& bounds) {
    const int mode = p.mode < 0 ? TINYGLTF_MODE_TRIANGLES : p.mode;
    if (mode < TINYGLTF_MODE_TRIANGLES) return remark("Points and lines are not read.");
    if (mode > TINYGLTF_MODE_TRIANGLE_FAN)
        throw MalformedModel(fmt::format("a primitive has the unknown mode {}", mode));
    if (!p.targets.empty()) remark("Morph targets are not read; meshes stand as modelled.");
    auto attribute = [&](const std::string& name) {
        auto place = p.attributes.find(name);
        return place == p.attributes.end() ? -1 : place->second;
    };
    if (attribute("COLOR_0") >= 0) remark("Colours of vertices are not shown.");
    if (attribute("POSITION") < 0) throw MalformedModel("a primitive has no positions");
    // Before anything is read of it: many nodes may show one mesh.
    read_ += countOf(attribute("POSITION")) + countOf(p.indices);
    if (read_ > 4 * kMostVertices)
        throw MalformedModel(
            fmt::format("its nodes come to too much: at most {} million vertices are read", kMostVertices / 1'000'000));
    const std::uint32_t material = materialOf(p.material);
    const TextureUse use = material < textures_.size() ? textures_[material] : TextureUse{};
    const std::string texCoord = fmt::format("TEXCOORD_{}", use.set);
    DracoMesh packed;
    const auto compressed = p.extensions.find("KHR_draco_mesh_compression");
    if (compressed != p.extensions.end())
        packed = readDraco(model_, compressed->second, {{"POSITION", 3}, {"NORMAL", 3}, {texCoord, 2}});
    const auto floats = [&](const std::string& name, int components, const char* what) {
        if (const auto held = packed.attributes.find(name); held != packed.attributes.end()) return held->second;
        return attribute(name) >= 0 && compressed == p.extensions.end()
                   ? readFloats(model_, attribute(name), components, what)
                   : std::vector<float>{};
    };
    const std::vector<float> positions = floats("POSITION", 3, "positions");
    const std::size_t count = positions.size() / 3;
    if (count == 0 && compressed != p.extensions.end()) throw MalformedModel("its compressed mesh has no positions");
    std::vector<std::uint32_t> indices = std::move(packed.indices);
    if (compressed == p.extensions.end()) {
        if (p.indices >= 0)
            indices = readIndices(model_, p.indices, count);
        else
            for (std::uint32_t i = 0; i < count; ++i) indices.push_back(i);
    }
    indices = asTriangles(std::move(indices), mode);
    const std::vector<float> normals = floats("NORMAL", 3, "normals");
    std::vector<float> texture = floats(texCoord, 2, "texture coordinates");
    if ((!normals.empty() && normals.size() != positions.size()) || (!texture.empty() && texture.size() != count * 2))
        throw MalformedModel("the attributes of a primitive differ in length");
    if (use.changes)
        for (std::size_t i = 0; i + 1 < texture.size(); i += 2) {
            const double u = texture[i] * use.scale[0], v = texture[i + 1] * use.scale[1];
            const double c = std::cos(use.turn), s = std::sin(use.turn);
            texture[i] = static_cast<float>(c * u - s * v + use.offset[0]);
            texture[i + 1] = static_cast<float>(s * u + c * v + use.offset[1]);
        }
    const bool mirrored = glm::determinant(world.linear) < 0;
    if (mirrored)
        for (std::size_t i = 0; i + 2 < indices.size(); i += 3) std::swap(indices[i + 1], indices[i + 2]);
    if (mesh_->positions.size() + count > kMostVertices || mesh_->indices.size() + indices.size() > 3 * kMostVertices)
        throw MalformedModel(
            fmt::format("its nodes come to too much: at most {} million vertices are read", kMostVertices / 1'000'000));
    shape::Submesh part{static_cast<std::uint32_t>(mesh_->indices.size()), static_cast<std::uint32_t>(indices.size()),
                        material};
    addVertices(indices, positions, normals, texture, world, bounds);
    if (normals.empty()) shape::makeFlatNormals(*mesh_, part.firstIndex, part.indexCount);
    if (part.indexCount > 0) mesh_->submeshes.push_back(part);
}

/// Appends the vertices that `indices` use, in the order of their first use: primitives often share one large buffer.
void GltfMesher::addVertices(const std::vector<std::uint32_t>& indices, const std::vector<float>& positions,
                             const std::vector<float>& normals, const std::vector<float>& texture,
                             const base::Affine& world, base::Aabb& bounds) {
    constexpr std::uint32_t kNew = 0xFFFFFFFFu;
    shape::Mesh& mesh = *mesh_;
    const base::Mat3 forNormals =
        std::abs(glm::determinant(world.linear)) > 1e-30 ? glm::transpose(glm::inverse(world.linear)) : base::Mat3(1.0);
    std::vector<std::uint32_t> placeOf(positions.size() / 3, kNew);
    if (!texture.empty() && mesh.texture.empty()) mesh.texture.resize(mesh.positions.size(), {0, 0});
    const bool textured = !texture.empty() || !mesh.texture.empty();
    auto narrow = [](const base::Vec3& v) {
        return shape::Float3{static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
    };
    for (std::size_t i : indices) {
        if (placeOf[i] == kNew) {
            placeOf[i] = static_cast<std::uint32_t>(mesh.positions.size());
            const base::Vec3 at = world.point({positions[i * 3], positions[i * 3 + 1], positions[i * 3 + 2]});
            bounds.add(at);
            mesh.positions.push_back(narrow(at));
            base::Vec3 n(0, 1, 0);
            if (!normals.empty()) n = forNormals * base::Vec3(normals[i * 3], normals[i * 3 + 1], normals[i * 3 + 2]);
            mesh.normals.push_back(narrow(glm::length(n) > 1e-12 ? glm::normalize(n) : base::Vec3(0, 1, 0)));
            if (textured)
                mesh.texture.push_back(texture.empty() ? shape::Float2{0, 0}
                                                       : shape::Float2{texture[i * 2], texture[i * 2 + 1]});
        }
        mesh.indices.push_back(placeOf[i]);
    }
}

std::uint32_t GltfMesher::materialOf(int material) {
    if (material >= 0) {
        if (static_cast<std::uint32_t>(material) >= defaultMaterial_)
            throw MalformedModel(fmt::format("material {} does not exist", material));
        return static_cast<std::uint32_t>(material);
    }
    if (mesh_->materials.size() == defaultMaterial_) mesh_->materials.push_back({});
    return defaultMaterial_;
}

}  // namespace io
