#pragma once
// The verbs of `mellow`. Data goes to `out`, messages to `err`; what is returned is the process' exit code.
#include <filesystem>
#include <iosfwd>
#include <string>
#include <vector>

#include "io/workspace.h"

namespace cli {

namespace exitCode {
constexpr int kFine = 0;           ///< done
constexpr int kFindings = 1;       ///< validate-file, ledger check: there are problems
constexpr int kUsage = 2;          ///< the arguments make no sense
constexpr int kFailed = 3;         ///< it could not be done; the message says why
constexpr int kScriptError = 4;    ///< a script has an error
constexpr int kScriptCap = 5;      ///< a script used up its memory or its instructions
constexpr int kScriptRefused = 6;  ///< a script asked for what a verb refused
constexpr int kCheckCautions = 7;  ///< check: found cautions, and no errors
constexpr int kCheckErrors = 8;    ///< check: found errors
constexpr int kNotWritten = 9;     ///< the step is kept in the history, but a file was not written
constexpr int kScriptBroken = 10;  ///< a script of the project cannot be read
}  // namespace exitCode

/// Runs `mellow` with its arguments (without the program's name).
int run(const std::vector<std::string>& arguments, io::Chance chance, std::ostream& out, std::ostream& err);

}  // namespace cli
