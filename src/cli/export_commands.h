#pragma once
// What leaves a project by the command line: scenes, items and prefabs as glTF.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addExportCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
