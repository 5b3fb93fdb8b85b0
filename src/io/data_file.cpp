#include "io/data_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/files.h"
#include "base/text.h"
#include "io/json_text.h"
#include "io/names.h"
#include "io/object_line.h"
#include "io/scene_file.h"
#include "model/value_json.h"
#include "model/value_reader.h"

namespace io {
namespace {

namespace fs = std::filesystem;
namespace data = model::data;

std::string formatOf(std::string_view document) {
    if (const data::Foldered* folder = data::folderOf(document)) return std::string(folder->format);
    if (document == data::kChecks) return "mellow-checks";
    if (document == data::kAdded) return "mellow-added";
    return data::isNamed(document) ? "mellow-" + std::string(document.substr(1)) : "mellow-project";
}

/// A file of ours, or its first line, as values without format and version.
Result<model::ValueMap> headed(std::string_view text, const std::string& file, std::string_view format) {
    auto json = readOurs(text, file, format);
    if (!json) return tl::unexpected(json.error());
    model::ValueMap map = toValues(*json);
    model::eraseValue(map, "format");
    model::eraseValue(map, "version");
    return map;
}

std::string header(std::string_view document, const model::ValueMap& rest) {
    model::ValueMap all = {{"format", {formatOf(document)}}, {"version", {std::int64_t{1}}}};
    all.insert(all.end(), rest.begin(), rest.end());
    std::string text;
    appendJson(text, all);
    return text;
}

/// What a line is known by: a record's id, a surface's name, a rule.
const char* keyOf(std::string_view document) {
    if (data::isNamed(document)) return "name";
    return document == data::kChecks ? "rule" : document == data::kAdded ? "file" : "id";
}
/// A head, and a line for each entry.
bool isLined(std::string_view document) {
    const data::Foldered* folder = data::folderOf(document);
    return (folder != nullptr && folder->isLined) || data::isNamed(document) || document == data::kChecks ||
           document == data::kAdded;
}
/// One object, which is all there is.
bool isOne(std::string_view document) {
    const data::Foldered* folder = data::folderOf(document);
    return folder != nullptr && !folder->isLined;
}

Result<model::DataEntries> parseLines(std::string_view document, std::string_view text, const std::string& file,
                                      std::vector<Damage>& damage) {
    model::DataEntries entries;
    int line = 0;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        const std::string_view one = text.substr(from, to - from);
        from = to + 1;
        ++line;
        if (one.empty()) continue;
        const std::string where = fmt::format("{}:{}", file, line);
        if (line == 1) {
            auto head = headed(one, where, formatOf(document));
            if (!head) return tl::unexpected(head.error());
            entries[""] = std::move(*head);
            continue;
        }
        auto json = parseJson(one, where);
        const char* member = keyOf(document);
        model::ValueMap map = json && json->is_object() ? toValues(*json) : model::ValueMap{};
        const std::string key = model::textOf(map, member);
        const bool usable = !key.empty() && (data::recordsIn(document).empty() || base::parseObjectId(key));
        if (!json)
            damage.push_back({file, line, "", json.error().message});
        else if (!usable)
            damage.push_back({file, line, member, "Is missing or cannot be one; the line is left out."});
        else if (entries.contains(key))
            damage.push_back({file, line, member, fmt::format("“{}” is there already; the line is left out.", key)});
        else {
            model::eraseValue(map, member);
            entries[key] = std::move(map);
        }
    }
    if (entries.empty())
        return fail(ErrorCode::BadInput, fmt::format("{}: is empty; a header line was expected.", file));
    return entries;
}

}  // namespace

std::vector<std::string> namesIn(const fs::path& folder, const char* part, std::string_view ending,
                                 std::vector<Damage>& damage) {
    std::vector<std::string> names;
    const auto files = base::listFolder(folder / part);
    if (!files) damage.push_back({(folder / part).string(), 0, "", files.error().message});
    for (const fs::path& file : files.value_or(std::vector<fs::path>{})) {
        std::string name = file.filename().string();
        if (!name.ends_with(ending)) continue;
        name.resize(name.size() - ending.size());
        const std::string shown = base::forTerminal(file.string());
        if (!base::isFileName(name))
            damage.push_back({shown, 0, "", shown + ": its name is too long, or has what no name can have."});
        else if (auto within = base::inside(folder, fs::path(part) / file.filename()); !within)
            damage.push_back({shown, 0, "", within.error().message});
        else
            names.push_back(std::move(name));
    }
    return names;
}

std::vector<std::string> dataDocuments(const fs::path& folder, std::vector<Damage>& damage) {
    std::vector<std::string> all = {std::string(data::kItems)};
    for (const data::Foldered* part : data::kFoldered)
        for (const std::string& name : namesIn(folder, std::string(part->folder).c_str(), part->ending, damage))
            all.push_back(data::documentIn(*part, name));
    for (const std::string_view one :
         {data::kSurfaces, data::kChecks, data::kAdded, data::kGuises, data::kMixes, data::kSets, data::kCommands})
        if (base::exists(dataFile(folder, one))) all.emplace_back(one);
    return all;
}

