#include "io/project_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/files.h"
#include "io/json_text.h"
#include "io/object_line.h"
#include "io/scene_file.h"

namespace io {
namespace {

namespace fs = std::filesystem;
using base::ErrorCode;
using base::fail;
using base::Result;

constexpr std::string_view kSceneEnding = ".scene.jsonl";
constexpr std::string_view kPrefabEnding = ".prefab.jsonl";

std::string withoutEnding(const fs::path& file, std::string_view ending) {
    std::string name = file.filename().string();
    if (name.ends_with(ending)) name.resize(name.size() - ending.size());
    return name;
}

/// Reads members of one file's object, noting what is not as expected.
struct Reader {
    const std::string& file;
    std::vector<Damage>& damage;

    void text(const Json& object, const char* key, std::string& out) const {
        auto place = object.find(key);
        if (place == object.end()) return;
        if (place->is_string())
            out = place->get<std::string>();
        else
            damage.push_back({file, 0, key, fmt::format("Is {}; text was expected.", place->type_name())});
    }
    void number(const Json& object, const char* key, double low, double high, double& out) const {
        auto place = object.find(key);
        if (place == object.end()) return;
        const bool usable = place->is_number() && place->get<double>() >= low && place->get<double>() <= high;
        if (usable)
            out = place->get<double>();
        else
            damage.push_back(
                {file, 0, key, fmt::format("Is {}; a number from {} to {} was expected.", place->dump(), low, high)});
    }
};

constexpr const char* kCollisions[] = {"mesh", "box", "none"};  // by CollisionShape

void readCollision(const Reader& read, const Json& entry, const std::string& item, model::CollisionShape& out) {
    std::string text = kCollisions[0];
    read.text(entry, "collision", text);
    const auto* place = std::find(std::begin(kCollisions), std::end(kCollisions), std::string_view(text));
    if (place == std::end(kCollisions))
        return read.damage.push_back({read.file, 0, fmt::format("items.{}.collision", item),
                                      fmt::format("Is “{}”; mesh, box or none was expected.", text)});
    out = static_cast<model::CollisionShape>(place - std::begin(kCollisions));
}

void readWalker(const Reader& read, const Json& walker, model::Walker& out) {
    if (!walker.is_object())
        return read.damage.push_back(
            {read.file, 0, "walker", "Is no object; eyeHeight, stepHeight, slope were expected."});
    read.number(walker, "eyeHeight", 0.1, 100, out.eyeHeight);
    read.number(walker, "stepHeight", 0, 100, out.stepHeight);
    read.number(walker, "slope", 0, 89, out.slopeDegrees);
    read.number(walker, "radius", 0.01, 100, out.radius);
    read.number(walker, "speed", 0.01, 1000, out.metresPerSecond);
}

/// The object in a file of ours. Errors: BadInput, Unsupported.
Result<Json> readOurs(std::string_view text, const std::string& file, std::string_view format) {
    auto json = parseJson(text, file);
    if (!json) return json;
    if (!json->is_object() || json->value("format", Json("")) != format)
        return fail(ErrorCode::BadInput, fmt::format("{}: format: is not “{}”, as was expected.", file, format));
    const Json version = json->value("version", Json());
    if (!version.is_number_integer() || version.get<std::int64_t>() < 1)
        return fail(ErrorCode::BadInput,
                    fmt::format("{}: version: is missing or no whole number; 1 was expected.", file));
    if (version.get<std::int64_t>() > 1)
        return fail(
            ErrorCode::Unsupported,
            fmt::format("{}: version: was written by a newer version of the program; this one reads version 1.", file));
    return json;
}

std::vector<fs::path> filesIn(const fs::path& folder, std::string_view ending) {
    std::vector<fs::path> all;
    std::error_code ignored;
    for (const auto& entry : fs::directory_iterator(folder, ignored))
        if (entry.path().filename().string().ends_with(ending)) all.push_back(entry.path());
    std::sort(all.begin(), all.end());
    return all;
}

/// Facets stand in a kind's file as they do in an object's line, so the same reader takes them.
void readFacets(const Json& facets, const std::string& file, model::Kind& kind, std::vector<Damage>& damage) {
    if (!facets.is_object())
        return damage.push_back({file, 0, "facets", "Is no object; one member per facet was expected."});
    Json line = {{"id", base::toText(base::ObjectId{1})}};
    line.update(facets);
    base::NameTable unused;
    ObjectLineReader reader(unused, file);
    model::ObjectRecord record;
    reader.read(line.dump(), 0, false, record);
    damage.insert(damage.end(), reader.damage.begin(), reader.damage.end());
    kind.facets = record.detail;
}

/// Which prefab each file holds; the rest of them is read when the project's history is known.
void findPrefabs(const fs::path& folder, ParsedProject& parsed) {
    for (const fs::path& file : filesIn(folder / "prefabs", kPrefabEnding)) {
        auto text = base::readFile(file);
        auto note = [&](std::string message) { parsed.damage.push_back({file.string(), 0, "", std::move(message)}); };
        if (!text) {
            note(text.error().message);
            continue;
        }
        ObjectLineReader reader(*parsed.project.names, file.string());
        model::SceneSettings unused;
        (void)reader.readHeader(std::string_view(*text).substr(0, text->find('\n')), unused);
        if (!reader.prefab) {
            note(file.string() +
                 ":1: is no prefab file; {\"format\":\"mellow-prefab\",\"version\":1,\"id\":…} was expected.");
            continue;
        }
        auto [place, isNew] = parsed.prefabFiles.try_emplace(reader.prefab, file);
        if (isNew)
            parsed.project.prefabs.push_back(reader.prefab);
        else
            note(fmt::format("{}: has the same id as {}; ids must be unique.", file.string(), place->second.string()));
    }
}

}  // namespace

fs::path prefabFile(const fs::path& folder, const std::string& name) {
    return folder / "prefabs" / (name + std::string(kPrefabEnding));
}

std::string prefabNameOf(const fs::path& file) {
    return withoutEnding(file, kPrefabEnding);
}

fs::path sceneFile(const fs::path& folder, const std::string& scene) {
    return folder / "scenes" / (scene + std::string(kSceneEnding));
}

Result<model::Kind> parseKind(std::string_view text, const std::string& file, std::vector<Damage>& damage) {
    auto json = readOurs(text, file, "mellow-kind");
    if (!json) return tl::unexpected(json.error());
    model::Kind kind;
    const Reader read{file, damage};
    read.text(*json, "name", kind.name);
    read.text(*json, "category", kind.category);
    read.text(*json, "help", kind.help);
    read.text(*json, "mark", kind.colourMark);
    read.number(*json, "smallestSize", 1e-6, 1e5, kind.smallestSize);
    read.number(*json, "largestSize", 1e-6, 1e5, kind.largestSize);
    read.number(*json, "cost", 0, 1e9, kind.cost);
    if (auto facets = json->find("facets"); facets != json->end()) readFacets(*facets, file, kind, damage);
    if (kind.name.empty())
        return fail(ErrorCode::BadInput, file + ": name: is missing or empty; the kind's name was expected.");
    return kind;
}

std::string formatKind(const model::Kind& kind) {
    Json json = {{"format", "mellow-kind"}, {"version", 1}, {"name", kind.name}, {"category", kind.category}};
    if (!kind.help.empty()) json["help"] = kind.help;
    if (!kind.colourMark.empty()) json["mark"] = kind.colourMark;
    json["smallestSize"] = kind.smallestSize;
    json["largestSize"] = kind.largestSize;
    json["cost"] = kind.cost;
    if (kind.facets) {
        base::NameTable names;
        model::ObjectRecord record;
        record.detail = kind.facets;
        std::string line;
        appendObjectLine(line, record, names);
        json["facets"] = Json::parse(line);
        json["facets"].erase("id");
    }
    return json.dump(2) + "\n";
}

Result<ParsedProject> readProject(const fs::path& path) {
    const fs::path folder = path.filename() == "project.json" ? path.parent_path() : path;
    const fs::path file = folder / "project.json";
    auto text = base::readFile(file);
    if (!text && text.error().code == ErrorCode::NotFound)
        return fail(ErrorCode::NotFound,
                    fmt::format("{}: there is no project here (project.json is missing).", folder.string()));
    if (!text) return tl::unexpected(text.error());
    auto json = readOurs(*text, file.string(), "mellow-project");
    if (!json) return tl::unexpected(json.error());

    ParsedProject parsed;
    model::Project& project = parsed.project;
    const std::string fileName = file.string();
    const Reader read{fileName, parsed.damage};
    project.folder = folder;
    project.name = folder.filename().string();
    read.text(*json, "name", project.name);
    read.text(*json, "firstScene", project.firstScene);
    if (auto items = json->find("items"); items != json->end()) {
        if (!items->is_object())
            parsed.damage.push_back({fileName, 0, "items", "Is no object; one member per item was expected."});
        else
            for (const auto& [name, entry] : items->items()) {
                ItemEntry item;
                item.name = name;
                read.text(entry, "label", item.label);
                read.text(entry, "category", item.category);
                read.text(entry, "kind", item.kind);
                readCollision(read, entry, item.name, item.collision);
                parsed.items.push_back(std::move(item));
            }
    }
    if (auto walker = json->find("walker"); walker != json->end()) readWalker(read, *walker, project.walker);
    Json unknown = *json;
    for (const char* key : {"format", "version", "name", "firstScene", "items", "walker"}) unknown.erase(key);
    if (!unknown.empty()) project.unknownKeys = unknown.dump();

    for (const fs::path& kindFile : filesIn(folder / "kinds", ".kind.json")) {
        auto kindText = base::readFile(kindFile);
        auto kind = kindText ? parseKind(*kindText, kindFile.string(), parsed.damage)
                             : Result<model::Kind>(tl::unexpected(kindText.error()));
        if (kind)
            project.library.add(project.names->intern(kind->name), *kind);
        else
            parsed.damage.push_back({kindFile.string(), 0, "", kind.error().message});
    }
    for (const fs::path& scene : filesIn(folder / "scenes", kSceneEnding))
        project.sceneNames.push_back(withoutEnding(scene, kSceneEnding));
    findPrefabs(folder, parsed);
    return parsed;
}

std::string formatProject(const model::Project& project, const std::vector<ItemEntry>& items) {
    Json json = {
        {"format", "mellow-project"}, {"version", 1}, {"name", project.name}, {"firstScene", project.firstScene}};
    for (const ItemEntry& item : items) {
        Json entry = {{"label", item.label}, {"category", item.category}};
        if (!item.kind.empty()) entry["kind"] = item.kind;
        if (item.collision != model::CollisionShape::Mesh)
            entry["collision"] = kCollisions[static_cast<int>(item.collision)];
        json["items"][item.name] = entry;
    }
    if (const model::Walker& w = project.walker; w != model::Walker{})
        json["walker"] = {{"eyeHeight", w.eyeHeight},
                          {"stepHeight", w.stepHeight},
                          {"slope", w.slopeDegrees},
                          {"radius", w.radius},
                          {"speed", w.metresPerSecond}};
    if (!project.unknownKeys.empty()) json.update(Json::parse(project.unknownKeys));
    return json.dump(2) + "\n";
}

}  // namespace io
