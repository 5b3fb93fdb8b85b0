#pragma once
// A project: the folder's data in memory. Scenes are loaded when first needed.
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "base/names.h"
#include "model/library.h"
#include "model/project_facts.h"
#include "model/scene.h"

namespace model {

struct Project : ProjectFacts {
    std::filesystem::path folder;
    std::vector<std::string> sceneFiles;     ///< those that have a file in scenes/, sorted
    std::vector<std::string> sceneNames;     ///< those there are, in their order
    std::vector<base::ObjectId> prefabs;     ///< those that have a file in prefabs/
    std::vector<std::string> dataDocuments;  ///< of project data, those that have a file
    std::shared_ptr<base::NameTable> names = std::make_shared<base::NameTable>();  // scenes and snapshots share it
    Library library;
};

}  // namespace model
