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

/// Who walks through the level: what can be reached on foot follows from it.
struct Walker {
    double eyeHeight = 1.65;   ///< metres above the feet
    double stepHeight = 0.4;   ///< metres that one foot can climb at once
    double slopeDegrees = 45;  ///< steeper ground is not walked on
    double radius = 0.3;       ///< how near to a wall, metres
    double metresPerSecond = 2.4;
    friend bool operator==(const Walker&, const Walker&) = default;
};

struct Project {
    std::filesystem::path folder;
    std::string name;
    std::string firstScene;                  ///< the one shown when the project is opened
    std::vector<std::string> sceneNames;     ///< sorted; each a file in scenes/
    std::vector<base::ObjectId> prefabs;     ///< those that have a file in prefabs/
    std::vector<std::string> dataDocuments;  ///< of project data, those that have a file
    Walker walker;
    std::string unknownKeys;                                                       ///< of project.json, as in Detail
    std::shared_ptr<base::NameTable> names = std::make_shared<base::NameTable>();  // scenes and snapshots share it
    Library library;
};

}  // namespace model
