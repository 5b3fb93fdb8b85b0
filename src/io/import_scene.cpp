#include "io/import_scene.h"

#include <fmt/format.h>

#include <cmath>

#include "base/text.h"
#include "edit/scene_list.h"
#include "io/gltf_accessor.h"
#include "io/gltf_mesh.h"
#include "io/names.h"
#include "io/project_file.h"
#include "io/scene_file.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"

namespace io {
namespace {

namespace fs = std::filesystem;

class Importer {
  public:
    Importer(Workspace& workspace, edit::Draft& draft, const tinygltf::Model& model, std::string name,
             ImportedScene& out)
        : workspace_(workspace),
          draft_(draft),
          model_(model),
          name_(std::move(name)),
          out_(out),
          mesher_(model, out.remarks) {}

    /// Throws MalformedModel.
    void run() {
        mesher_.remarkOnTheRest(true);
        NodeWalk walk(model_);
        for (int root : rootsOf(model_))
            walk.visit(
                root, [this](const tinygltf::Node& node) { enter(node); }, [this] { way_.pop_back(); });
    }
    std::vector<model::ObjectRecord> objects;
    model::SceneSettings settings;

  private:
    void enter(const tinygltf::Node& node) {
        model::ObjectRecord r = objectAt(GltfMesher::localOf(node), node.name);
        way_.push_back(r.id);
        const bool many = node.extensions.contains("EXT_mesh_gpu_instancing");
        if (node.mesh >= 0 && !many) r.item = itemOf(node.mesh);
        auto detail = std::make_shared<model::Detail>();
        addLight(node, r.local, *detail);
        addCamera(node, *detail);
        if (detail->get<model::Light>() || detail->get<model::Camera>()) r.detail = detail;
        // A node that is there only to hold instances is none of the scene's tree.
        const bool isOnlyTheirs = many && !r.detail && node.children.empty() && r.local == base::Transform{};
        if (!isOnlyTheirs) objects.push_back(std::move(r));
        if (many && node.mesh >= 0) addInstances(node, isOnlyTheirs);
    }
    void addInstances(const tinygltf::Node& node, bool besideIt) {
        const auto places = mesher_.placesOf(node);
        const base::ObjectId self = way_.back();
        if (besideIt) way_.pop_back();
        const std::vector<std::string> names = namesIn(node, places.size());
        for (std::size_t i = 0; i < places.size(); ++i) {
            model::ObjectRecord r = objectAt(places[i], names[i]);
            r.item = itemOf(node.mesh);
            objects.push_back(std::move(r));
        }
        if (besideIt) way_.push_back(self);
    }
    /// What each instance is called: as its extras say, when we wrote them.
    static std::vector<std::string> namesIn(const tinygltf::Node& node, std::size_t count) {
        std::vector<std::string> names(count, node.name);
        const tinygltf::Value* own = member(node.extras, "mellow");
        const tinygltf::Value* each = own != nullptr ? member(*own, "instances") : nullptr;
        if (each == nullptr || !each->IsArray() || each->ArrayLen() != count) return names;
        for (std::size_t i = 0; i < count; ++i)
            if (const tinygltf::Value* name = member(each->Get(static_cast<int>(i)), "name");
                name != nullptr && name->IsString())
                names[i] = name->Get<std::string>();
        return names;
    }
    model::ObjectRecord objectAt(const base::Affine& local, const std::string& called) {
        model::ObjectRecord r;
        r.id = workspace_.session->random().nextId();
        if (!way_.empty()) r.parent = way_.back();
        r.local = base::toTransform(local);
        for (int i = 0; i < 3; ++i)
            if (std::abs(r.local.scale[i]) < 1e-6) {
                mesher_.remark("A node of no size got the smallest one.");
                r.local.scale[i] = 1e-6;
            }
        if (base::hasShear(local)) mesher_.remark("A node is sheared; it got the nearest pose that is not.");
        std::string name = base::withoutControl(called).substr(0, 200);
        while (!base::isValidUtf8(name)) name.pop_back();
        r.name = workspace_.session->intern(name.empty() ? "Node" : name);
        return r;
    }

    base::Name itemOf(int mesh) {
        if (static_cast<std::size_t>(mesh) >= model_.meshes.size())
            throw MalformedModel(fmt::format("mesh {} does not exist", mesh));
        if (const auto held = items_.find(mesh); held != items_.end()) return held->second;
        shape::Mesh made;
        mesher_.begin(made);
        mesher_.add(mesh, base::Affine{}, "");
        made.bounds = shape::boundsOf(made);
        shape::dropUnused(made);
        base::Name key;
        if (!made.indices.empty()) {
            const std::string& own = model_.meshes[static_cast<std::size_t>(mesh)].name;
            const std::string name = freeItemName(workspace_, own.empty() ? name_ : own, {});
            auto item = addModel(workspace_, draft_, name, made);
            if (!item) throw MalformedModel(item.error().message);
            key = workspace_.session->intern(item->name);
            ++out_.items;
        }
        return items_[mesh] = key;
    }

