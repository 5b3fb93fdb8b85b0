#pragma once
// `mellow run`: a script over scenes, as one step or nothing.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addScriptCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
