#include <QTemporaryDir>
#include <QtTest>
#include <cstring>
#include <map>

#include "io/gltf_in.h"
#include "io/gltf_out.h"
#include "io/import_scene.h"
#include "model/facets/surfaces.h"
#include "model/facets/tint.h"
#include "support/test_main.h"
#include "support/test_project.h"

namespace gltf_whole_test {

namespace fs = std::filesystem;
using io::Json;
using model::Slot;

/// The document in a .glb.
Json documentOf(const std::string& bytes) {
    std::uint32_t size = 0;
    std::memcpy(&size, bytes.data() + 12, 4);
    return Json::parse(bytes.substr(20, size));
}

const Json& nodeNamed(const Json& document, const std::string& name) {
    for (const Json& node : document["nodes"])
        if (node.value("name", "") == name) return node;
    throw std::runtime_error("no node " + name);
}

std::vector<const Json*> materialsOf(const Json& document, const Json& node) {
    std::vector<const Json*> all;
    for (const Json& primitive : document["meshes"][node["mesh"].get<std::size_t>()]["primitives"])
        all.push_back(&document["materials"][primitive["material"].get<std::size_t>()]);
    return all;
}

/// Of every object with a mesh: its name, the names it lies below, and the corners of its box in the world.
std::multimap<std::string, base::Aabb> boxesOf(const model::Scene& scene) {
    std::multimap<std::string, base::Aabb> boxes;
    for (const Slot s : scene.subtree(model::kNoSlot)) {
        std::string path;
        for (Slot up = s; up != model::kNoSlot; up = scene.parent(up))
            path = "/" + std::string(scene.nameText(up)) + path;
        boxes.emplace(path, scene.bounds(s));
    }
    return boxes;
}

/// A bench of its own for a test, with what it looks like.
base::ObjectId addBench(edit::Session& session, const std::string& name, const std::string& surface, base::Vec3 tint) {
    edit::Draft draft(session, "lower-basin", "Add " + name);
    model::ObjectRecord r;
    r.id = session.random().nextId();
    r.name = session.intern(name);
    r.item = session.intern("bench");
    auto detail = std::make_shared<model::Detail>();
    if (!surface.empty())
        for (const std::string& slot : session.library().item(r.item)->slots) {
            model::SlotSurface& shows = detail->edit<model::Surfaces>().slots.emplace_back();
            shows.slot = slot;
            shows.surface = surface;
        }
    if (tint != base::Vec3(1.0)) detail->edit<model::Tint>().colour = tint;
    r.detail = detail;
    const model::ObjectRecord all[] = {r};
    if (!draft.create(all) || !draft.commit()) qFatal("no bench");
    return r.id;
}

class GltfWholeTest : public QObject {
    Q_OBJECT
    std::unique_ptr<test::DemoCopy> demo_;
    std::unique_ptr<io::Workspace> workspace_;
    QTemporaryDir out_;

    edit::Session& session() { return *workspace_->session; }
    const model::Scene& basin() { return **session().scene("lower-basin"); }
    io::ExportedScene exported(const io::ExportOptions& options = {}) {
        return io::exportScene(io::sourceOf(*workspace_, basin()), options);
    }
    Slot objectNamed(std::string_view name) {
        for (const Slot s : basin().subtree(model::kNoSlot))
            if (basin().nameText(s) == name) return s;
        return model::kNoSlot;
    }
    base::ObjectId addBench(const std::string& name, const std::string& surface, base::Vec3 tint) {
        return gltf_whole_test::addBench(session(), name, surface, tint);
    }
    fs::path put(const io::ExportedScene& scene, const char* name) {
        const fs::path file = fs::path(out_.path().toStdString()) / name;
        if (!io::writeExported(file, scene, true)) qFatal("not written");
        return file;
    }
    io::ImportedScene takenIn(const fs::path& file) {
        edit::Draft draft(session(), std::string(model::data::kAdded), "Import");
        auto scene = io::importScene(*workspace_, draft, file);
        if (!scene || !draft.commit()) qFatal("%s", scene ? "no step" : scene.error().message.c_str());
        return *scene;
    }

  private Q_SLOTS:
    void init() {
        demo_ = std::make_unique<test::DemoCopy>();
        workspace_ = *io::openWorkspace(demo_->folder(), io::OpenMode::Edit, test::chance());
    }
    void cleanup() { workspace_.reset(); }

