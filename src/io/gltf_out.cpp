#include "io/gltf_out.h"
#include "io/scene_file.h"

#include <cmath>
#include <cstring>
#include <unordered_map>

#include "io/json_text.h"
#include "model/facets/array.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/solid.h"
#include "model/facets/tint.h"
#include "model/value_json.h"

namespace io {
namespace {

constexpr int kFloat = 5126, kUnsignedInt = 5125, kVertices = 34962, kIndices = 34963;

/// Collects a document and its one binary chunk.
class GlbBuilder {
  public:
    GlbBuilder() { root_["asset"] = {{"version", "2.0"}, {"generator", "Mellow Lattice"}}; }

    Json& root() { return root_; }
    int append(const char* list, Json value) {
        Json& all = root_[list];
        all.push_back(std::move(value));
        return static_cast<int>(all.size()) - 1;
    }
    /// The mesh's index in "meshes".
    int addMesh(const shape::Mesh& mesh, const std::string& name) {
        std::vector<int> materials;
        for (const shape::Material& material : mesh.materials) materials.push_back(addMaterial(material, mesh));
        Json attributes;
        attributes["POSITION"] = addPositions(mesh);
        attributes["NORMAL"] = addColumn(mesh.normals, "VEC3");
        if (!mesh.texture.empty()) attributes["TEXCOORD_0"] = addColumn(mesh.texture, "VEC2");
        const int indexView =
            addView({reinterpret_cast<const char*>(mesh.indices.data()), mesh.indices.size() * 4}, kIndices);
        Json primitives = Json::array();
        for (const shape::Submesh& part : mesh.submeshes) {
            Json accessor = {{"bufferView", indexView},
                             {"byteOffset", part.firstIndex * 4},
                             {"componentType", kUnsignedInt},
                             {"count", part.indexCount},
                             {"type", "SCALAR"}};
            if (part.firstIndex == 0) accessor.erase("byteOffset");
            primitives.push_back({{"attributes", attributes},
                                  {"indices", append("accessors", accessor)},
                                  {"material", materials.at(part.material)}});
        }
        return append("meshes", {{"name", name}, {"primitives", primitives}});
    }
    std::string finish() {
        if (!binary_.empty()) root_["buffers"] = Json::array({{{"byteLength", binary_.size()}}});
        std::string json = toText(root_);
        json.resize((json.size() + 3) / 4 * 4, ' ');
        binary_.resize((binary_.size() + 3) / 4 * 4, '\0');
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

  private:
    int addView(std::string_view bytes, int target) {
        binary_.resize((binary_.size() + 3) / 4 * 4, '\0');
        Json view = {{"buffer", 0}, {"byteOffset", binary_.size()}, {"byteLength", bytes.size()}};
        if (target != 0) view["target"] = target;
        binary_ += bytes;
        return append("bufferViews", view);
    }
    template <std::size_t N>
    int addColumn(const std::vector<std::array<float, N>>& column, const char* type) {
        const int view =
            addView({reinterpret_cast<const char*>(column.data()), column.size() * sizeof(column[0])}, kVertices);
        return append("accessors",
                      {{"bufferView", view}, {"componentType", kFloat}, {"count", column.size()}, {"type", type}});
    }
    int addPositions(const shape::Mesh& mesh) {
        const int accessor = addColumn(mesh.positions, "VEC3");
        shape::Float3 low = mesh.positions.front(), high = low;
        for (const auto& p : mesh.positions)
            for (std::size_t i = 0; i < 3; ++i) {
                low[i] = std::min(low[i], p[i]);
                high[i] = std::max(high[i], p[i]);
            }
        root_["accessors"][static_cast<std::size_t>(accessor)]["min"] = low;
        root_["accessors"][static_cast<std::size_t>(accessor)]["max"] = high;
        return accessor;
    }
    int addMaterial(const shape::Material& m, const shape::Mesh& mesh) {
        Json pbr = {{"baseColorFactor", m.baseColour}, {"metallicFactor", 0.0}, {"roughnessFactor", 0.9}};
        if (m.image >= 0) {
            const shape::Image& image = mesh.images[static_cast<std::size_t>(m.image)];
            const int source =
                append("images", {{"mimeType", image.mimeType}, {"bufferView", addView(image.bytes, 0)}});
            pbr["baseColorTexture"] = {{"index", append("textures", {{"source", source}})}};
        }
        Json material;
        if (!m.name.empty()) material["name"] = m.name;
        material["pbrMetallicRoughness"] = pbr;
        if (m.emission > 0)
            material["emissiveFactor"] = {m.emission * m.baseColour[0], m.emission * m.baseColour[1],
                                          m.emission * m.baseColour[2]};
        if (m.alphaMask) {
            material["alphaMode"] = "MASK";
            material["alphaCutoff"] = m.alphaCutoff;
        }
        if (m.doubleSided) material["doubleSided"] = true;
        return append("materials", material);
    }

    Json root_;
    std::string binary_;
};

Json poseJson(const base::Transform& t) {
    Json pose = Json::object();
    if (t.position != base::Vec3(0.0)) pose["translation"] = toJson(t.position);
    if (t.rotation != base::Quat(1, 0, 0, 0))
        pose["rotation"] = {t.rotation.x, t.rotation.y, t.rotation.z, t.rotation.w};
    if (t.scale != base::Vec3(1.0)) pose["scale"] = toJson(t.scale);
    return pose;
}

/// Nodes of one scene, children after their parents.
class SceneExporter {
  public:
    SceneExporter(const model::Scene& scene, const MeshSource& meshOf) : scene_(scene), meshOf_(meshOf) {}

