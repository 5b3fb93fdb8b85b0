#pragma once
// `mellow prefab ...`, and what `mellow list` says of instances.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addPrefabCommands(CLI::App& app, const Verbs& verbs);

/// What an object's line says of prefabs.
struct PrefabFacts {
    std::string prefab;                    ///< it is an instance of this one; empty: of none
    std::string instance;                  ///< the id of the outermost instance that it lies inside of; empty: none
    std::vector<std::string> differences;  ///< "position", "properties.oil", "added"
};
PrefabFacts prefabFacts(const edit::Session& session, const model::Scene& scene, model::Slot slot);

}  // namespace cli
