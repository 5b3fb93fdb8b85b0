#pragma once
// Programs that a project names: the game itself, a converter. One is run to its end, its words are passed on line by
// line, and it is stopped with all that it has begun.
#include <filesystem>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "base/progress.h"
#include "base/result.h"
#include "hand/words.h"
#include "model/library.h"

namespace hand {

struct Command {
    std::string name, label, help;
    std::string program;  ///< a name, beside this program or in PATH, or a path from the project's folder
    std::vector<std::string> arguments;  ///< {scene}, {project}, {file}: the first written file, {folder}: its folder
    std::string folder;                  ///< where it runs, from the project's folder; empty: there
    std::string handOver;                ///< what is handed over first: a receiver's name; empty: nothing
    std::map<std::string, std::string> environment;
};
/// What is wrong is named in `problems` and as if not said.
Command commandFrom(const std::string& name, const model::ValueMap& map, std::vector<std::string>& problems);
std::optional<Command> commandNamed(const model::Library& library, const std::string& name,
                                    std::vector<std::string>& problems);

/// As it would be typed.
std::string commandLine(const Command& command, const Words& words);

struct CommandEnd {
    int code = 0;  ///< 128 and the signal's number when one ended it
    bool stopped = false;
};
/// Waits for its end. `line` gets what it says, to either of its outputs, from this thread; `progress` cancelled: it is
/// stopped. Errors: NotFound, Io when it cannot be begun.
base::Result<CommandEnd> run(const Command& command, const std::filesystem::path& project, const Words& words,
                             const std::function<void(const std::string& line)>& line, const base::Progress& progress);

}  // namespace hand
