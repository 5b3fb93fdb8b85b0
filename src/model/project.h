#pragma once
// A project: the folder's data in memory. Scenes are loaded when first needed.
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

#include "base/names.h"
#include "model/library.h"
#include "model/scene.h"

namespace model {

struct Project {
    std::filesystem::path folder;
    std::string name;
    std::string firstScene;               ///< the one shown when the project is opened
    std::vector<std::string> sceneNames;  ///< sorted; each a file in scenes/
    std::string unknownKeys;              ///< of project.json, as in Detail
    std::shared_ptr<base::NameTable> names = std::make_shared<base::NameTable>();  // scenes and snapshots share it
    Library library;
};

}  // namespace model
