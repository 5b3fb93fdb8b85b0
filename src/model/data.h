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
                                  kMixes = "@mixes", kSets = "@sets",
                                  kAdded = "@added";  ///< files that steps brought into the project
/// Those in a file of their name, "surfaces.jsonl", with a line for each of what they hold, known by its name.
inline constexpr std::string_view kNamed[] = {kSurfaces, kGuises, kMixes, kSets};
constexpr bool isNamed(std::string_view document) {
    for (const std::string_view one : kNamed)
        if (document == one) return true;
    return false;
}
std::string kindDocument(std::string_view kind);
std::string recordsDocument(std::string_view type);
/// The kind, or the record type, that a document holds; empty: it is another one.
std::string_view kindIn(std::string_view document);
std::string_view recordsIn(std::string_view document);
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
