#include "io/validate.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <set>
#include <valijson/adapters/nlohmann_json_adapter.hpp>
#include <valijson/schema.hpp>
#include <valijson/schema_parser.hpp>
#include <valijson/validation_results.hpp>
#include <valijson/validator.hpp>

#include "base/files.h"
#include "base/text.h"
#include "check/rule.h"
#include "io/data_file.h"
#include "io/gltf_in.h"
#include "io/image_head.h"
#include "io/object_line.h"
#include "io/project_file.h"
#include "io/scene_file.h"
#include "io/schemas.h"
#include "model/prefab.h"

namespace io {
namespace {

namespace fs = std::filesystem;
namespace data = model::data;

constexpr std::size_t kMostDamage = 1000;  // of one file

/// A published schema, ready to be asked.
class SchemaCheck {
  public:
    explicit SchemaCheck(const std::string& of) {
        const auto document = nlohmann::json::parse(schemas().at(of));
        valijson::SchemaParser().populateSchema(valijson::adapters::NlohmannJsonAdapter(document), schema_);
    }
    /// What a text, one JSON value, is not. It is one that was read already.
    void ask(std::string_view text, const std::string& file, int line, std::vector<Damage>& damage) {
        const auto value = nlohmann::json::parse(text, nullptr, false);
        if (value.is_discarded()) return;
        valijson::ValidationResults results;
        if (validator_.validate(schema_, valijson::adapters::NlohmannJsonAdapter(value), &results)) return;
        valijson::ValidationResults::Error error;
        std::optional<Damage> deepest;  // the one that says most exactly where
        std::size_t depth = 0;
        while (results.popError(error)) {
            if (deepest && error.context.size() < depth) continue;
            depth = error.context.size();
            std::string key;
            for (std::size_t i = 1; i < error.context.size(); ++i) {
                std::string part = error.context[i];
                std::erase_if(part, [](char c) { return c == '[' || c == ']'; });
                key += (key.empty() ? "" : ".") + part;
            }
            deepest = Damage{file, line, base::withoutControl(key),
                             "Does not fit the published schema: " + error.description};
        }
        if (deepest && damage.size() < kMostDamage) damage.push_back(*deepest);
    }

