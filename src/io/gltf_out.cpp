#include "io/gltf_out.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <unordered_map>
#include <unordered_set>

#include "base/files.h"
#include "io/added.h"
#include "io/json_text.h"
#include "io/names.h"
#include "io/scene_file.h"
#include "io/wardrobe.h"
#include "io/workspace.h"
#include "model/facets/act.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/solid.h"
#include "model/scene_fields.h"
#include "model/value_json.h"

namespace io {
namespace {

using model::Slot;

Json poseJson(const base::Transform& t) {
    Json pose = Json::object();
    if (t.position != base::Vec3(0.0)) pose["translation"] = toJson(t.position);
    if (t.rotation != base::Quat(1, 0, 0, 0)) {
        const base::Quat q = glm::normalize(t.rotation);
        pose["rotation"] = {q.x, q.y, q.z, q.w};
    }
    if (t.scale != base::Vec3(1.0)) pose["scale"] = toJson(t.scale);
    return pose;
}

/// Of what hangs below something sheared.
Json matrixJson(const base::Affine& a) {
    Json m = Json::array();
    for (int c = 0; c < 3; ++c) {
        for (int r = 0; r < 3; ++r) m.push_back(a.linear[c][r]);
        m.push_back(0.0);
    }
    for (int r = 0; r < 3; ++r) m.push_back(a.translation[r]);
    m.push_back(1.0);
    return {{"matrix", m}};
}

/// "3 objects".
std::string countOf(std::size_t n, const char* one, const char* many) {
    return fmt::format("{} {}", n, n == 1 ? one : many);
}

class SceneExporter {
  public:
    SceneExporter(const ExportSource& source, const ExportOptions& options)
        : scene_(source.scene),
          options_(options),
          glb_(options.asText && options.imagesBeside),
          wardrobe_(source, options.states) {}

    ExportedScene run() {
        Json roots = Json::array();
        if (options_.only.empty()) {
            addChildren(model::kNoSlot, roots);
            roots.push_back(addSun());
        } else {
            for (const Slot s : tops())
                if (isIn(s)) roots.push_back(addTree(s, true));
        }
        Json& root = glb_.root();
        root["scene"] = 0;
        Json scene = {{"name", scene_.name()}};
        if (!roots.empty()) scene["nodes"] = roots;
        if (options_.extras && options_.only.empty()) scene["extras"] = {{"mellow", settings()}};
        root["scenes"] = Json::array({scene});
        if (!nodes_.empty()) root["nodes"] = std::move(nodes_);
        if (!lights_.empty()) {
            glb_.use("KHR_lights_punctual", false);
            root["extensions"] = {{"KHR_lights_punctual", {{"lights", std::move(lights_)}}}};
        }
        ExportedScene done;
        done.objects = objects_;
        done.meshes = countIn("meshes");
        done.materials = countIn("materials");
        done.bytes = options_.asText ? glb_.finishText(options_.stem) : glb_.finishBinary();
        done.beside = glb_.takeBeside();
        done.lost = report();
        return done;
    }

  private:
    std::size_t countIn(const char* list) { return glb_.root().contains(list) ? glb_.root()[list].size() : 0; }

    /// The outermost of what was asked for.
    std::vector<Slot> tops() const {
        std::set<Slot> asked;
        for (const base::ObjectId id : options_.only)
            if (const Slot s = scene_.find(id); s != model::kNoSlot) asked.insert(s);
        std::vector<Slot> result;
        for (const Slot s : asked) {
            Slot above = scene_.parent(s);
            while (above != model::kNoSlot && !asked.contains(above)) above = scene_.parent(above);
            if (above == model::kNoSlot) result.push_back(s);
        }
        return result;
    }
    /// With all below it, it is left out when not.
    bool isIn(Slot s) const {
        const std::uint8_t flags = scene_.flagsOf(s);
        if (!options_.hidden && (flags & model::flags::kHidden) != 0) return false;
        if (options_.absent) return true;
        const auto* acts = scene_.facet<model::InActs>(s);
        return (flags & model::flags::kAbsent) == 0 &&
               (acts == nullptr || model::isThere(acts->all, [&](base::ObjectId act) { return begins(act); }));
    }
    bool begins(base::ObjectId act) const {
        const Slot s = scene_.find(act);
        const auto* is = s != model::kNoSlot ? scene_.facet<model::Act>(s) : nullptr;
        return is != nullptr && is->begins;
    }

