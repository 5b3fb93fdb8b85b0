#pragma once
// Lua in a sandbox: a script changes a scene through one draft, or not at all. No file, network or process; memory,
// instructions, patterns and repeats are bounded; chance and time are passed in. docs/scripting.md has the functions.
// Threads: one run at a time on the thread of the draft; `cancel` may be set from any.
#include <atomic>
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "edit/draft.h"

namespace script {

struct Limits {
    std::size_t memoryBytes = std::size_t{256} << 20;
    std::uint64_t instructions = 500'000'000;  ///< work on long texts and tables counts as many as it takes
    double seconds = 120;                      ///< of the machine's clock, whatever the rest says
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
};

/// Why a run ended before its end.
enum class Ending { Done, Error, Cap, Refused, Cancelled };

struct Outcome {
    Ending ending = Ending::Done;
    std::string message;             ///< with file, line, call chain and the object at hand
    std::vector<std::string> said;   ///< by say() and print(), in order
    std::uint64_t instructions = 0;  ///< about as many were used
};

/// Runs it. Unless it is Done the draft is to be rolled back: what was written until then is still there.
Outcome run(edit::Draft& draft, const Source& source, const Settings& settings);

/// The functions a script can call, each with its arguments and one line of help, in the order of the manual.
struct Function {
    std::string name, arguments, help;
};
const std::vector<Function>& functions();

}  // namespace script
