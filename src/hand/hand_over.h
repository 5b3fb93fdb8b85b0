#pragma once
// Handing a scene over to a receiver: first everything that would be written, so that it can be looked at, then all of
// it or nothing; what was written over is kept once and can be put back.
#include <filesystem>
#include <map>
#include <string>
#include <vector>

#include "hand/command.h"
#include "hand/receiver.h"
#include "io/workspace.h"

namespace hand {

/// One file that would be written.
struct Delivery {
    std::filesystem::path file;
    std::string bytes;
    enum class State { New, Changed, Same } state = State::New;
    std::string from;         ///< the recipe, "glTF", "entered", "copied"
    std::size_t entries = 0;  ///< of a list
};
struct HandOverPlan {
    std::string receiver, scene;
    std::vector<Delivery> files;
    std::vector<std::string> remarks;               ///< rounded, not expressible, left out and why
    std::map<std::string, std::size_t> passedOver;  ///< by recipe: what its filter does not take
    std::vector<std::filesystem::path> outside;     ///< files that lie outside of the project
    std::vector<Command> commands;                  ///< that would be run
    Words words;                                    ///< for them
};
/// Writes nothing. Errors: NotFound; Refused for a scratch scene, and for files that are the project's own; BadInput
/// naming what is wrong in the receiver, a recipe, or a settings file.
base::Result<HandOverPlan> planHandOver(const io::Workspace& workspace, const model::Scene& scene,
                                        const std::string& receiver);

/// Errors: Refused when files lie outside and that was not said to be fine; Io: then what was written is put back.
base::Status deliver(const io::Workspace& workspace, const HandOverPlan& plan, bool outsideIsFine);

/// What the last hand-over to a receiver wrote over lies as it was; what it made new goes. Files that others have
/// written since stay, and those outside of the project unless that was said to be fine: what was kept may have come
/// with a project from elsewhere. They are named. Errors: NotFound, when there is nothing to put back; Io.
base::Result<std::vector<std::string>> putBack(const io::Workspace& workspace, const std::string& receiver,
                                               bool outsideIsFine = false);
/// By which one knows again what one has kept oneself; empty: nothing is.
std::string keptMark(const io::Workspace& workspace, const std::string& receiver);
/// Is there something to put back?
bool canPutBack(const io::Workspace& workspace, const std::string& receiver);

}  // namespace hand