  private:
    valijson::Schema schema_;
    valijson::Validator validator_;
};

/// Calls `each` with every line that is not empty, and its number.
template <class Each>
void eachLine(std::string_view text, const Each& each) {
    int number = 0;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        const std::string_view line = text.substr(from, to - from);
        from = to + 1;
        ++number;
        if (line.find_first_not_of(" \t\r") != std::string_view::npos) each(line, number);
    }
}

/// Lines that nothing was found in by their reader are asked for what they publish to be.
void askLines(const std::string& schema, std::string_view text, const std::string& file, std::vector<Damage>& damage) {
    std::set<int> known;
    for (const Damage& d : damage) known.insert(d.line);
    SchemaCheck check(schema);
    std::vector<Damage> more;
    eachLine(text, [&](std::string_view line, int number) {
        if (!known.contains(number) && !(schema == "scene" && isCanonicalLine(line)))
            check.ask(line, file, number, more);
    });
    damage.insert(damage.end(), more.begin(), more.end());
}

std::string schemaOf(std::string_view document) {
    if (const data::Foldered* folder = data::folderOf(document)) return std::string(folder->format.substr(7));
    if (document == data::kItems) return "project";
    if (document == data::kChecks) return "checks";
    return std::string(document.substr(1));
}

/// What the reader of each document finds wrong in it.
std::vector<std::string> problemsOf(const std::string& document, const model::DataEntries& entries) {
    std::vector<std::string> problems;
    if (!data::kindIn(document).empty() || !data::recordsIn(document).empty()) {
        const auto head = entries.find("");
        if (head == entries.end()) return problems;
        const model::Kind kind = model::kindFrom(head->second, problems);
        (void)readFacets(kind.facetValues, problems);
    } else if (data::folderOf(document) != nullptr || document == data::kCommands) {
        // Their schema says all there is to say.
    } else if (document == data::kItems) {
        for (const auto& [name, values] : entries)
            if (name.empty())
                (void)model::factsFrom(values, problems);
            else
                (void)itemEntryFrom(name, values, problems);
    } else if (document == data::kChecks) {
        (void)check::settingsFrom(entries, check::builtInRules(), problems);
    } else {
        for (const auto& [name, values] : entries)
            if (!name.empty()) {
                std::vector<std::string> own;
                if (document == data::kGuises)
                    (void)model::guiseFrom(name, values, own);
                else if (document == data::kMixes)
                    (void)model::mixFrom(name, values, own);
                else if (document == data::kSets)
                    (void)model::pieceSetFrom(name, values, own);
                else
                    (void)model::surfaceFrom(name, values, own);
                for (const std::string& problem : own) problems.push_back(fmt::format("{}.{}", name, problem));
            }
    }
    return problems;
}

void validateData(const std::string& document, const fs::path& path, std::vector<Damage>& all) {
    const std::string file = path.string();
    std::vector<Damage> damage;
    auto text = base::readFile(path, base::most::kTable);
    if (!text) return all.push_back({file, 0, "", text.error().message});
    auto entries = parseData(document, *text, file, damage);
    if (!entries) return all.push_back({file, 0, "", entries.error().message});
    for (std::string& problem : problemsOf(document, *entries)) damage.push_back(damageOf(file, std::move(problem)));
    const std::string schema = schemaOf(document);
    const data::Foldered* folder = data::folderOf(document);
    if (schema != "project" && (folder == nullptr || folder->isLined))
        askLines(schema, *text, file, damage);
    else if (damage.empty())
        SchemaCheck(schema).ask(*text, file, 0, damage);
    all.insert(all.end(), damage.begin(), damage.end());
}

/// Which prefabs each prefab holds instances of.
using Holds = std::map<base::ObjectId, std::set<base::ObjectId>>;

void gatherLinks(const model::DetailPtr& detail, std::set<base::ObjectId>& links) {
    if (!detail || !detail->prefab) return;
    links.insert(detail->prefab->of);
    for (const model::ObjectRecord& added : detail->prefab->added) gatherLinks(added.detail, links);
}

void validateScene(const fs::path& path, std::vector<Damage>& all, Holds* holds = nullptr) {
    const std::string file = path.string();
    auto text = base::readFile(path);
    if (!text) return all.push_back({file, 0, "", text.error().message});
    auto scene = parseScene(path.stem().string(), *text, file, std::make_shared<base::NameTable>(), {});
    if (!scene) return all.push_back({file, 0, "", scene.error().message});
    if (holds != nullptr && scene->prefab) {
        std::set<base::ObjectId>& links = (*holds)[scene->prefab];
        for (model::Slot s : scene->scene.subtree(model::kNoSlot)) gatherLinks(scene->scene.detail(s), links);
    }
    std::vector<Damage> damage = std::move(scene->damage);
    damage.insert(damage.end(), scene->unknown.begin(), scene->unknown.end());
    askLines("scene", *text, file, damage);
    all.insert(all.end(), damage.begin(), damage.end());
}

void validateModel(const fs::path& file, const fs::path& root, std::vector<Damage>& all) {
    if (auto model = readModel(file, root); !model) all.push_back({file.string(), 0, "", model.error().message});
}

void validateImage(const fs::path& file, std::vector<Damage>& all) {
    if (auto image = readImageHead(file); !image) all.push_back({file.string(), 0, "", image.error().message});
}

bool isImage(const fs::path& file) {
    const std::string ending = base::lowered(file.extension().string());
    return ending == ".png" || ending == ".jpg" || ending == ".jpeg";
}
bool isModel(const fs::path& file) {
    const std::string ending = base::lowered(file.extension().string());
    return ending == ".glb" || ending == ".gltf";
}

/// A prefab that holds itself, be it further down: told once, at the first on the way.
void findCircles(const Holds& holds, const std::map<base::ObjectId, fs::path>& files, std::vector<Damage>& all) {
    std::set<base::ObjectId> done;
    std::vector<base::ObjectId> way;
    const std::function<void(base::ObjectId)> visit = [&](base::ObjectId prefab) {
        if (const auto began = std::find(way.begin(), way.end(), prefab); began != way.end()) {
            std::string names;
            for (auto one = began; one != way.end(); ++one) names += prefabNameOf(files.at(*one)) + " › ";
            all.push_back({files.at(prefab).string(), 0, "",
                           fmt::format("Holds itself: {}{}.", names, prefabNameOf(files.at(prefab)))});
            return;
        }
        if (!done.insert(prefab).second) return;
        way.push_back(prefab);
        if (const auto links = holds.find(prefab); links != holds.end())
            for (base::ObjectId inner : links->second)
                if (files.contains(inner)) visit(inner);
        way.pop_back();
    };
    for (const auto& [prefab, file] : files) visit(prefab);
}

}  // namespace

