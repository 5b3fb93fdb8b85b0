#include "io/project_file.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "base/files.h"
#include "io/json_text.h"
#include "io/names.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "model/value_json.h"

namespace io {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kLongestHead = std::size_t{16} << 20;  // of the first line
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
                {file, 0, key, fmt::format("Is {}; a number from {} to {} was expected.", toText(*place), low, high)});
    }
};

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

/// Which prefab each file holds; the rest of them is read when the project's history is known.
void findPrefabs(const fs::path& folder, ParsedProject& parsed) {
    for (const std::string& name : namesIn(folder, "prefabs", kPrefabEnding, parsed.damage)) {
        const fs::path file = prefabFile(folder, name);
        auto text = base::readHead(file, kLongestHead);
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
    auto entries = parseData(model::data::kindDocument("any"), text, file, damage);
    if (!entries) return tl::unexpected(entries.error());
    std::vector<std::string> problems;
    model::Kind kind = model::kindFrom(entries->at(""), problems);
    kind.facets = readFacets(kind.facetValues, problems);
    for (std::string& problem : problems) damage.push_back(damageOf(file, std::move(problem)));
    return kind;
}

std::string formatKind(const model::Kind& kind) {
    model::ValueMap map = toValues(kind);
    if (kind.facets && kind.facetValues.empty()) {
        base::NameTable names;
        model::ObjectRecord record;
        record.detail = kind.facets;
        std::string line;
        appendObjectLine(line, record, names);
        model::ValueMap facets = toValues(Json::parse(line));
        model::eraseValue(facets, "id");
        map.emplace_back("facets", model::Value{std::move(facets)});
    }
    return formatData(model::data::kindDocument(kind.name), {{"", map}}, {});
}

Result<ParsedProject> readProject(const fs::path& path) {
    const fs::path folder = path.filename() == "project.json" ? path.parent_path() : path;
    const fs::path file = folder / "project.json";
    auto text = base::inside(folder, "project.json")
                    ? base::readFile(file, base::most::kSmall)
                    : base::Result<std::string>(base::fail(ErrorCode::BadInput, file.string() + ": leads elsewhere."));
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
    if (auto walker = json->find("walker"); walker != json->end()) readWalker(read, *walker, project.walker);
    Json unknown = *json;
    for (const char* key : {"format", "version", "name", "firstScene", "items", "walker"}) unknown.erase(key);
    if (!unknown.empty()) project.unknownKeys = toText(unknown);

    project.dataDocuments = dataDocuments(folder, parsed.damage);
    project.sceneNames = namesIn(folder, "scenes", kSceneEnding, parsed.damage);
    findPrefabs(folder, parsed);
    return parsed;
}

std::string formatProject(const model::Project& project, const std::vector<ItemEntry>& items) {
    Json json = {
        {"format", "mellow-project"}, {"version", 1}, {"name", project.name}, {"firstScene", project.firstScene}};
    for (const ItemEntry& item : items) {
        std::string text;
        appendJson(text, toValues(item));
        json["items"][item.name] = Json::parse(text);
    }
    if (const model::Walker& w = project.walker; w != model::Walker{})
        json["walker"] = {{"eyeHeight", w.eyeHeight},
                          {"stepHeight", w.stepHeight},
                          {"slope", w.slopeDegrees},
                          {"radius", w.radius},
                          {"speed", w.metresPerSecond}};
    if (!project.unknownKeys.empty()) json.update(Json::parse(project.unknownKeys));
    return toText(json, 2) + "\n";
}

}  // namespace io
