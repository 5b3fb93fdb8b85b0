// heron-lock-make: writes the demo project, or its valley with many objects. The same bytes every time.
#include <fmt/format.h>

#include <cstdlib>
#include <filesystem>

#include "base/files.h"
#include "io/gltf_out.h"
#include "io/project_file.h"
#include "scenes.h"
#include "valley.h"

namespace {

namespace fs = std::filesystem;

model::DetailPtr facets(std::optional<model::Light> light, std::optional<model::Camera> camera,
                        std::optional<model::Note> note) {
    auto d = std::make_shared<model::Detail>();
    d->light = std::move(light);
    d->camera = std::move(camera);
    d->note = std::move(note);
    return d;
}

std::vector<model::Kind> kinds() {
    model::Light lamp;
    lamp.colour = {1.0, 0.78, 0.42};
    lamp.reachMetres = 9;
    lamp.intensity = 30;
    return {
        {"Structure", "Building", "What stands still and can be walked on.", "#a3a08b", 0.05, 100, 1, nullptr},
        {"Loose goods", "Market", "What can be picked up, pushed or carried off.", "#e0714f", 0.5, 2, 3, nullptr},
        {"Plant", "Plants", "Trees, hedges and reeds.", "#8fbf5a", 0.5, 2, 1, nullptr},
        {"Animal", "Plants", "Herons, for now.", "#b7c4cc", 0.8, 1.2, 2, nullptr},
        {"Water control", "Waterworks", "Gates, paddles and the windlasses that work them.", "#5aa9c4", 1, 1, 6,
         nullptr},
        {"Lantern", "Towpath", "Lit at dusk.", "#e0a84a", 1, 1, 3, nullptr},
        {"Lamp", "Lights", "A light without a shape of its own.", "#e9e27c", 1, 1, 2,
         facets(lamp, std::nullopt, std::nullopt)},
        {"Notice", "Towpath", "Shows an image.", "#bba3e6", 0.5, 2, 1, nullptr},
        {"Barge", "Barges", "Has a crew and a cargo.", "#5aa9c4", 1, 1, 8, nullptr},
        {"Walker start", "Required", "Where the player begins; every scene needs one.", "#93b56c", 1, 1, 0, nullptr},
        {"Finish", "Required", "Where the level ends.", "#93b56c", 1, 1, 0, nullptr},
        {"Camera", "Cameras", "A view the game can take.", "#bcb8a3", 1, 1, 0,
         facets(std::nullopt, model::Camera{}, std::nullopt)},
        {"Note", "Notes", "A remark for colleagues; the game does not see it.", "#bba3e6", 1, 1, 0,
         facets(std::nullopt, std::nullopt, model::Note{"Write here what should be remembered."})},
    };
}

bool write(const fs::path& file, const std::string& bytes) {
    fs::create_directories(file.parent_path());
    if (auto done = base::writeFileWhole(file, bytes); !done)
        return fmt::print(stderr, "{}\n", done.error().message), false;
    return true;
}

/// Leaves and reeds stop nobody; what is slender or has gaps is taken as a box.
model::CollisionShape collisionOf(const demo::DemoItem& item) {
    using model::CollisionShape;
    for (const char* soft : {"reed-clump", "awning", "heron-flying", "water-sheet"})
        if (item.name.starts_with(soft)) return CollisionShape::None;
    for (const char* plain : {"bench", "lantern-post", "pear-crate", "hedge", "notice-board"})
        if (item.name == plain) return CollisionShape::Box;
    return CollisionShape::Mesh;
}

bool makeProject(const fs::path& folder, const std::string& name, const std::string& scene, const std::string& text) {
    std::vector<demo::DemoItem> items;
    demo::addWaterworks(items);
    demo::addMarket(items);
    demo::addNature(items);
    items.push_back(demo::valleyGround());
    std::vector<io::ItemEntry> entries;
    bool fine = true;
    for (const demo::DemoItem& item : items) {
        fine = fine && write(folder / "items" / (item.name + ".glb"), io::glbOf(item.mesh, item.label));
        entries.push_back({item.name, item.label, item.category, item.kind, collisionOf(item)});
    }
    entries.push_back({"lamp", "Lamp", "Markers", "Lamp", {}});
    entries.push_back({"camera", "Camera", "Markers", "Camera", {}});
    entries.push_back({"note", "Note", "Markers", "Note", {}});
    entries.push_back({"walker-start", "Walker start", "Markers", "Walker start", {}});
    entries.push_back({"finish", "Finish", "Markers", "Finish", {}});
    for (const model::Kind& kind : kinds())
        fine = fine && write(folder / "kinds" / (kind.name + ".kind.json"), io::formatKind(kind));
    for (const demo::DemoPrefab& prefab : demo::prefabs())
        fine = fine && write(io::prefabFile(folder, prefab.name), prefab.text);
    model::Project project;
    project.name = name;
    project.firstScene = scene;
    return fine && write(folder / "project.json", io::formatProject(project, entries)) &&
           write(io::sceneFile(folder, scene), text) && write(folder / ".gitignore", ".mellow/\n");
}

}  // namespace

int main(int argc, char** argv) {
    const std::string what = argc > 1 ? argv[1] : "";
    if (what == "demo" && argc == 3)
        return makeProject(argv[2], "Heron Lock", "lower-basin", demo::lowerBasin()) ? 0 : 1;
    if (what == "many" && argc == 4) {
        const std::size_t count = std::strtoull(argv[2], nullptr, 10);
        return makeProject(argv[3], "Heron Lock, many", "valley", demo::many(count)) ? 0 : 1;
    }
    fmt::print(stderr,
               "usage: heron-lock-make demo DIR         the demo project\n       heron-lock-make many COUNT DIR   its "
               "valley with COUNT objects\n");
    return 2;
}
