#pragma once
// New projects and new scenes that already have what a scene needs.
#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "io/workspace.h"

namespace io {

struct Template {
    std::string name;
    std::string description;
};
/// "ground" and "empty".
const std::vector<Template>& templates();
/// Those, and "required": what the kinds of an open project require.
const std::vector<Template>& sceneTemplates();

/// Makes a project in a new or empty folder, with one scene called "first". Errors: BadInput (unknown template, folder
/// not empty), Io.
base::Status createProject(const std::filesystem::path& folder, const std::string& templateName, std::uint64_t seed);

/// Adds a scene to an open project, within the draft's step. Errors: as edit::addScene; unknown template.
base::Status createScene(Workspace& workspace, edit::Draft& draft, const std::string& name,
                         const std::string& templateName);

}  // namespace io
