#pragma once
// Outfits, guises and berths for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addDressCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
