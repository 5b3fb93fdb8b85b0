#pragma once
// `mellow scene`: scenes as wholes.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addSceneCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
