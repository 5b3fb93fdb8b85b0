#pragma once
// Looking a project through, or one file of it: what its readers find, and what the published schemas say.
#include <filesystem>
#include <string>
#include <utility>
#include <vector>

#include "io/damage.h"

namespace io {

struct Validation {
    std::vector<Damage> damage;
    /// How many of each sort were looked at: {"scenes", 3}, … What there is none of is left out.
    std::vector<std::pair<std::string, std::size_t>> counts;
};

/// Everything in a project's folder but scripts: project.json, scenes, prefabs (also that none holds itself), kinds,
/// records, models, images, surfaces, checks.
Validation validateProject(const std::filesystem::path& folder);

/// One file, by what it is called. Of what we have no format for: damage that says so.
Validation validateFile(const std::filesystem::path& file);

}  // namespace io
