#pragma once
// Contact, laying, mixes and lasting relations for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

/// `mellow lay`, `push`, `quarter`, `mix`, `set-of-pieces`, `relate`.
void addLayingCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
