#pragma once
// `mellow check`: what a playtest would find, for build machines.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct CheckVerbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;
};
void addCheckCommands(CLI::App& app, const CheckVerbs& verbs);

}  // namespace cli
