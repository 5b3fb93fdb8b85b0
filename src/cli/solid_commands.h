#pragma once
// Solids for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

/// `mellow solid add|clip|open|close|plain|subtract|join|intersect|hollow|apart|move-face|extrude|dress`.
void addSolidCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
