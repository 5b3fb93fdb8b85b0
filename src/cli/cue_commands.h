#pragma once
// `mellow cues`: the catalogue of what happens when.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addCueCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
