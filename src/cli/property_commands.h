#pragma once
// `mellow get`, `mellow set`, `mellow items`: properties and what the Stock offers.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct PropertyVerbs {
    io::Chance chance;
    Streams io;
    int& code;
};
void addPropertyCommands(CLI::App& app, const PropertyVerbs& verbs);

}  // namespace cli
