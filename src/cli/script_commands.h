#pragma once
// `mellow run`: a script over scenes, as one step or nothing.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct ScriptVerbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;
};
void addScriptCommands(CLI::App& app, const ScriptVerbs& verbs);

}  // namespace cli
