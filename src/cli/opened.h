#pragma once
// A project as a verb of `mellow` has it open, and where it speaks.
#include <iosfwd>

#include "check/rule.h"
#include "cli/commands.h"
#include "ops/acts.h"
#include "ops/relations.h"
#include "script/behaviours.h"

namespace cli {

struct Streams {
    std::ostream& out;
    std::ostream& err;
    bool overwrite = false;  ///< files that others have written, or that are there already, may be written over
    int fail(const base::Error& error) const;
};

/// What the verbs of the command line are given.
struct Verbs {
    const io::Chance& chance;
    const Streams& io;
    int& code;  ///< what `mellow` will return
};

/// A project with the one scene that was named, or all of them.
struct Opened {
    std::unique_ptr<io::Workspace> workspace;
    std::vector<std::string> scenes;
    bool isWhole = false;  ///< the project was named, not one scene
    std::unique_ptr<script::Behaviours> behaviours = nullptr;
    std::unique_ptr<ops::RelationKeeper> relations = nullptr;
    std::unique_ptr<ops::ActKeeper> acts = nullptr;
    edit::Session& session() const { return *workspace->session; }
    /// What the project’s scripts, lasting relations and acts make of a step.
    base::Status haveSay(edit::Draft& draft) const;
};

/// `path` is a project's folder, its project.json, or a scene file in it. Errors: NotFound; those of openWorkspace.
base::Result<Opened> open(const std::filesystem::path& path, io::OpenMode mode, const io::Chance& chance);

/// The project's scripts.
script::Shelf shelfOf(const Opened& opened);
/// What is wrong with scripts that cannot be read.
std::vector<std::string> brokenScripts(const script::Shelf& shelf, const std::filesystem::path& but = {});

/// The project's scripts have a say in every step from now on, as they have in the window. False: one of them cannot be
/// read (told), other than `but`; then nothing is to be done.
bool useBehaviours(Opened& opened, const Streams& io, const io::Chance& chance, const std::filesystem::path& but = {});

/// All meshes made ready at once: what gives them may be asked on any thread.
query::Shapes allShapes(const io::Workspace& workspace);

/// A share of a list that several machines do together.
struct Shard {
    std::size_t share = 1, of = 1;
    bool takes(std::size_t ordinal) const { return ordinal % of == share - 1; }
};
/// From "2/8"; empty: all of it. Errors: BadInput.
base::Result<Shard> shardFrom(const std::string& text);

void warnOfDamage(const io::Workspace& workspace, const Streams& io);

/// Writes every document that has changed. Gives the exit code: kNotWritten, and says so, when one could not be.
int saveAll(io::Workspace& workspace, const Streams& io);
/// Runs a verb as one step on a document (empty: the scene that the path names, else the first) and writes the files.
/// Gives the exit code.
int runStep(const std::filesystem::path& path, const Verbs& verbs, std::string document, const std::string& step,
            const std::function<base::Status(const Opened&, edit::Draft&)>& verb);
/// Writes a file that is asked for. Errors: also Refused, when there is one already and nobody said to write over it.
base::Status writeOut(const std::filesystem::path& file, std::string_view bytes, const Streams& io);

}  // namespace cli
