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

fs::path removedScene(const fs::path& folder, const std::string& scene) {
    return folder / ".mellow" / "removed-scenes" / (scene + std::string(kSceneEnding));
}

std::vector<std::string> sceneNamesIn(const fs::path& folder, std::vector<Damage>& damage) {
    std::vector<std::string> names = namesIn(folder, "scenes", kSceneEnding, damage);
    std::vector<Damage> unheard;
    const auto waiting = namesIn(folder, ".mellow/removed-scenes", kSceneEnding, unheard);
    names.insert(names.end(), waiting.begin(), waiting.end());
    std::sort(names.begin(), names.end());
    names.erase(std::unique(names.begin(), names.end()), names.end());
    return names;
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

void takeFacts(model::Project& project, const model::ValueMap& head, std::vector<std::string>& problems) {
    static_cast<model::ProjectFacts&>(project) = model::factsFrom(head, problems);
    if (project.name.empty()) project.name = project.folder.filename().string();
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
    project.folder = folder;
    std::vector<std::string> problems;
    takeFacts(project, toValues(*json), problems);
    for (std::string& problem : problems) parsed.damage.push_back(damageOf(fileName, std::move(problem)));

    project.dataDocuments = dataDocuments(folder, parsed.damage);
    project.sceneFiles = sceneNamesIn(folder, parsed.damage);
    for (const std::string& name : project.sceneFiles)
        if (base::exists(sceneFile(folder, name))) project.sceneNames.push_back(name);
    findPrefabs(folder, parsed);
    return parsed;
}

std::string formatProject(const model::ProjectFacts& facts, const std::vector<ItemEntry>& items) {
    model::DataEntries entries;
    model::putFacts(entries[""], facts);
    for (const ItemEntry& item : items) entries[item.name] = toValues(item);
    return formatData(model::data::kItems, entries, {});
}

}  // namespace io
