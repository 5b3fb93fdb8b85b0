#pragma once
// `mellow scene`: scenes as wholes.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct SceneVerbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;
};
void addSceneCommands(CLI::App& app, const SceneVerbs& verbs);

}  // namespace cli
