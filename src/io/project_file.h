#pragma once
// project.json and kinds/*.kind.json: docs/formats/project.md.
#include <filesystem>
#include <map>
#include <vector>

#include "base/result.h"
#include "io/damage.h"
#include "model/project.h"

namespace io {

/// What project.json says of an item, beyond what its model shows.
struct ItemEntry {
    std::string name, label, category, kind;
    model::CollisionShape collision = model::CollisionShape::Mesh;
};

struct ParsedProject {
    model::Project project;  ///< kinds are in its library; items are not yet
    std::vector<ItemEntry> items;
    std::map<base::ObjectId, std::filesystem::path> prefabFiles;
    std::vector<Damage> damage;
};

/// Reads a project's folder: project.json, kinds and the list of scenes. `path` is the folder or its project.json.
/// Errors: NotFound (no project there), BadInput (project.json unreadable), Unsupported (newer version).
base::Result<ParsedProject> readProject(const std::filesystem::path& path);

std::string formatProject(const model::Project& project, const std::vector<ItemEntry>& items);
std::string formatKind(const model::Kind& kind);
base::Result<model::Kind> parseKind(std::string_view text, const std::string& file, std::vector<Damage>& damage);

/// A prefab is called what its file is called.
std::filesystem::path prefabFile(const std::filesystem::path& folder, const std::string& name);
std::string prefabNameOf(const std::filesystem::path& file);
std::filesystem::path sceneFile(const std::filesystem::path& folder, const std::string& scene);

}  // namespace io