    void aBrassRedBenchComesOutBrassAndRed() {
        addBench("Show bench", "brass", {0.9, 0.1, 0.05});
        const Json document = documentOf(exported().bytes);
        const auto materials = materialsOf(document, nodeNamed(document, "Show bench"));
        QVERIFY(!materials.empty());
        const model::Surface& brass = session().library().surfaces().at("brass");
        for (const Json* material : materials) {
            QCOMPARE((*material)["name"].get<std::string>(), "brass");
            const Json& pbr = (*material)["pbrMetallicRoughness"];
            const base::Vec3 red = brass.colour * base::Vec3(0.9, 0.1, 0.05);
            for (std::size_t k = 0; k < 3; ++k)
                QVERIFY(std::abs(pbr["baseColorFactor"][k].get<double>() - red[int(k)]) < 1e-5);
            QVERIFY(std::abs(pbr["roughnessFactor"].get<double>() - brass.roughness) < 1e-5);
        }
    }
    void whatIsEqualIsThereOnce() {
        const std::size_t meshes = exported().meshes, materials = exported().materials;
        addBench("First", "brass", {1, 0, 0});
        addBench("Second", "brass", {1, 0, 0});
        const auto twice = exported();
        QCOMPARE(twice.meshes, meshes + 1);
        QVERIFY(twice.materials <= materials + 1);
        addBench("Third", "brass", {0, 1, 0});
        const auto other = exported();
        QCOMPARE(other.meshes, meshes + 2);  // other colours, the same corners
        const Json document = documentOf(other.bytes);
        const auto places = [&](const char* name) {
            return document["meshes"][nodeNamed(document, name)["mesh"].get<std::size_t>()]["primitives"][0]
                           ["attributes"];
        };
        QVERIFY(places("First") == places("Third"));
        QCOMPARE(nodeNamed(document, "First")["mesh"], nodeNamed(document, "Second")["mesh"]);
    }
    void anImageOnASlotIsInTheFileOrBesideIt() {
        addBench("Cloth bench", "heron-cloth", base::Vec3(1.0));
        const auto inside = exported();
        const Json document = documentOf(inside.bytes);
        const Json& pbr = (*materialsOf(document, nodeNamed(document, "Cloth bench"))[0])["pbrMetallicRoughness"];
        QVERIFY(pbr.contains("baseColorTexture"));
        io::ExportOptions options;
        options.asText = options.imagesBeside = true;
        options.stem = "level one";
        const auto beside = exported(options);
        const fs::path file = put(beside, "level one.gltf");
        QVERIFY(fs::exists(file.parent_path() / "level one.bin"));
        const Json text = Json::parse(beside.bytes);
        QVERIFY(text["images"].size() > 0);
        for (const Json& image : text["images"])
            QVERIFY(fs::exists(file.parent_path() / image["uri"].get<std::string>()));
        const auto back = io::readModel(file), whole = io::readModel(put(inside, "whole.glb"));
        QVERIFY2(back.has_value(), back ? "" : back.error().message.c_str());
        QCOMPARE(back->mesh.triangleCount(), whole->mesh.triangleCount());
        QCOMPARE(back->mesh.images.size(), whole->mesh.images.size());
    }
    void itComesBackWithNamesTreePosesBoundsAndMaterials() {
        io::ExportOptions options;
        options.states = false;
        const auto out = exported(options);
        auto before = boxesOf(basin());
        const io::ImportedScene back = takenIn(put(out, "back.glb"));
        const model::Scene& scene = **session().scene(back.scene);
        auto after = boxesOf(scene);
        after.erase("/Sun");
        QCOMPARE(after.size(), before.size());
        for (auto a = before.cbegin(), b = after.cbegin(); a != before.cend(); ++a, ++b) {
            QCOMPARE(b->first, a->first);
            QCOMPARE(b->second.empty(), a->second.empty());
            if (a->second.empty()) continue;
            const double off =
                glm::length(a->second.low - b->second.low) + glm::length(a->second.high - b->second.high);
            QVERIFY2(off < 1e-3, fmt(a->first, off).c_str());
        }
        const auto again = io::exportScene(io::sourceOf(*workspace_, scene), options);
        std::set<std::string> first, second;
        const Json wentOut = documentOf(out.bytes), cameBack = documentOf(again.bytes);
        for (const Json& m : wentOut["materials"]) first.insert(m.dump());
        for (const Json& m : cameBack["materials"]) second.insert(m.dump());
        QVERIFY(first.size() > 10);
        for (const std::string& material : first) QVERIFY2(second.contains(material), material.c_str());
    }
    static std::string fmt(const std::string& name, double off) { return name + " is off by " + std::to_string(off); }
    void instancesComeBackAsObjectsWithTheirNames() {
        io::ExportOptions options;
        options.states = false;
        const auto single = exported(options);
        options.instances = true;
        const auto out = exported(options);
        QVERIFY(out.bytes.size() < single.bytes.size());
        const Json document = documentOf(out.bytes);
        QVERIFY(document["nodes"].size() < documentOf(single.bytes)["nodes"].size() - 50);
        QCOMPARE(document["extensionsRequired"][0].get<std::string>(), "EXT_mesh_gpu_instancing");
        auto before = boxesOf(basin());
        auto after = boxesOf(**session().scene(takenIn(put(out, "many.glb")).scene));
        after.erase("/Sun");
        QCOMPARE(after.size(), before.size());
        for (auto a = before.cbegin(), b = after.cbegin(); a != before.cend(); ++a, ++b) QCOMPARE(b->first, a->first);
        const auto flat = io::readModel(fs::path(out_.path().toStdString()) / "many.glb");
        const auto plain = io::readModel(put(single, "single.glb"));
        QVERIFY(flat.has_value() && plain.has_value());
        QCOMPARE(flat->mesh.triangleCount(), plain->mesh.triangleCount());
        QVERIFY(glm::length(flat->mesh.bounds.high - plain->mesh.bounds.high) < 1e-2);
    }
    void aPartAndWhatIsHiddenOrAbsentIsWrittenByChoice() {
        const base::ObjectId bench = addBench("Lone bench", "", base::Vec3(1.0));
        io::ExportOptions options;
        options.only = {bench};
        const auto alone = exported(options);
        QCOMPARE(alone.objects, std::size_t{1});
        QCOMPARE(documentOf(alone.bytes)["nodes"].size(), std::size_t{1});
        QVERIFY(!documentOf(alone.bytes).contains("extensionsUsed"));
        const std::size_t all = exported().objects;
        const std::uint8_t flags[] = {std::uint8_t(model::flags::kHidden | model::flags::kAbsent)};
        const base::ObjectId ids[] = {bench};
        edit::Draft draft(session(), "lower-basin", "Hide");
        QVERIFY(draft.setFlags(ids, flags) && draft.commit());
        QCOMPARE(exported().objects, all);
        io::ExportOptions seen;
        seen.hidden = false;
        QVERIFY(exported(seen).objects < all);
        io::ExportOptions there;
        there.absent = false;
        QVERIFY(exported(there).objects < all);
    }
    void aPartKeepsItsPlaceInTheWorld() {
        Slot deep = model::kNoSlot;
        for (const Slot s : basin().subtree(model::kNoSlot))
            if (basin().depth(s) >= 2 && !basin().bounds(s).empty()) deep = s;
        QVERIFY(deep != model::kNoSlot);
        io::ExportOptions options;
        options.only = {basin().id(deep)};
        options.states = false;
        const auto back = io::readModel(put(exported(options), "part.glb"));
        QVERIFY(back.has_value());
        QVERIFY(glm::length(back->mesh.bounds.low - basin().subtreeBounds(deep).low) < 1e-2);
    }
    void whatGltfCannotSayIsTold() {
        const auto out = exported();
        bool tells = false;
        for (const std::string& lost : out.lost) tells = tells || lost.find("Cues (") != std::string::npos;
        QVERIFY(tells);
        addBench("Odd bench", "no-such-surface", base::Vec3(1.0));
        const auto odd = exported();
        QVERIFY(std::any_of(odd.lost.begin(), odd.lost.end(),
                            [](const std::string& lost) { return lost.find("no-such-surface") != std::string::npos; }));
    }
};

MELLOW_TEST(GltfWholeTest)
}  // namespace gltf_whole_test
#include "gltf_whole_test.moc"
