#pragma once
// `mellow ledger`: looking the history through, repairing it, starting a new one.
#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

void addLedgerCommands(CLI::App& app, const Verbs& verbs);

}  // namespace cli
