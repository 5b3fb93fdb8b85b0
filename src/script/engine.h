#pragma once
// Lua in a sandbox: a script changes a scene through one draft, or not at all. No file, network or process; memory,
// instructions, patterns and repeats are bounded; chance and time are passed in. docs/scripting.md has the functions.
// Threads: one program at a time on the thread of the draft; `cancel` may be set from any.
#include <atomic>
#include <functional>
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "check/facts.h"
#include "edit/draft.h"
#include "query/scene_index.h"
#include "script/datum.h"
#include "script/said.h"

namespace script {

struct Limits {
    std::size_t memoryBytes = std::size_t{256} << 20;
    std::uint64_t instructions = 500'000'000;           ///< work on long texts and tables counts as many as it takes
    double seconds = 120;                               ///< of the machine's clock, whatever the rest says
    std::size_t objects = 1'000'000;                    ///< that it makes
    std::size_t writtenBytes = std::size_t{256} << 20;  ///< texts, once for each object they are written to
};

struct Source {
    std::string name;  ///< what messages call it: "even-spacing.lua"
    std::string text;
    /// The text of a module that `require` asks for, by name; nothing: there is none.
    std::function<std::optional<std::string>(const std::string&)> module;
};

struct Settings {
    std::map<std::string, std::string> args;
    Limits limits;
    std::uint64_t seed = 1;
    std::int64_t nowMs = 0;
    const std::atomic<bool>* cancel = nullptr;
    /// Asked a few times a second; `share` is how far the script says it has come. False: call it off.
    std::function<bool(double share, const std::string& what)> pulse;
    query::Shapes shapes;  ///< for what asks where surfaces are; null: that is refused
    /// Gives what knows where things are in the scene, if somebody keeps that up to date; null, or gives null: it is
    /// made when it is asked for.
    std::function<const query::SceneIndex*()> index;
    std::string command;   ///< which of its commands to run; empty: the only one
    model::ValueMap form;  ///< what the command's fields hold; what is missing has its default
};

/// Why a run ended before its end.
enum class Ending { Done, Error, Cap, Refused, Cancelled };

/// A file that is written once the step is kept, inside the project.
struct FileOut {
    std::string name;  ///< relative to the project's folder
    std::string bytes;
};
/// Writes them. Errors: Refused for what leads out; Io.
base::Status keepFiles(const std::filesystem::path& project, std::span<const FileOut> files);

struct Outcome {
    Ending ending = Ending::Done;
    std::string message;             ///< with file, line, call chain and the object at hand
    int line = 0;                    ///< of the script's own file, where it happened; 0: not there
    std::vector<Said> said;          ///< by say() and print(), in order
    std::vector<Mark> marks;         ///< drawn by it
    std::vector<FileOut> files;      ///< for whoever keeps the step
    std::uint64_t instructions = 0;  ///< about as many were used
    bool done() const { return ending == Ending::Done; }
};

/// What a file declares, without any scene. Errors: those of reading it, and of what is declared wrongly: the outcome.
struct Reading {
    Declared declared;
    Outcome outcome;
    bool acts = false;  ///< it asks for the scene at once: it is to be run. Else a plain one is a module
};
Reading declare(const Source& source, const Limits& limits = {});

/// Runs it: a plain one as it stands, else the command that the settings name. Unless it is Done the draft is to be
/// rolled back: what was written until then is still there.
Outcome run(edit::Draft& draft, const Source& source, const Settings& settings);

/// One that ended before it began.
Outcome failed(Ending ending, std::string message);

/// A scene and what is known of its project, as they were at a moment: for what looks at them on a worker.
struct Snapshot {
    const model::Scene* scene = nullptr;
    const check::Facts* facts = nullptr;
};

/// What a program works on.
struct Place {
    using MayTouch = std::function<bool(base::ObjectId)>;
    /// The draft's scene, which can be written. `may`: to this object? Null: to all. Else it cannot create or remove.
    explicit Place(edit::Draft& writing, MayTouch may = {})
        : session(&writing.session()), document(writing.scene().name()), draft(&writing), mayTouch(std::move(may)) {}
    /// A scene that is only looked at.
    Place(edit::Session& of, std::string scene) : session(&of), document(std::move(scene)) {}
    /// The same on any thread; it may become another one from call to call.
    explicit Place(const Snapshot& of) : snapshot(&of) {}

    edit::Session* session = nullptr;  ///< null: the snapshot is looked at
    std::string document;
    edit::Draft* draft = nullptr;  ///< null: nothing can be written
    MayTouch mayTouch;
    const Snapshot* snapshot = nullptr;
};

/// A file that was read, to be asked several things. What it says and draws is that of the last call.
class Program {
  public:
    /// `acts`: it may change the scene while it is read, if it declares nothing before.
    Program(const Source& source, const Settings& settings, const Place& place, bool acts = false);
    ~Program();
    Program(const Program&) = delete;
    Program& operator=(const Program&) = delete;

    /// Was it read? All else fails as this did.
    const Outcome& outcome() const;
    const Declared& declared() const;
    Outcome command(std::size_t index, const model::ValueMap& form);
    /// Can the command be run now?
    Outcome enabled(std::size_t index, bool& is);
    /// What the command draws while its form is open.
    Outcome marks(std::size_t index, const model::ValueMap& form);
    /// Of behaviours. `before` is what changed: keys with their old values.
    using Before = std::vector<std::pair<std::string, Datum>>;
    /// `reason` stays empty when it may be.
    Outcome allow(std::size_t index, base::ObjectId object, const Before& before, std::string& reason);
    Outcome changed(std::size_t index, base::ObjectId object, const Before& before);
    Outcome opened(std::size_t index, base::ObjectId object);
    Outcome look(std::size_t index, base::ObjectId object, Look& look);
    /// Of checks. `object` is zero for one of the scene as a whole. Each call may use the whole budget.
    Outcome find(std::size_t index, base::ObjectId object, const model::ValueMap& parameters,
                 std::vector<Found>& found);
    Outcome fix(std::size_t index, const Found& found, const model::ValueMap& parameters);
    /// Did it ask for this one of its settings' arguments?
    bool askedFor(const std::string& argument) const;
    /// Objects that were looked at by the last call, besides the one it was about.
    const std::vector<base::ObjectId>& lookedAt() const;
    /// A handle of the last marks() or look() was put there: its number among the marks of that sort.
    Outcome moved(std::size_t handle, base::ObjectId object, const base::Vec3& to);

    struct Body;

  private:
    Outcome ask(const char* what, const Data& arguments);
    std::unique_ptr<Body> body_;
};

/// The functions a script can call, each with its arguments and one line of help, in the order of the manual.
struct Function {
    std::string name, arguments, help;
};
const std::vector<Function>& functions();

}  // namespace script
