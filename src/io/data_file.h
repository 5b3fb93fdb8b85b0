#pragma once
// Files of project data, each a document of the history: kinds/*.kind.json, records/*.records.jsonl, surfaces.jsonl,
// and the items of project.json. docs/formats/project.md, docs/formats/records.md.
#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "io/damage.h"
#include "model/library.h"
#include "model/project.h"

namespace io {

/// The names of the files in a part of a project's folder that have an ending, without it. What cannot be read, or
/// leads elsewhere, is damage.
std::vector<std::string> namesIn(const std::filesystem::path& folder, const char* part, std::string_view ending,
                                 std::vector<Damage>& damage);
/// The documents that have a file in a project's folder.
std::vector<std::string> dataDocuments(const std::filesystem::path& folder, std::vector<Damage>& damage);
std::filesystem::path dataFile(const std::filesystem::path& folder, std::string_view document);

/// What a file holds. Lines that cannot be read are named in `damage` and left out. Errors: BadInput, Unsupported.
base::Result<model::DataEntries> parseData(std::string_view document, std::string_view text, const std::string& file,
                                           std::vector<Damage>& damage);
/// The file's text. `present`: that of the file as it is, of which project.json keeps what is not about items.
std::string formatData(std::string_view document, const model::DataEntries& entries, std::string_view present);

/// What project.json says of an item, beyond what its model shows.
struct ItemEntry : model::ItemFacts {
    std::string name;
    bool gone = false;  ///< deleted: not offered, and its model's file goes with the next save
    ItemEntry() = default;
    ItemEntry(std::string key, std::string called, std::string listed, std::string placedAs,
              model::CollisionShape bumps = model::CollisionShape::Mesh)
        : name(std::move(key)) {
        label = std::move(called);
        folder = std::move(listed);
        kind = std::move(placedAs);
        collision = bumps;
    }
};
ItemEntry itemEntryFrom(const std::string& name, const model::ValueMap& map, std::vector<std::string>& problems);
model::ValueMap toValues(const ItemEntry& entry);

/// What a placed object starts with, as `facets` has it in a file. Null: nothing.
model::DetailPtr readFacets(const model::ValueMap& facets, std::vector<std::string>& problems);

/// Kinds follow from all the kinds' documents, for one inherits from another; problems are named with their file.
void takeKind(model::Project& project, const std::string& document, const model::DataEntries& entries,
              std::vector<std::string>& problems);
/// Surfaces, guises, mixes, sets of pieces.
void takeNamed(model::Project& project, std::string_view document, const model::DataEntries& entries,
               std::vector<std::string>& problems);
/// Recipes and receivers, as they stand.
void takePaper(model::Project& project, std::string_view document, const model::DataEntries& entries);
void takeRecords(model::Project& project, const std::string& document, const model::DataEntries& entries,
                 std::vector<std::string>& problems);

}  // namespace io