    // The tree.
    void addChildren(Slot parent, Json& into) {
        std::map<int, std::vector<Slot>> alike;  // by mesh
        for (Slot s = scene_.firstChild(parent); s != model::kNoSlot; s = scene_.nextSibling(s)) {
            if (!isIn(s)) continue;
            if (const int mesh = options_.instances && isBare(s) ? meshOf(s) : -1; mesh >= 0)
                alike[mesh].push_back(s);
            else
                into.push_back(addTree(s, false));
        }
        for (const auto& [mesh, slots] : alike) {
            if (slots.size() > 1)
                into.push_back(addInstances(mesh, slots));
            else
                into.push_back(addTree(slots.front(), false));
        }
    }
    std::size_t addTree(Slot s, bool isTop) {
        const std::size_t index = nodes_.size();
        nodes_.push_back(node(s, isTop));
        ++objects_;
        Json children = Json::array();
        addChildren(s, children);
        if (!children.empty()) nodes_[index]["children"] = std::move(children);
        return index;
    }
    Json node(Slot s, bool isTop) {
        Json n;
        n["name"] = std::string(scene_.nameText(s));
        if (isTop && scene_.parent(s) != model::kNoSlot)
            n.update(base::hasShear(scene_.world(s)) ? matrixJson(scene_.world(s))
                                                     : poseJson(base::toTransform(scene_.world(s))));
        else
            n.update(poseJson(scene_.local(s)));
        if (const int mesh = meshOf(s); mesh >= 0) n["mesh"] = mesh;
        if (const auto& detail = scene_.detail(s)) addDevices(*detail, n);
        if (options_.extras) n["extras"] = {{"mellow", own(s)}};
        return n;
    }

    // EXT_mesh_gpu_instancing: https://github.com/KhronosGroup/glTF, extensions/2.0/Vendor.
    /// Nothing but a mesh at a place.
    bool isBare(Slot s) const {
        const auto& detail = scene_.detail(s);
        return scene_.firstChild(s) == model::kNoSlot &&
               !(detail && (detail->get<model::Light>() || detail->get<model::Camera>()));
    }
    std::size_t addInstances(int mesh, const std::vector<Slot>& slots) {
        std::vector<float> places, turns, sizes;
        Json each = Json::array();
        const auto add = [](std::vector<float>& to, double value) { to.push_back(static_cast<float>(value)); };
        for (const Slot s : slots) {
            const base::Transform& t = scene_.local(s);
            const base::Quat q = glm::normalize(t.rotation);
            for (int k = 0; k < 3; ++k) add(places, t.position[k]);
            for (const double part : {q.x, q.y, q.z, q.w}) add(turns, part);
            for (int k = 0; k < 3; ++k) add(sizes, t.scale[k]);
            Json one = own(s);
            one["name"] = std::string(scene_.nameText(s));
            each.push_back(std::move(one));
        }
        const std::size_t n = slots.size();
        Json node = {{"name", std::string(scene_.nameText(slots.front()))}, {"mesh", mesh}};
        node["extensions"] = {{"EXT_mesh_gpu_instancing",
                               {{"attributes",
                                 {{"TRANSLATION", glb_.addRows(places, n, "VEC3")},
                                  {"ROTATION", glb_.addRows(turns, n, "VEC4")},
                                  {"SCALE", glb_.addRows(sizes, n, "VEC3")}}}}}};
        if (options_.extras) node["extras"] = {{"mellow", {{"instances", std::move(each)}}}};
        glb_.use("EXT_mesh_gpu_instancing", true);
        objects_ += n;
        instanced_ += n;
        nodes_.push_back(std::move(node));
        return nodes_.size() - 1;
    }

    /// The node's mesh, as it looks; -1: none.
    int meshOf(Slot s) {
        if (const auto held = meshOf_.find(s); held != meshOf_.end()) return held->second;
        const int mesh = addMesh(s);
        if (options_.instances) meshOf_[s] = mesh;
        return mesh;
    }
    int addMesh(Slot s) {
        const auto worn = wardrobe_.of(s);
        if (!worn) return -1;
        const auto [place, isNew] = meshes_.try_emplace(worn->key, -1);
        if (isNew) {
            const bool isSolid = scene_.facet<model::Solid>(s) != nullptr;
            place->second =
                glb_.addMesh(*worn->mesh, isSolid ? std::string(scene_.nameText(s)) : worn->item, worn->tint);
        }
        return place->second;
    }

    // Lights, cameras.
    void addDevices(const model::Detail& detail, Json& n) {
        if (const auto* light = detail.get<model::Light>())
            n["extensions"] = {{"KHR_lights_punctual", {{"light", addLight(*light)}}}};
        if (const auto* camera = detail.get<model::Camera>()) {
            const double far = std::max(camera->farMetres, camera->nearMetres * 1.001);
            n["camera"] = glb_.append(
                "cameras",
                {{"type", "perspective"},
                 {"perspective",
                  {{"yfov", base::radians(camera->verticalDegrees)}, {"znear", camera->nearMetres}, {"zfar", far}}}});
        }
    }
    std::size_t lightIndex(const Json& light) {
        const auto held = std::find(lights_.begin(), lights_.end(), light);
        if (held != lights_.end()) return static_cast<std::size_t>(held - lights_.begin());
        lights_.push_back(light);
        return lights_.size() - 1;
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
        return lightIndex(l);
    }
    /// The sun shines along its node's -Z.
    std::size_t addSun() {
        model::SceneSettings s = scene_.settings();
        if (wardrobe_.guise() != nullptr) s = model::inGuise(s, *wardrobe_.guise());
        const std::size_t light = lightIndex({{"type", "directional"},
                                              {"name", "Sun"},
                                              {"color", toJson(glm::clamp(s.sunColour, 0.0, 1.0))},
                                              {"intensity", s.sunStrength}});
        base::Transform pose;
        const base::Vec3 direction = glm::normalize(s.sunDirection);
        const base::Vec3 up = std::abs(direction.y) > 0.99 ? base::Vec3(1, 0, 0) : base::Vec3(0, 1, 0);
        pose.rotation = glm::normalize(glm::quatLookAt(direction, up));
        Json n = {{"name", "Sun"}};
        n.update(poseJson(pose));
        n["extensions"] = {{"KHR_lights_punctual", {{"light", light}}}};
        nodes_.push_back(n);
        return nodes_.size() - 1;
    }