    ExportedScene run() {
        Json roots = Json::array();
        for (model::Slot s = scene_.firstChild(model::kNoSlot); s != model::kNoSlot; s = scene_.nextSibling(s))
            roots.push_back(addTree(s));
        roots.push_back(addSun());
        Json& root = glb_.root();
        root["scene"] = 0;
        root["scenes"] = Json::array({{{"name", scene_.name()}, {"nodes", roots}}});
        root["nodes"] = std::move(nodes_);
        root["extensionsUsed"] = {"KHR_lights_punctual"};
        root["extensions"] = {{"KHR_lights_punctual", {{"lights", std::move(lights_)}}}};
        return {glb_.finish(), std::move(lost_)};
    }

  private:
    std::size_t addTree(model::Slot top) {
        std::unordered_map<model::Slot, std::size_t> nodeOf;
        for (model::Slot s : scene_.subtree(top)) {
            const std::size_t index = nodes_.size();
            nodeOf[s] = index;
            nodes_.push_back(node(s));
            if (s != top) nodes_[nodeOf[scene_.parent(s)]]["children"].push_back(index);
        }
        return nodeOf[top];
    }
    Json node(model::Slot s) {
        Json n;
        n["name"] = std::string(scene_.nameText(s));
        n.update(poseJson(scene_.local(s)));
        if (int mesh = meshIndex(scene_.item(s)); mesh >= 0) n["mesh"] = mesh;
        Json own = {{"id", base::toText(scene_.id(s))}};
        if (!scene_.kindText(s).empty()) own["kind"] = std::string(scene_.kindText(s));
        if (!scene_.itemText(s).empty()) own["item"] = std::string(scene_.itemText(s));
        for (const auto& [bit, name] : model::flags::kNames)
            if ((scene_.flagsOf(s) & bit) != 0) own[std::string(name)] = true;
        if (const auto& detail = scene_.detail(s)) addDetail(*detail, n, own);
        n["extras"] = {{"mellow", std::move(own)}};
        return n;
    }
    void addDetail(const model::Detail& detail, Json& n, Json& own) {
        if (const auto* solid = detail.get<model::Solid>()) own["solid"] = toJson({model::solidFacts(*solid)});
        if (detail.get<model::Light>())
            n["extensions"] = {{"KHR_lights_punctual", {{"light", addLight(*detail.get<model::Light>())}}}};
        if (detail.get<model::Camera>()) {
            const double far =
                std::max(detail.get<model::Camera>()->farMetres, detail.get<model::Camera>()->nearMetres * 1.001);
            n["camera"] =
                glb_.append("cameras", {{"type", "perspective"},
                                        {"perspective",
                                         {{"yfov", base::radians(detail.get<model::Camera>()->verticalDegrees)},
                                          {"znear", detail.get<model::Camera>()->nearMetres},
                                          {"zfar", far}}}});
        }
        for (const model::FacetType* type : model::facetTypes()) {
            const void* facet = detail.facets.find(*type);
            if (facet == nullptr || type == &model::Light::type() || type == &model::Camera::type()) continue;
            std::string member;
            appendFacet(member, *type, facet);
            own.update(Json::parse("{" + member.substr(1) + "}"));
        }
        auto values = [&](std::string_view key, const model::ValueMap& map) {
            std::string text;
            appendJson(text, map);
            own[std::string(key)] = Json::parse(text);
        };
        if (!detail.properties.empty()) values("properties", detail.properties);
        if (!detail.unknownKeys.empty()) own["unknown"] = Json::parse("{" + detail.unknownKeys + "}");
    }
    std::size_t addLight(const model::Light& light) {
        const bool spot = light.shape == model::Light::Shape::Spot;
        Json l = {{"type", spot ? "spot" : "point"},
                  {"color", toJson(glm::clamp(light.colour, 0.0, 1.0))},
                  {"intensity", light.intensity}};
        if (light.reachMetres > 0) l["range"] = light.reachMetres;
        if (spot) {
            const double outer = glm::clamp(base::radians(light.outerDegrees), 0.001, base::kPi / 2);
            l["spot"] = {{"innerConeAngle", std::min(base::radians(light.innerDegrees), outer - 0.0005)},
                         {"outerConeAngle", outer}};
        }
        lights_.push_back(l);
        return lights_.size() - 1;
    }
    /// The sun shines along its node's -Z.
    std::size_t addSun() {
        const model::SceneSettings& s = scene_.settings();
        lights_.push_back({{"type", "directional"},
                           {"name", "Sun"},
                           {"color", toJson(glm::clamp(s.sunColour, 0.0, 1.0))},
                           {"intensity", s.sunStrength}});
        base::Transform pose;
        const base::Vec3 direction = glm::normalize(s.sunDirection);
        const base::Vec3 up = std::abs(direction.y) > 0.99 ? base::Vec3(1, 0, 0) : base::Vec3(0, 1, 0);
        pose.rotation = glm::normalize(glm::quatLookAt(direction, up));
        Json n = {{"name", "Sun"}};
        n.update(poseJson(pose));
        n["extensions"] = {{"KHR_lights_punctual", {{"light", lights_.size() - 1}}}};
        nodes_.push_back(n);
        return nodes_.size() - 1;
    }
    int meshIndex(base::Name item) {
        if (!item) return -1;
        auto [place, isNew] = meshes_.try_emplace(item, -1);
        if (!isNew) return place->second;
        const shape::Mesh* mesh = meshOf_(item);
        const std::string name(scene_.names().text(item));
        if (mesh != nullptr && !mesh->submeshes.empty())
            place->second = glb_.addMesh(*mesh, name);
        else
            lost_.push_back("The model of item “" + name +
                            "” could not be read, so its objects are exported without a mesh.");
        return place->second;
    }

    const model::Scene& scene_;
    const MeshSource& meshOf_;
    GlbBuilder glb_;
    Json nodes_ = Json::array();
    Json lights_ = Json::array();
    std::unordered_map<base::Name, int> meshes_;
    std::vector<std::string> lost_;
};

}  // namespace

std::string glbOf(const shape::Mesh& mesh, const std::string& name) {
    GlbBuilder glb;
    const int index = glb.addMesh(mesh, name);
    glb.root()["nodes"] = Json::array({{{"name", name}, {"mesh", index}}});
    glb.root()["scenes"] = Json::array({{{"nodes", {0}}}});
    glb.root()["scene"] = 0;
    return glb.finish();
}

ExportedScene exportScene(const model::Scene& scene, const MeshSource& meshOf) {
    return SceneExporter(scene, meshOf).run();
}

}  // namespace io
