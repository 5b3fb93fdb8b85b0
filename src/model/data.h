#pragma once
// Project data that is no scene: kinds, record types with their records, surfaces, what is said of items. Each file is
// one document of the history, like a scene without objects, and holds entries by key. Documents are known by names
// that start with "@".
#include <map>
#include <string>
#include <string_view>

#include "model/value.h"

namespace model {

/// By key. A kind's file has one entry, "": the kind. A record type's has the type as "" and a record by each id.
using DataEntries = std::map<std::string, ValueMap>;

namespace data {

inline constexpr std::string_view kItems = "@items", kSurfaces = "@surfaces", kChecks = "@checks", kGuises = "@guises",
                                  kMixes = "@mixes", kSets = "@sets", kCommands = "@commands",
                                  kAdded = "@added";  ///< files that steps brought into the project
/// Those in a file of their name, "surfaces.jsonl", with a line for each of what they hold, known by its name.
inline constexpr std::string_view kNamed[] = {kSurfaces, kGuises, kMixes, kSets, kCommands};
constexpr bool isNamed(std::string_view document) {
    for (const std::string_view one : kNamed)
        if (document == one) return true;
    return false;
}
/// Those that have a folder of their own, a file each: "@kind/lantern" is kinds/lantern.kind.json.
struct Foldered {
    std::string_view prefix, folder, ending, format;
    bool isLined = false;  ///< a head and a line for each entry, else one object
};
inline constexpr Foldered kKinds{"@kind/", "kinds", ".kind.json", "mellow-kind"},
    kRecords{"@records/", "records", ".records.jsonl", "mellow-records", true},
    kRecipes{"@recipe/", "recipes", ".recipe.json", "mellow-recipe"},
    kReceivers{"@receiver/", "receivers", ".receiver.json", "mellow-receiver"};
inline constexpr const Foldered* kFoldered[] = {&kKinds, &kRecords, &kRecipes, &kReceivers};
/// Null: it is another one.
const Foldered* folderOf(std::string_view document);
/// What a document of that folder is called; empty: it is another one.
std::string_view nameIn(const Foldered& folder, std::string_view document);
std::string documentIn(const Foldered& folder, std::string_view name);
/// Where it lies in the project's folder: "kinds/lantern.kind.json", "surfaces.jsonl".
std::string fileOf(std::string_view document);

inline std::string kindDocument(std::string_view kind) {
    return documentIn(kKinds, kind);
}
inline std::string recordsDocument(std::string_view type) {
    return documentIn(kRecords, type);
}
/// The kind, or the record type, that a document holds; empty: it is another one.
inline std::string_view kindIn(std::string_view document) {
    return nameIn(kKinds, document);
}
inline std::string_view recordsIn(std::string_view document) {
    return nameIn(kRecords, document);
}
inline bool isData(std::string_view document) {
    return document.starts_with('@');
}

}  // namespace data

/// Can it be the name of a document of the history: a scene's, a definition's ("#" and its id), one of project data?
/// None leads anywhere but to a file of its own.
bool isDocument(std::string_view name);

/// What a map has under a key; null: nothing.
const Value* valueOf(const ValueMap& map, std::string_view key);
/// Puts a value under a key, in its place if it has one.
void setValue(ValueMap& map, std::string_view key, Value value);
void eraseValue(ValueMap& map, std::string_view key);

// What a map has under a key when it is of that type, else `otherwise`.
std::string textOf(const ValueMap& map, std::string_view key, std::string otherwise = {});
double numberOf(const ValueMap& map, std::string_view key, double otherwise);
bool boolOf(const ValueMap& map, std::string_view key, bool otherwise);
/// The texts in a list.
std::vector<std::string> textsOf(const ValueMap& map, std::string_view key);
/// A number, whole or not; nothing: it is none.
const double* asNumber(const Value& value, double& room);

}  // namespace model
