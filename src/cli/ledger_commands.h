#pragma once
// `mellow ledger`: looking the history through, repairing it, starting a new one.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

struct LedgerVerbs {
    const Streams& io;
    int& code;  ///< what `mellow` will return
};
void addLedgerCommands(CLI::App& app, const LedgerVerbs& verbs);

}  // namespace cli
