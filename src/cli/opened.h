#pragma once
// A project as a verb of `mellow` has it open, and where it speaks.
#include <iosfwd>

#include "check/rule.h"
#include "cli/commands.h"
#include "script/behaviours.h"

namespace cli {

struct Streams {
    std::ostream& out;
    std::ostream& err;
    int fail(const base::Error& error) const;
};

/// A project with the one scene that was named, or all of them.
struct Opened {
    std::unique_ptr<io::Workspace> workspace;
    std::vector<std::string> scenes;
    std::unique_ptr<script::Behaviours> behaviours;
    edit::Session& session() const { return *workspace->session; }
};

/// `path` is a project's folder, its project.json, or a scene file in it. Errors: NotFound; those of openWorkspace.
base::Result<Opened> open(const std::filesystem::path& path, io::OpenMode mode, const io::Chance& chance);

/// The project's scripts. What cannot be read of them is told.
script::Shelf shelfOf(const Opened& opened, const Streams& io);
/// The editor's rules and those of the project's scripts.
std::shared_ptr<const std::vector<check::Rule>> rulesOf(const Opened& opened, const Streams& io);

/// The project's scripts have a say in every step from now on, as they have in the window.
void useBehaviours(Opened& opened, const Streams& io, const io::Chance& chance);

void warnOfDamage(const io::Workspace& workspace, const Streams& io);

/// Writes every scene and prefab that has changed. Gives the exit code.
int saveAll(io::Workspace& workspace, const Streams& io);

}  // namespace cli
