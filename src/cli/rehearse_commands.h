#pragma once
// `mellow rehearse`, `settle` and `report`: playing without a window, for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addRehearseCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
