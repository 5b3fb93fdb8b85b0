#pragma once
// project.json: docs/formats/project.md.
#include <filesystem>
#include <map>
#include <vector>

#include "base/result.h"
#include "io/damage.h"
#include "io/data_file.h"
#include "model/project.h"

namespace io {

struct ParsedProject {
    model::Project project;  ///< its library is still empty
    std::map<base::ObjectId, std::filesystem::path> prefabFiles;
    std::vector<Damage> damage;
};

/// Reads a project's folder: what project.json says of the whole, and what other files there are. `path` is the folder
/// or its project.json. Errors: NotFound (no project there), BadInput (project.json unreadable), Unsupported (newer
/// version).
base::Result<ParsedProject> readProject(const std::filesystem::path& path);

/// What project.json says of the whole; one without a name is called as its folder.
void takeFacts(model::Project& project, const model::ValueMap& head, std::vector<std::string>& problems);
std::string formatProject(const model::ProjectFacts& facts, const std::vector<ItemEntry>& items);
std::string formatKind(const model::Kind& kind);
base::Result<model::Kind> parseKind(std::string_view text, const std::string& file, std::vector<Damage>& damage);

/// A prefab is called what its file is called.
std::filesystem::path prefabFile(const std::filesystem::path& folder, const std::string& name);
std::string prefabNameOf(const std::filesystem::path& file);
std::filesystem::path sceneFile(const std::filesystem::path& folder, const std::string& scene);
/// Where the file of a scene that was deleted waits, in case that is taken back.
std::filesystem::path removedScene(const std::filesystem::path& folder, const std::string& scene);
/// The scenes that have a file, be it one that waits.
std::vector<std::string> sceneNamesIn(const std::filesystem::path& folder, std::vector<Damage>& damage);

}  // namespace io
