// heron-lock-make: writes the demo project, or its valley with many objects. The same bytes every time.
#include <fmt/format.h>

#include <cstdlib>
#include <filesystem>

#include "base/files.h"
#include "hand/examples.h"
#include "io/gltf_out.h"
#include "io/project_file.h"
#include "picture.h"
#include "scenes.h"
#include "sounds.h"
#include "valley.h"
#include "walk.h"

namespace {

namespace fs = std::filesystem;

bool write(const fs::path& file, const std::string& bytes) {
    fs::create_directories(file.parent_path());
    if (auto done = base::writeFileWhole(file, bytes); !done)
        return fmt::print(stderr, "{}\n", done.error().message), false;
    return true;
}

/// `json` as a file of ours: with format and version in front.
std::string headed(const std::string& format, const std::string& json) {
    return fmt::format(R"({{"format":"{}","version":1,{})", format, json.substr(1));
}

/// What is read is written again, so that the file is as saving would leave it.
bool writeData(const fs::path& folder, const std::string& document, const std::string& text) {
    std::vector<io::Damage> damage;
    auto entries = io::parseData(document, text, document, damage);
    if (!entries || !damage.empty()) {
        fmt::print(stderr, "{}\n", entries ? io::toText(damage[0]) : entries.error().message);
        return false;
    }
    return write(io::dataFile(folder, document), io::formatData(document, *entries, {}));
}

bool writeKind(const fs::path& folder, const std::string& json) {
    std::vector<io::Damage> damage;
    auto kind = io::parseKind(headed("mellow-kind", json), "kind", damage);
    for (const io::Damage& d : damage) fmt::print(stderr, "{}\n", io::toText(d));
    return kind && damage.empty() &&
           writeData(folder, model::data::kindDocument(kind->name), headed("mellow-kind", json));
}

bool writeRecords(const fs::path& folder, const demo::RecordFile& file) {
    std::string type = file.type;
    std::erase(type, '\n');
    std::string text = headed("mellow-records", type) + "\n";
    for (const std::string& record : file.records) text += record + "\n";
    return writeData(folder, model::data::recordsDocument(file.name), text);
}

/// Leaves and reeds stop nobody; what has gaps is taken as a box.
model::CollisionShape collisionOf(const demo::DemoItem& item) {
    using model::CollisionShape;
    for (const char* soft : {"reed-clump", "awning", "heron-flying", "water-sheet"})
        if (item.name.starts_with(soft)) return CollisionShape::None;
    for (const char* plain : {"bench", "pear-crate", "hedge", "notice-board"})
        if (item.name == plain) return CollisionShape::Box;
    return CollisionShape::Mesh;
}

bool makeProject(const fs::path& folder, const std::string& name, const std::string& scene, const std::string& text) {
    std::vector<demo::DemoItem> items;
    demo::addWaterworks(items);
    demo::addMarket(items);
    demo::addPaving(items);
    demo::addNature(items);
    items.push_back(demo::valleyGround());
    std::vector<io::ItemEntry> entries;
    bool fine = true;
    for (const demo::DemoItem& item : items) {
        fine = fine && write(folder / "items" / (item.name + ".glb"), io::glbOf(item.mesh, item.label));
        entries.emplace_back(item.name, item.label, item.category, item.kind, collisionOf(item));
        if (item.name == "barge-hull")  // on its planks, along its length
            entries.back().berths = {{"fore", {4.2, 1.1, 0}}, {"amidships", {0.8, 1.1, 0}}, {"aft", {-3.4, 1.1, 0}}};
    }
    for (const auto& [key, label] : {std::pair{"lamp", "Lamp"},
                                     {"camera", "Camera"},
                                     {"note", "Note"},
                                     {"walker-start", "Walker start"},
                                     {"finish", "Finish"}})
        entries.emplace_back(key, label, "Markers", label);
    for (const std::string& kind : demo::kindFiles()) fine = fine && writeKind(folder, kind);
    for (const demo::RecordFile& file : demo::recordFiles()) fine = fine && writeRecords(folder, file);
    std::string surfaces = R"({"format":"mellow-surfaces","version":1})";
    for (const std::string& line : demo::surfaceLines()) surfaces += "\n" + line;
    fine = fine && writeData(folder, std::string(model::data::kSurfaces), surfaces + "\n") &&
           write(folder / "media" / "heron-cloth.png", demo::heronPoster()) &&
           write(folder / "media" / "weir.wav", demo::weirSound()) &&
           write(folder / "media" / "windlass.wav", demo::windlassSound()) &&
           write(folder / "media" / "bell.wav", demo::bellSound());
    for (const auto& [document, lines] : {std::pair{model::data::kGuises, &demo::guiseLines()},
                                          {model::data::kMixes, &demo::mixLines()},
                                          {model::data::kSets, &demo::setLines()}}) {
        std::string all = fmt::format(R"({{"format":"mellow-{}","version":1}})", document.substr(1));
        for (const std::string& line : *lines) all += "\n" + line;
        fine = fine && writeData(folder, std::string(document), all + "\n");
    }
    std::string checks = R"({"format":"mellow-checks","version":1})";
    for (const std::string& line : demo::checkLines()) checks += "\n" + line;
    fine = fine && writeData(folder, std::string(model::data::kChecks), checks + "\n");
    for (const demo::DemoPrefab& prefab : demo::prefabs())
        fine = fine && write(io::prefabFile(folder, prefab.name), prefab.text);
    model::Project project;
    project.name = name;
    project.firstScene = scene;
    return fine && write(folder / "project.json", io::formatProject(project, entries)) &&
           write(io::sceneFile(folder, scene), text) && write(folder / ".gitignore", ".mellow/\n");
}

/// How the demo is handed over: three of the recipes that the editor has to begin with, the stand-in for a game that
/// takes two of them, and what runs it.
bool writeHandOver(const fs::path& folder) {
    bool fine = true;
    for (const hand::Example& one : hand::examples())
        if (one.name == "json-list" || one.name == "csv-table" || one.name == "text-lines")
            fine = fine && writeData(folder, model::data::documentIn(model::data::kRecipes, one.name), one.text);
    const std::string receiver = headed("mellow-receiver", R"({
      "label": "Stand-in game", "help": "heron-game, which comes with the sources: it reads what it is given and reports.",
      "folder": "game/levels",
      "gives": [{"recipe": "json-list"}, {"recipe": "csv-table"}],
      "limits": {"objects": 1000, "size": [0.1, 15], "nameLength": 32, "fileBytes": 500000, "cannot": ["cues", "sound"]},
      "enter": [{"file": "game/levels.json", "as": "json", "at": "/levels", "value": "{file}"}],
      "run": ["read-levels"]})");
    const std::string commands =
        R"({"format":"mellow-commands","version":1})"
        "\n"
        R"({"name":"read-levels","label":"Read the levels","program":"heron-game","arguments":["game/levels.json"]})"
        "\n"
        R"({"name":"play","label":"Still there after a reload","help":"Hands over, then the stand-in reads everything twice.","program":"heron-game","arguments":["game/levels.json","--reload"],"handOver":"stand-in"})"
        "\n";
    return fine && writeData(folder, model::data::documentIn(model::data::kReceivers, "stand-in"), receiver) &&
           writeData(folder, std::string(model::data::kCommands), commands) &&
           write(folder / "game" / "levels.json", "{\n  \"game\": \"heron-game\",\n  \"levels\": []\n}\n");
}

}  // namespace