    /// A member of what the library keeps as it found it; null: it is not there, or is no object.
    static const tinygltf::Value* member(const tinygltf::Value& of, const char* key) {
        return of.IsObject() && of.Has(key) ? &of.Get(key) : nullptr;
    }
    static double numberOf(const tinygltf::Value& of, const char* key, double otherwise) {
        const tinygltf::Value* value = member(of, key);
        const bool usable = value != nullptr && value->IsNumber() && std::isfinite(value->GetNumberAsDouble());
        return usable ? value->GetNumberAsDouble() : otherwise;
    }
    static base::Vec3 colourOf(const tinygltf::Value& light) {
        base::Vec3 colour(1.0);
        const tinygltf::Value* list = member(light, "color");
        for (int i = 0; list != nullptr && list->IsArray() && list->ArrayLen() == 3 && i < 3; ++i)
            if (list->Get(i).IsNumber()) colour[i] = std::clamp(list->Get(i).GetNumberAsDouble(), 0.0, 1.0);
        return colour;
    }

    /// KHR_lights_punctual.
    void addLight(const tinygltf::Node& node, const base::Transform& local, model::Detail& detail) {
        const auto own = node.extensions.find("KHR_lights_punctual");
        const auto all = model_.extensions.find("KHR_lights_punctual");
        if (own == node.extensions.end()) return;
        const double index = numberOf(own->second, "light", -1);
        const tinygltf::Value* lights = all == model_.extensions.end() ? nullptr : member(all->second, "lights");
        if (lights == nullptr || !lights->IsArray() || !(index >= 0 && index < double(lights->ArrayLen())))
            throw MalformedModel("a node has a light that does not exist");
        const tinygltf::Value& from = lights->Get(static_cast<int>(index));
        const tinygltf::Value* type = member(from, "type");
        const std::string is = type != nullptr && type->IsString() ? type->Get<std::string>() : "";
        const double strength = std::max(numberOf(from, "intensity", 1), 0.0);
        if (is == "directional") {
            settings.sunDirection = local.rotation * base::Vec3(0, 0, -1);
            settings.sunColour = colourOf(from);
            settings.sunStrength = std::min(strength, 1000.0);
            return;
        }
        if (is != "point" && is != "spot") return mesher_.remark("A light of an unknown type is left out.");
        auto& light = detail.edit<model::Light>();
        light.shape = is == "spot" ? model::Light::Shape::Spot : model::Light::Shape::Point;
        light.colour = colourOf(from);
        light.intensity = std::min(strength, 1e6);
        light.reachMetres = std::clamp(numberOf(from, "range", light.reachMetres), 0.0, 1e5);
        const tinygltf::Value* spot = member(from, "spot");
        if (spot == nullptr) return;
        light.outerDegrees = std::clamp(base::degrees(numberOf(*spot, "outerConeAngle", base::kPi / 4)), 0.1, 90.0);
        light.innerDegrees = std::clamp(base::degrees(numberOf(*spot, "innerConeAngle", 0)), 0.0, light.outerDegrees);
    }

    void addCamera(const tinygltf::Node& node, model::Detail& detail) {
        if (node.camera < 0) return;
        if (static_cast<std::size_t>(node.camera) >= model_.cameras.size())
            throw MalformedModel(fmt::format("camera {} does not exist", node.camera));
        const tinygltf::Camera& from = model_.cameras[static_cast<std::size_t>(node.camera)];
        if (from.type != "perspective") return mesher_.remark("Cameras without perspective are not read.");
        auto& camera = detail.edit<model::Camera>();
        camera.verticalDegrees = std::clamp(base::degrees(from.perspective.yfov), 1.0, 170.0);
        camera.nearMetres = std::clamp(from.perspective.znear, 0.001, 1e4);
        if (from.perspective.zfar > camera.nearMetres) camera.farMetres = std::min(from.perspective.zfar, 1e6);
    }

    Workspace& workspace_;
    edit::Draft& draft_;
    const tinygltf::Model& model_;
    std::string name_;
    ImportedScene& out_;
    GltfMesher mesher_;
    std::vector<base::ObjectId> way_;
    std::map<int, base::Name> items_;
};

}  // namespace

Result<ImportedScene> importScene(Workspace& workspace, edit::Draft& draft, const fs::path& file) {
    if (!draft.state()) return tl::unexpected(draft.state().error());
    auto model = readGltf(file, file.parent_path());
    if (!model) return tl::unexpected(model.error());
    ImportedScene out;
    out.scene = edit::freeSceneName(*workspace.session, file.stem().string());
    Importer importer(workspace, draft, *model, out.scene, out);
    try {
        importer.run();
    } catch (const MalformedModel& problem) {
        return tl::unexpected(malformedGltf(file, problem.what()));
    } catch (const std::exception&) {
        return tl::unexpected(malformedGltf(file, "there is not enough memory for it"));
    }
    edit::Session& session = *workspace.session;
    base::Progress unseen;
    model::Scene scene = edit::buildScene(out.scene, session.project().names, session.library(), importer.settings,
                                          importer.objects, unseen);
    out.objects = scene.objectCount();
    if (Status added = edit::addScene(draft, out.scene, scene); !added) return tl::unexpected(added.error());
    return out;
}

}  // namespace io
