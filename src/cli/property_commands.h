#pragma once
// `mellow get`, `mellow set`, `mellow items`: properties and what the Stock offers.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addPropertyCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