Validation validateProject(const fs::path& folder) {
    Validation result;
    std::vector<Damage>& all = result.damage;
    auto count = [&](const char* what, std::size_t n) {
        if (n > 0) result.counts.emplace_back(what, n);
    };
    auto project = readProject(folder);
    if (!project) {
        all.push_back({folder.string(), 0, "", project.error().message});
        return result;
    }
    all = std::move(project->damage);
    std::size_t kinds = 0, records = 0, others = 0;
    for (const std::string& document : project->project.dataDocuments) {
        if (document == data::kAdded) continue;
        (!data::kindIn(document).empty() ? kinds : !data::recordsIn(document).empty() ? records : others) += 1;
        validateData(document, dataFile(folder, document), all);
    }
    for (const std::string& scene : project->project.sceneNames) validateScene(sceneFile(folder, scene), all);
    Holds holds;
    for (const auto& [prefab, file] : project->prefabFiles) validateScene(file, all, &holds);
    findCircles(holds, project->prefabFiles, all);
    auto eachFile = [&](const char* part, const auto& isMeant, const auto& validate) {
        std::size_t n = 0;
        const auto files = base::listFolder(folder / part);
        if (!files) all.push_back({(folder / part).string(), 0, "", files.error().message});
        for (const fs::path& file : files.value_or(std::vector<fs::path>{})) {
            if (!isMeant(file)) continue;
            ++n;
            if (auto within = base::inside(folder, fs::path(part) / file.filename()); !within)
                all.push_back({base::forTerminal(file.string()), 0, "", within.error().message});
            else
                validate(file);
        }
        return n;
    };
    const std::size_t models = eachFile("items", isModel, [&](const fs::path& f) { validateModel(f, folder, all); });
    const std::size_t images = eachFile("media", isImage, [&](const fs::path& f) { validateImage(f, all); });
    count("scenes", project->project.sceneNames.size());
    count("prefabs", project->prefabFiles.size());
    count("kinds", kinds);
    count("record types", records);
    count("other data files", others);
    count("models", models);
    count("images", images);
    return result;
}

namespace {

/// By the ending of a file's name; null: it is another kind of file.
const data::Foldered* folderedAs(std::string_view name) {
    for (const data::Foldered* folder : data::kFoldered)
        if (name.ends_with(folder->ending)) return folder;
    return nullptr;
}

}  // namespace

Validation validateFile(const fs::path& file) {
    Validation result;
    const std::string name = file.filename().string();
    auto one = [&](const char* what) { result.counts.emplace_back(what, 1); };
    if (name == "project.json") {
        one("project file");
        if (auto project = readProject(file); !project)
            result.damage.push_back({file.string(), 0, "", project.error().message});
        else
            validateData(std::string(data::kItems), file, result.damage);
    } else if (name.ends_with(".scene.jsonl") || name.ends_with(".prefab.jsonl")) {
        one(name.ends_with(".scene.jsonl") ? "scene" : "prefab");
        validateScene(file, result.damage);
    } else if (const data::Foldered* folder = folderedAs(name)) {
        one(folder == &data::kRecords ? "record type" : folder->format.data() + 7);
        validateData(data::documentIn(*folder, "any"), file, result.damage);
    } else if (name == "checks.jsonl" || (name.ends_with(".jsonl") && data::isNamed("@" + file.stem().string()))) {
        const std::string what = file.stem().string();
        result.counts.emplace_back(what, 1);
        validateData("@" + what, file, result.damage);
    } else if (isModel(file)) {
        one("model");
        validateModel(file, file.parent_path(), result.damage);
    } else if (isImage(file)) {
        one("image");
        validateImage(file, result.damage);
    } else {
        result.damage.push_back({base::forTerminal(file.string()), 0, "",
                                 base::forTerminal(file.string()) + ": is of no kind of file that a project has."});
    }
    return result;
}

}  // namespace io
