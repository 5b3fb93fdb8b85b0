#pragma once
// Looking a ledger through, and making a sound one of what can still be read.
#include <filesystem>
#include <string>
#include <vector>

#include "base/result.h"
#include "edit/history.h"

namespace edit {

struct LedgerReport {
    std::size_t steps = 0, withSum = 0, damaged = 0, missing = 0, saves = 0;
    std::size_t lost = 0;  ///< steps that an earlier repair could not take over
    std::uint64_t bytes = 0;
    StepId present = kRoot;
    std::vector<std::string> problems;  ///< sentences; empty: it is sound
};
/// Reads every record, payloads too; changes nothing. Errors: BadLedger (nothing of it can be read), Io.
base::Result<LedgerReport> checkLedger(const std::filesystem::path& file);

struct LedgerRepair {
    LedgerReport report;  ///< of the new one
    std::size_t kept = 0, marked = 0;
    std::filesystem::path old;  ///< where the old one is now
};
/// Takes over what can be read. Steps that cannot become ones that nobody gets past, in their place, so that what comes
/// after them stays. To be called by whoever holds the project's lock. Errors: those of check, Io; the ledger is then
/// as it was.
base::Result<LedgerRepair> repairLedger(const std::filesystem::path& file);
/// Puts the whole new ledger of a repair that was cut at its end in its place. Gives where the old one is now; empty:
/// there was nothing to finish. By the lock's holder, before the ledger is opened.
base::Result<std::filesystem::path> finishRepair(const std::filesystem::path& file);
/// Moves a ledger to the first free name beside it, and gives that. Cut on the way, it is still where it was, or all
/// aside. By the lock's holder. Errors: Io.
base::Result<std::filesystem::path> setLedgerAside(const std::filesystem::path& file);

}  // namespace edit
