#include "io/gltf_in.h"

#include <fmt/format.h>
#include <tiny_gltf.h>

#include <cmath>
#include <set>

#include "base/files.h"
#include "io/gltf_accessor.h"

namespace io {
namespace {

using base::ErrorCode;

constexpr int kDeepest = 256;
constexpr std::size_t kMostNodes = 1'000'000;

bool keepEncoded(tinygltf::Image* image, const int, std::string*, std::string*, int, int, const unsigned char* bytes,
                 int size, void*) {
    image->image.assign(bytes, bytes + size);
    image->as_is = true;
    return true;
}

class Flattener {
  public:
    Flattener(const tinygltf::Model& model, ImportedModel& out) : model_(model), out_(out) {}

    void run() {
        materials();
        if (!model_.animations.empty()) remark("Animation is not read.");
        if (!model_.skins.empty()) remark("Skins are not read; meshes stand as modelled.");
        std::vector<int> roots;
        if (!model_.scenes.empty()) {
            const int which = model_.defaultScene >= 0 ? model_.defaultScene : 0;
            if (static_cast<std::size_t>(which) >= model_.scenes.size())
                throw MalformedModel("the default scene does not exist");
            roots = model_.scenes[static_cast<std::size_t>(which)].nodes;
        } else {
            std::set<int> children;
            for (const auto& node : model_.nodes) children.insert(node.children.begin(), node.children.end());
            for (int i = 0; i < static_cast<int>(model_.nodes.size()); ++i)
                if (!children.contains(i)) roots.push_back(i);
        }
        for (int root : roots) visit(root, base::Affine{}, 0);
        out_.mesh.bounds = shape::boundsOf(out_.mesh);
        if (out_.mesh.indices.empty()) throw MalformedModel("it holds no triangles");
    }

  private:
    void remark(std::string text) {
        if (std::find(out_.remarks.begin(), out_.remarks.end(), text) == out_.remarks.end())
            out_.remarks.push_back(std::move(text));
    }

    int imageFor(int texture) {
        if (texture < 0) return -1;
        if (static_cast<std::size_t>(texture) >= model_.textures.size())
            throw MalformedModel(fmt::format("texture {} does not exist", texture));
        const int source = model_.textures[static_cast<std::size_t>(texture)].source;
        if (source < 0) return remark("A texture without an image is left out."), -1;
        if (static_cast<std::size_t>(source) >= model_.images.size())
            throw MalformedModel(fmt::format("image {} does not exist", source));
        const tinygltf::Image& image = model_.images[static_cast<std::size_t>(source)];
        shape::Image kept;
        kept.mimeType = image.mimeType;
        kept.bytes = image.bufferView >= 0 ? readView(model_, image.bufferView, "image")
                                           : std::string(image.image.begin(), image.image.end());
        if (kept.bytes.starts_with("\x89PNG"))
            kept.mimeType = "image/png";
        else if (kept.bytes.starts_with("\xFF\xD8"))
            kept.mimeType = "image/jpeg";
        else
            return remark("An image that is neither PNG nor JPEG is left out."), -1;
        out_.mesh.images.push_back(std::move(kept));
        return static_cast<int>(out_.mesh.images.size()) - 1;
    }

    void materials() {
        for (const tinygltf::Material& from : model_.materials) {
            shape::Material m;
            m.name = from.name;
            const auto& pbr = from.pbrMetallicRoughness;
            if (pbr.baseColorFactor.size() == 4)
                for (std::size_t i = 0; i < 4; ++i) m.baseColour[i] = static_cast<float>(pbr.baseColorFactor[i]);
            for (float c : m.baseColour)
                if (!std::isfinite(c)) throw MalformedModel("a base colour is not finite");
            m.image = imageFor(pbr.baseColorTexture.index);
            if (pbr.baseColorTexture.texCoord != 0) remark("Only the first texture coordinates are read.");
            m.doubleSided = from.doubleSided;
            m.alphaMask = from.alphaMode == "MASK";
            if (from.alphaMode == "BLEND") remark("Blended transparency is drawn opaque.");
            m.alphaCutoff = static_cast<float>(from.alphaCutoff);
            for (double e : from.emissiveFactor)
                m.emission = std::max(m.emission, std::isfinite(e) ? static_cast<float>(std::min(e, 1.0)) : 0.0F);
            out_.mesh.materials.push_back(std::move(m));
        }
        defaultMaterial_ = static_cast<std::uint32_t>(out_.mesh.materials.size());
    }

