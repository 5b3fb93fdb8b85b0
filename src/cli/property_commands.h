#pragma once
// `mellow get`, `mellow set`, `mellow items`: properties and what the Stock offers.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct PropertyVerbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;
};
void addPropertyCommands(CLI::App& app, const PropertyVerbs& verbs);

}  // namespace cli