fs::path dataFile(const fs::path& folder, std::string_view document) {
    return folder / data::fileOf(document);
}

Result<model::DataEntries> parseData(std::string_view document, std::string_view text, const std::string& file,
                                     std::vector<Damage>& damage) {
    if (isLined(document)) return parseLines(document, text, file, damage);
    auto map = headed(text, file, formatOf(document));
    if (!map) return tl::unexpected(map.error());
    if (isOne(document)) {
        if (!data::kindIn(document).empty() && model::textOf(*map, "name").empty())
            return fail(ErrorCode::BadInput, file + ": name: is missing or empty; the kind's name was expected.");
        return model::DataEntries{{"", std::move(*map)}};
    }
    model::DataEntries entries;  // "" is what the file says of the whole
    const model::Value* items = model::valueOf(*map, "items");
    const auto* all = items != nullptr ? std::get_if<model::ValueMap>(&items->data) : nullptr;
    if (items != nullptr && all == nullptr)
        damage.push_back({file, 0, "items", "Is no object; one member per item was expected."});
    for (const auto& [name, entry] : all != nullptr ? *all : model::ValueMap{})
        if (const auto* values = std::get_if<model::ValueMap>(&entry.data))
            entries[name] = *values;
        else
            damage.push_back({file, 0, "items." + name, "Is no object; label and category were expected."});
    for (const char* key : {"format", "version", "items"}) model::eraseValue(*map, key);
    entries[""] = std::move(*map);
    return entries;
}

namespace {

/// What project.json says of the whole: what is as it was keeps its text.
void putHead(Json& project, const model::ValueMap& head) {
    const model::ValueMap before = toValues(project);
    for (const auto& [key, value] : before)
        if (key != "format" && key != "version" && key != "items" && model::valueOf(head, key) == nullptr)
            project.erase(key);
    for (const auto& [key, value] : head)
        if (const model::Value* was = model::valueOf(before, key); was == nullptr || !(*was == value))
            project[key] = toJson(value);
}

}  // namespace

std::string formatData(std::string_view document, const model::DataEntries& entries, std::string_view present) {
    const auto head = entries.find("");
    if (isOne(document)) {
        const std::string text = header(document, head == entries.end() ? model::ValueMap{} : head->second);
        const bool isKind = !data::kindIn(document).empty();
        return isKind ? toText(Json::parse(text), 2) + "\n" : toReadable(Json::parse(text));
    }
    if (document != data::kItems) {
        std::string text = header(document, head == entries.end() ? model::ValueMap{} : head->second) + "\n";
        for (const auto& [key, values] : entries) {
            if (key.empty()) continue;
            model::ValueMap line = {{keyOf(document), {key}}};
            line.insert(line.end(), values.begin(), values.end());
            appendJson(text, line);
            text += '\n';
        }
        return text;
    }
    Json project = Json::parse(present, nullptr, false);
    if (!project.is_object()) project = {{"format", "mellow-project"}, {"version", 1}};
    if (head != entries.end()) putHead(project, head->second);
    // Items stand as they stood; new ones follow.
    Json items = Json::object();
    auto put = [&](const std::string& name, const model::ValueMap& values) {
        std::string text;
        appendJson(text, values);
        items[name] = Json::parse(text);
    };
    if (auto old = project.find("items"); old != project.end() && old->is_object())
        for (const auto& [name, entry] : old->items())
            if (auto place = entries.find(name); place != entries.end()) put(name, place->second);
    for (const auto& [name, values] : entries)
        if (!name.empty() && !items.contains(name)) put(name, values);
    project["items"] = std::move(items);
    return toText(project, 2) + "\n";
}

ItemEntry itemEntryFrom(const std::string& name, const model::ValueMap& map, std::vector<std::string>& problems) {
    ItemEntry item;
    std::vector<std::string> own;
    static_cast<model::ItemFacts&>(item) = model::itemFactsFrom(map, own);
    for (const std::string& problem : own) problems.push_back(fmt::format("items.{}.{}", name, problem));
    item.name = name;
    item.gone = model::boolOf(map, "gone", false);
    return item;
}

model::ValueMap toValues(const ItemEntry& item) {
    model::ValueMap map;
    model::putFacts(map, item);
    if (item.gone) map.emplace_back("gone", model::Value{true});
    return map;
}

/// Facets stand in a kind's file as they do in an object's line, so the same reader takes them.
model::DetailPtr readFacets(const model::ValueMap& facets, std::vector<std::string>& problems) {
    if (facets.empty()) return nullptr;
    model::ValueMap line = {{"id", {base::toText(base::ObjectId{1})}}};
    line.insert(line.end(), facets.begin(), facets.end());
    std::string text;
    appendJson(text, line);
    base::NameTable unused;
    ObjectLineReader reader(unused, "facets");
    model::ObjectRecord record;
    reader.read(text, 0, false, record);
    for (const Damage& d : reader.damage) problems.push_back(fmt::format("facets.{}: {}", d.key, d.message));
    return record.detail;
}

