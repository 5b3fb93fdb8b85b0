#pragma once
// Handing over and taking in by the command line: recipes, receivers, lists that come back, the project's commands.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addHandCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
