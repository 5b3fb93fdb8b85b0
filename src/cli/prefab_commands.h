#pragma once
// `mellow prefab ...`, and what `mellow list` says of instances.
#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/opened.h"

namespace cli {

struct PrefabVerbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;  ///< what `mellow` will return
};
void addPrefabCommands(CLI::App& app, const PrefabVerbs& verbs);

/// Adds to an object's line: of which prefab it is an instance; that it lies inside one, and what differs.
void addPrefab(nlohmann::ordered_json& line, const edit::Session& session, const model::Scene& scene, model::Slot slot);

}  // namespace cli