namespace {

/// What a kind says with all it inherits. A circle is cut where it closes.
model::ValueMap whole(const model::Library& library, const model::Kind& kind, std::vector<std::string>& way) {
    if (std::find(way.begin(), way.end(), kind.name) != way.end()) return {};
    way.push_back(kind.name);
    const model::Kind* parent = kind.inherits.empty() ? nullptr : library.kindNamed(kind.inherits);
    return model::inherited(parent != nullptr ? whole(library, *parent, way) : model::ValueMap{}, kind.own);
}

}  // namespace

void takeKind(model::Project& project, const std::string& document, const model::DataEntries& entries,
              std::vector<std::string>& problems) {
    model::Library& library = project.library;
    for (const model::Kind& kind : library.kinds())
        if (kind.document == document) {
            library.removeKind(project.names->intern(kind.name));
            break;
        }
    if (auto own = entries.find(""); own != entries.end()) {
        model::Kind kind;
        kind.document = document;
        kind.own = own->second;
        kind.name = model::textOf(kind.own, "name");
        kind.inherits = model::textOf(kind.own, "inherits");
        library.add(project.names->intern(kind.name), kind);
    }
    // What inherits may say something else now.
    std::vector<model::Kind> all;
    for (const model::Kind& kind : library.kinds()) {
        std::vector<std::string> way, found;
        model::Kind read = model::kindFrom(whole(library, kind, way), found);
        read.document = kind.document;
        read.name = kind.name;
        read.own = kind.own;
        read.inherits = kind.inherits;
        read.facets = readFacets(read.facetValues, found);
        if (kind.document == document)
            for (const std::string& problem : found) problems.push_back(problem);
        all.push_back(std::move(read));
    }
    for (model::Kind& kind : all) {
        const base::Name key = project.names->intern(kind.name);
        library.add(key, std::move(kind));
    }
}

/// Entries by name, each read on its own; what is wrong with one is said with its name.
template <class All, class Read>
All readNamed(const model::DataEntries& entries, Read read, std::vector<std::string>& problems) {
    All all;
    for (const auto& [name, values] : entries) {
        if (name.empty()) continue;
        std::vector<std::string> own;
        all[name] = read(name, values, own);
        for (const std::string& problem : own) problems.push_back(fmt::format("{}.{}", name, problem));
    }
    return all;
}

void takeNamed(model::Project& project, std::string_view document, const model::DataEntries& entries,
               std::vector<std::string>& problems) {
    using model::Library;
    if (document == data::kSurfaces)
        project.library.putSurfaces(readNamed<Library::Surfaces>(entries, model::surfaceFrom, problems));
    if (document == data::kGuises)
        project.library.putGuises(readNamed<Library::Guises>(entries, model::guiseFrom, problems));
    if (document == data::kMixes)
        project.library.putMixes(readNamed<Library::Mixes>(entries, model::mixFrom, problems));
    if (document == data::kSets)
        project.library.putSets(readNamed<Library::Sets>(entries, model::pieceSetFrom, problems));
    if (document == data::kCommands) {
        project.library.commands.clear();
        project.library.commands.insert(entries.begin(), entries.end());
        project.library.commands.erase("");
    }
}

void takePaper(model::Project& project, std::string_view document, const model::DataEntries& entries) {
    const data::Foldered* folder = data::folderOf(document);
    if (folder != &data::kRecipes && folder != &data::kReceivers) return;
    model::Library::Papers& all = folder == &data::kRecipes ? project.library.recipes : project.library.receivers;
    const std::string name(data::nameIn(*folder, document));
    if (const auto own = entries.find(""); own != entries.end())
        all[name] = own->second;
    else
        all.erase(name);
}

void takeRecords(model::Project& project, const std::string& document, const model::DataEntries& entries,
                 std::vector<std::string>& problems) {
    const std::string name(data::recordsIn(document));
    const auto head = entries.find("");
    if (head == entries.end()) return project.library.removeRecords(name);
    model::RecordType type;
    type.name = name;
    const model::ValueReader read{head->second, problems};
    type.label = name;
    read.text("label", type.label);
    for (const auto& [key, values] : entries)
        if (const model::Value* label = model::valueOf(values, "name");
            label != nullptr && !std::holds_alternative<std::string>(label->data))
            problems.push_back(fmt::format("{}.name: text was expected.", key));
    type.help = model::textOf(head->second, "help");
    // A record type's schema is written as a kind's is.
    type.properties = model::kindFrom(head->second, problems).properties;
    for (const auto& [key, values] : entries)
        if (const auto id = base::parseObjectId(key))
            type.records[*id] = {*id, model::textOf(values, "name", key), values};
    project.library.putRecords(std::move(type));
}

}  // namespace io
