#pragma once
// `mellow routes`: what routes measure, and what stands along them.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addRouteCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