    static base::Affine localOf(const tinygltf::Node& node) {
        base::Affine a;
        if (node.matrix.size() == 16) {
            for (std::size_t c = 0; c < 3; ++c)
                for (std::size_t r = 0; r < 3; ++r)
                    a.linear[static_cast<int>(c)][static_cast<int>(r)] = node.matrix[c * 4 + r];
            a.translation = {node.matrix[12], node.matrix[13], node.matrix[14]};
        } else {
            base::Transform t;
            if (node.translation.size() == 3)
                t.position = {node.translation[0], node.translation[1], node.translation[2]};
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

    void visit(int index, const base::Affine& parent, int depth) {
        if (index < 0 || static_cast<std::size_t>(index) >= model_.nodes.size())
            throw MalformedModel(fmt::format("node {} does not exist", index));
        if (depth > kDeepest) throw MalformedModel("its nodes go round in a circle, or more than 256 deep");
        if (++visited_ > kMostNodes) throw MalformedModel("it has too many nodes");
        const tinygltf::Node& node = model_.nodes[static_cast<std::size_t>(index)];
        const base::Affine world = parent * localOf(node);
        if (node.mesh >= 0) addMesh(node, world);
        for (int child : node.children) visit(child, world, depth + 1);
    }

    void addMesh(const tinygltf::Node& node, const base::Affine& world) {
        if (static_cast<std::size_t>(node.mesh) >= model_.meshes.size())
            throw MalformedModel(fmt::format("mesh {} does not exist", node.mesh));
        const tinygltf::Mesh& mesh = model_.meshes[static_cast<std::size_t>(node.mesh)];
        shape::MeshNode info;
        info.name = node.name.empty() ? mesh.name : node.name;
        for (const tinygltf::Primitive& primitive : mesh.primitives) addPrimitive(primitive, world, info.bounds);
        out_.mesh.nodes.push_back(std::move(info));
    }

    static std::vector<std::uint32_t> asTriangles(std::vector<std::uint32_t> in, int mode) {
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

    void addPrimitive(const tinygltf::Primitive& p, const base::Affine& world, base::Aabb& bounds) {
        const int mode = p.mode < 0 ? TINYGLTF_MODE_TRIANGLES : p.mode;
        if (mode < TINYGLTF_MODE_TRIANGLES) return remark("Points and lines are not read.");
        if (mode > TINYGLTF_MODE_TRIANGLE_FAN)
            throw MalformedModel(fmt::format("a primitive has the unknown mode {}", mode));
        auto attribute = [&](const char* name) {
            auto place = p.attributes.find(name);
            return place == p.attributes.end() ? -1 : place->second;
        };
        if (attribute("POSITION") < 0) throw MalformedModel("a primitive has no positions");
        const auto positions = readFloats(model_, attribute("POSITION"), 3, "positions");
        const std::size_t count = positions.size() / 3;
        std::vector<std::uint32_t> indices;
        if (p.indices >= 0)
            indices = readIndices(model_, p.indices, count);
        else
            for (std::uint32_t i = 0; i < count; ++i) indices.push_back(i);
        indices = asTriangles(std::move(indices), mode);
        std::vector<float> normals, texture;
        if (attribute("NORMAL") >= 0) normals = readFloats(model_, attribute("NORMAL"), 3, "normals");
        if (attribute("TEXCOORD_0") >= 0)
            texture = readFloats(model_, attribute("TEXCOORD_0"), 2, "texture coordinates");
        if ((!normals.empty() && normals.size() != positions.size()) ||
            (!texture.empty() && texture.size() != count * 2))
            throw MalformedModel("the attributes of a primitive differ in length");

        const bool mirrored = glm::determinant(world.linear) < 0;
        if (mirrored)
            for (std::size_t i = 0; i + 2 < indices.size(); i += 3) std::swap(indices[i + 1], indices[i + 2]);
        shape::Submesh part{static_cast<std::uint32_t>(out_.mesh.indices.size()),
                            static_cast<std::uint32_t>(indices.size()), materialOf(p.material)};
        addVertices(indices, positions, normals, texture, world, bounds);
        if (normals.empty()) shape::makeFlatNormals(out_.mesh, part.firstIndex, part.indexCount);
        if (part.indexCount > 0) out_.mesh.submeshes.push_back(part);
    }

    /// Appends the vertices that `indices` use, in the order of their first use: primitives often share one large
    /// buffer.
    void addVertices(const std::vector<std::uint32_t>& indices, const std::vector<float>& positions,
                     const std::vector<float>& normals, const std::vector<float>& texture, const base::Affine& world,
                     base::Aabb& bounds) {
        constexpr std::uint32_t kNew = 0xFFFFFFFFu;
        shape::Mesh& mesh = out_.mesh;
        const base::Mat3 forNormals = std::abs(glm::determinant(world.linear)) > 1e-30
                                          ? glm::transpose(glm::inverse(world.linear))
                                          : base::Mat3(1.0);
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
                if (!normals.empty())
                    n = forNormals * base::Vec3(normals[i * 3], normals[i * 3 + 1], normals[i * 3 + 2]);
                mesh.normals.push_back(narrow(glm::length(n) > 1e-12 ? glm::normalize(n) : base::Vec3(0, 1, 0)));
                if (textured)
                    mesh.texture.push_back(texture.empty() ? shape::Float2{0, 0}
                                                           : shape::Float2{texture[i * 2], texture[i * 2 + 1]});
            }
            mesh.indices.push_back(placeOf[i]);
        }
    }

    std::uint32_t materialOf(int material) {
        if (material >= 0) {
            if (static_cast<std::uint32_t>(material) >= defaultMaterial_)
                throw MalformedModel(fmt::format("material {} does not exist", material));
            return static_cast<std::uint32_t>(material);
        }
        if (out_.mesh.materials.size() == defaultMaterial_) out_.mesh.materials.push_back({});
        return defaultMaterial_;
    }

    const tinygltf::Model& model_;
    ImportedModel& out_;
    std::uint32_t defaultMaterial_ = 0;
    std::size_t visited_ = 0;
};

bool isReadExtension(const std::string& name) {
    return name == "KHR_lights_punctual" || name == "KHR_materials_unlit" || name == "KHR_texture_transform" ||
           name == "KHR_mesh_quantization" || name == "KHR_materials_emissive_strength";
}

}  // namespace

base::Result<ImportedModel> readModel(const std::filesystem::path& path) {
    auto bytes = base::readFile(path);
    if (!bytes) return tl::unexpected(bytes.error());
    const std::string file = path.string();
    auto malformed = [&](const std::string& why) {
        return base::fail(ErrorCode::BadInput, fmt::format("{}: is no usable glTF model: {}.", file, why));
    };
    try {
        tinygltf::TinyGLTF loader;
        loader.SetImageLoader(keepEncoded, nullptr);
        tinygltf::Model model;
        std::string errors, warnings;
        const bool binary = bytes->starts_with("glTF");
        const std::string folder = path.parent_path().string();
        const auto size = static_cast<unsigned int>(bytes->size());
        const bool loaded =
            binary ? loader.LoadBinaryFromMemory(&model, &errors, &warnings,
                                                 reinterpret_cast<const unsigned char*>(bytes->data()), size, folder)
                   : loader.LoadASCIIFromString(&model, &errors, &warnings, bytes->data(), size, folder);
        for (const std::string& name : model.extensionsRequired)
            if (!isReadExtension(name))
                return base::fail(ErrorCode::Unsupported,
                                  fmt::format("{}: needs the extension {}, which is not read.", file, name));
        if (!loaded) {
            if (!binary && bytes->find_first_not_of(" \t\r\n") != bytes->find('{'))
                return malformed("it begins neither as binary glTF nor as JSON text");
            while (!errors.empty() && (errors.back() == '\n' || errors.back() == '.')) errors.pop_back();
            return malformed(errors.empty() ? "it cannot be parsed" : errors);
        }
        if (model.asset.version.substr(0, 2) != "2.")
            return malformed(fmt::format("its version is “{}”; 2.0 was expected", model.asset.version));
        ImportedModel result;
        Flattener(model, result).run();
        return result;
    } catch (const std::exception& problem) {
        return malformed(problem.what());
    }
}

}  // namespace io