int main(int argc, char** argv) {
    const std::string what = argc > 1 ? argv[1] : "";
    if (what == "demo" && argc == 3) {
        const bool fine = makeProject(argv[2], "Heron Lock", "lower-basin", demo::lowerBasin()) &&
                          writeHandOver(argv[2]) &&
                          write(fs::path(argv[2]) / "walks" / "towpath.walk", demo::kTowpathWalk) &&
                          write(fs::path(argv[2]) / "walks" / "raise-the-barge.walk", demo::kBargeWalk) &&
                          write(io::sceneFile(argv[2], "broken-lock"), demo::brokenLock()) &&
                          write(io::sceneFile(argv[2], "three-chambers"), demo::threeChambers()) &&
                          write(fs::path(argv[2]) / "media" / "wide-strip.png", demo::pngOf(160, 20, [](int x, int) {
                                    return demo::Rgb{static_cast<std::uint8_t>(x), 90, 60};
                                }));
        return fine ? 0 : 1;
    }
    if (what == "many" && argc == 4) {
        const std::size_t count = std::strtoull(argv[2], nullptr, 10);
        return makeProject(argv[3], "Heron Lock, many", "valley", demo::many(count)) ? 0 : 1;
    }
    fmt::print(stderr,
               "usage: heron-lock-make demo DIR         the demo project\n       heron-lock-make many COUNT DIR   its "
               "valley with COUNT objects\n");
    return 2;
}
