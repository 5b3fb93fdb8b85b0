#pragma once
// `mellow check`: what a playtest would find, for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addCheckCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
