#include "io/glb_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/hash.h"

namespace io {
namespace {

constexpr int kFloat = 5126, kUnsignedInt = 5125, kVertices = 34962, kIndices = 34963;

void padTo4(std::string& bytes, char with) {
    bytes.resize((bytes.size() + 3) / 4 * 4, with);
}

std::string_view bytesOf(const auto& column) {
    return {reinterpret_cast<const char*>(column.data()), column.size() * sizeof(column[0])};
}

}  // namespace

GlbBuilder::GlbBuilder(bool imagesBeside) : imagesBeside_(imagesBeside) {
    root_["asset"] = {{"version", "2.0"}, {"generator", "Mellow Lattice"}};
}

int GlbBuilder::append(const char* list, Json value) {
    Json& all = root_[list];
    all.push_back(std::move(value));
    return static_cast<int>(all.size()) - 1;
}

int GlbBuilder::shared(const char* list, const Json& value) {
    const auto [place, isNew] = shared_.try_emplace(list + toText(value), -1);
    if (isNew) place->second = append(list, value);
    return place->second;
}

void GlbBuilder::use(const std::string& extension, bool required) {
    for (const char* list : {"extensionsUsed", "extensionsRequired"}) {
        if (list == std::string_view("extensionsRequired") && !required) continue;
        Json& all = root_[list];
        if (std::find(all.begin(), all.end(), extension) == all.end()) all.push_back(extension);
    }
}

int GlbBuilder::addView(std::string_view bytes, int target) {
    std::vector<int>& like = views_[base::hashBytes(bytes)];
    for (const int held : like) {
        const Json& view = root_["bufferViews"][static_cast<std::size_t>(held)];
        const std::string_view there(binary_.data() + view["byteOffset"].get<std::size_t>(),
                                     view["byteLength"].get<std::size_t>());
        if (there == bytes && view.value("target", 0) == target) return held;
    }
    padTo4(binary_, '\0');
    Json view = {{"buffer", 0}, {"byteOffset", binary_.size()}, {"byteLength", bytes.size()}};
    if (target != 0) view["target"] = target;
    binary_ += bytes;
    like.push_back(append("bufferViews", std::move(view)));
    return like.back();
}

template <std::size_t N>
int GlbBuilder::addColumn(const std::vector<std::array<float, N>>& column, const char* type) {
    return shared("accessors", {{"bufferView", addView(bytesOf(column), kVertices)},
                                {"componentType", kFloat},
                                {"count", column.size()},
                                {"type", type}});
}

int GlbBuilder::addRows(const std::vector<float>& rows, std::size_t count, const char* type) {
    return shared(
        "accessors",
        {{"bufferView", addView(bytesOf(rows), 0)}, {"componentType", kFloat}, {"count", count}, {"type", type}});
}

int GlbBuilder::addPositions(const shape::Mesh& mesh) {
    shape::Float3 low = mesh.positions.front(), high = low;
    for (const auto& p : mesh.positions)
        for (std::size_t i = 0; i < 3; ++i) {
            low[i] = std::min(low[i], p[i]);
            high[i] = std::max(high[i], p[i]);
        }
    return shared("accessors", {{"bufferView", addView(bytesOf(mesh.positions), kVertices)},
                                {"componentType", kFloat},
                                {"count", mesh.positions.size()},
                                {"type", "VEC3"},
                                {"min", low},
                                {"max", high}});
}

int GlbBuilder::addImage(const shape::Image& image) {
    const auto [place, isNew] = images_.try_emplace(image.bytes, -1);
    if (!isNew) return place->second;
    if (!imagesBeside_) {
        place->second = append("images", {{"mimeType", image.mimeType}, {"bufferView", addView(image.bytes, 0)}});
    } else {
        const std::string name =
            fmt::format("textures/image-{:03}.{}", images_.size(), image.mimeType == "image/jpeg" ? "jpg" : "png");
        beside_.push_back({name, image.bytes});
        place->second = append("images", {{"uri", name}});
    }
    return place->second;
}

int GlbBuilder::addMaterial(const shape::Material& m, const shape::Mesh& mesh, const base::Vec3& tint) {
    Json colour = m.baseColour;
    for (std::size_t k = 0; k < 3; ++k)
        colour[k] = std::clamp(m.baseColour[k] * static_cast<float>(tint[static_cast<int>(k)]), 0.0F, 1.0F);
    const double rough = m.gloss > 0 ? std::clamp(1.0 - m.gloss, 0.0, 1.0) : shape::kMirrorsNothing;
    Json pbr = {{"baseColorFactor", colour}, {"metallicFactor", 0.0}, {"roughnessFactor", rough}};
    if (m.image >= 0 && !mesh.texture.empty()) {  // an image that lies nowhere on it is not seen
        const int source = addImage(mesh.images[static_cast<std::size_t>(m.image)]);
        pbr["baseColorTexture"] = {{"index", shared("textures", {{"source", source}})}};
    }
    Json material;
    if (!m.name.empty()) material["name"] = m.name;
    material["pbrMetallicRoughness"] = pbr;
    if (m.emission > 0) {
        Json shines = Json::array();
        for (std::size_t k = 0; k < 3; ++k) shines.push_back(std::min(m.emission, 1.0F) * colour[k].get<float>());
        material["emissiveFactor"] = shines;
    }
    if (m.alphaMask) {
        material["alphaMode"] = "MASK";
        material["alphaCutoff"] = m.alphaCutoff;
    }
    if (m.doubleSided) material["doubleSided"] = true;
    return shared("materials", material);
}

int GlbBuilder::addMesh(const shape::Mesh& mesh, const std::string& name, const base::Vec3& tint) {
    std::vector<int> materials;
    for (const shape::Material& material : mesh.materials) materials.push_back(addMaterial(material, mesh, tint));
    Json attributes;
    attributes["POSITION"] = addPositions(mesh);
    attributes["NORMAL"] = addColumn(mesh.normals, "VEC3");
    if (!mesh.texture.empty()) attributes["TEXCOORD_0"] = addColumn(mesh.texture, "VEC2");
    const int indexView = addView(bytesOf(mesh.indices), kIndices);
    Json primitives = Json::array();
    for (const shape::Submesh& part : mesh.submeshes) {
        Json accessor = {{"bufferView", indexView},
                         {"byteOffset", part.firstIndex * 4},
                         {"componentType", kUnsignedInt},
                         {"count", part.indexCount},
                         {"type", "SCALAR"}};
        if (part.firstIndex == 0) accessor.erase("byteOffset");
        primitives.push_back({{"attributes", attributes},
                              {"indices", shared("accessors", accessor)},
                              {"material", materials.at(part.material)}});
    }
    return shared("meshes", {{"name", name}, {"primitives", primitives}});
}

std::string GlbBuilder::finishBinary() {
    if (!binary_.empty()) root_["buffers"] = Json::array({{{"byteLength", binary_.size()}}});
    std::string json = toText(root_);
    padTo4(json, ' ');
    padTo4(binary_, '\0');
    std::string out;
    auto word = [&](std::size_t value) {
        const auto v = static_cast<std::uint32_t>(value);
        out.append(reinterpret_cast<const char*>(&v), 4);
    };
    const std::size_t total = 12 + 8 + json.size() + (binary_.empty() ? 0 : 8 + binary_.size());
    out.reserve(total);
    out += "glTF";
    word(2);
    word(total);
    word(json.size());
    out += "JSON";
    out += json;
    if (!binary_.empty()) {
        word(binary_.size());
        out.append("BIN\0", 4);
        out += binary_;
    }
    return out;
}

std::string GlbBuilder::finishText(const std::string& stem) {
    if (!binary_.empty()) {
        std::string uri;  // RFC 3986
        for (const char c : stem)
            uri += std::isalnum(static_cast<unsigned char>(c)) != 0 ||
                           std::string_view("-._~").find(c) != std::string_view::npos
                       ? std::string(1, c)
                       : fmt::format("%{:02X}", static_cast<unsigned char>(c));
        root_["buffers"] = Json::array({{{"byteLength", binary_.size()}, {"uri", uri + ".bin"}}});
        beside_.push_back({stem + ".bin", std::move(binary_)});
        binary_.clear();
    }
    return toText(root_, 1) + "\n";
}

}  // namespace io