    // What glTF has no word for.
    Json own(Slot s) {
        Json own = {{"id", base::toText(scene_.id(s))}};
        if (!scene_.kindText(s).empty()) own["kind"] = std::string(scene_.kindText(s));
        if (!scene_.itemText(s).empty()) own["item"] = std::string(scene_.itemText(s));
        for (const auto& [bit, name] : model::flags::kNames)
            if ((scene_.flagsOf(s) & bit) != 0) own[std::string(name)] = true;
        if (const auto& detail = scene_.detail(s)) addFacets(*detail, own);
        return own;
    }
    void addFacets(const model::Detail& detail, Json& own) {
        if (const auto* solid = detail.get<model::Solid>()) own["solid"] = toJson({model::solidFacts(*solid)});
        for (const model::FacetType* type : model::facetTypes()) {
            const void* facet = detail.facets.find(*type);
            if (facet == nullptr || type == &model::Light::type() || type == &model::Camera::type()) continue;
            ++inExtras_[type->label];
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
    Json settings() const {
        Json all = Json::object();
        const model::SceneSettings& s = scene_.settings();
        for (const model::Member& member : model::sceneFields().members)
            if (const auto value = member.get(&s); value && !model::isUsual(member, &s))
                all[member.property.name] = toJson(*value);
        return all;
    }

    std::vector<std::string> report() const {
        std::vector<std::string> all = wardrobe_.report();
        if (instanced_ > 0)
            all.push_back(fmt::format("Instances have no names of their own but in extras: {}.",
                                      countOf(instanced_, "object", "objects")));
        if (scene_.settings().hazeMetres > 0 && options_.only.empty())
            all.emplace_back(
                "Haze, sky and ground colours stand in the scene’s extras: other programs do not show them.");
        if (!inExtras_.empty()) {
            std::string list;
            for (const auto& [label, n] : inExtras_)
                list += fmt::format("{}{} ({})", list.empty() ? "" : ", ", label, n);
            all.push_back("In extras only, which other programs have to know: " + list + ".");
        }
        return all;
    }

    const model::Scene& scene_;
    const ExportOptions& options_;
    GlbBuilder glb_;
    Wardrobe wardrobe_;
    Json nodes_ = Json::array();
    Json lights_ = Json::array();
    std::unordered_map<std::string, int> meshes_;  // by item and look
    std::unordered_map<Slot, int> meshOf_;
    std::map<std::string, std::size_t> inExtras_;
    std::size_t objects_ = 0, instanced_ = 0;
};

}  // namespace

std::string glbOf(const shape::Mesh& mesh, const std::string& name) {
    GlbBuilder glb;
    const int index = glb.addMesh(mesh, name);
    glb.root()["nodes"] = Json::array({{{"name", name}, {"mesh", index}}});
    glb.root()["scenes"] = Json::array({{{"nodes", {0}}}});
    glb.root()["scene"] = 0;
    return glb.finishBinary();
}

ExportSource sourceOf(const Workspace& workspace, const model::Scene& scene) {
    return {scene, workspace.session->library(), [&workspace](base::Name item) { return workspace.mesh(item); },
            [&workspace](const std::string& name) -> Result<std::string> {
                auto file = projectFile(workspace.folder(), "media/" + name);
                if (!file) return tl::unexpected(file.error());
                return base::readFile(*file, base::most::kTable);
            }};
}

Status writeExported(const std::filesystem::path& file, const ExportedScene& exported, bool over) {
    const auto place = [&](const FileBeside& one) { return file.parent_path() / one.name; };
    for (const FileBeside& one : exported.beside)
        if (!over && base::exists(place(one)))
            return fail(ErrorCode::Refused, fmt::format("{}: is there already, and belongs to what would be written.",
                                                        place(one).string()));
    for (const FileBeside& one : exported.beside) {
        std::error_code problem;
        std::filesystem::create_directories(place(one).parent_path(), problem);
        if (Status written = base::writeFileWhole(place(one), one.bytes); !written) return written;
    }
    return base::writeFileWhole(file, exported.bytes);
}

ExportedScene exportScene(const ExportSource& source, const ExportOptions& options) {
    return SceneExporter(source, options).run();
}

}  // namespace io
