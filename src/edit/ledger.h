#pragma once
// The ledger on disk: SQLite in .mellow/ledger.db, WAL, synchronous FULL. Schema in docs/formats/ledger.md.
// A small step is on disk when append returns. A bulk step is packed and written by a worker, and is on disk
// before anything later is written. Threads: call from one thread.
#include <filesystem>
#include <memory>
#include <optional>
#include <unordered_map>

#include "base/names.h"
#include "base/result.h"
#include "edit/codec.h"
#include "edit/history.h"

namespace edit {

/// A document file we wrote: which step it holds.
struct SaveMark {
    std::string scene;
    StepId step = kRoot;
    std::uint64_t hash = 0;  ///< base::hashBytes of the file
    std::uint64_t size = 0;
    std::int64_t timeMs = 0;  ///< 0: found as it was, not written by us
};

class Ledger {
  public:
    /// Opens or makes the ledger. Read-only: nothing is created or written, a missing one is empty.
    /// Errors: Unsupported (written by a newer version), BadInput (no ledger of ours, damaged), Io.
    static base::Result<std::unique_ptr<Ledger>> open(const std::filesystem::path& file, bool readOnly);
    /// Waits for what is being written.
    ~Ledger();

    base::Result<History> history() const;
    std::vector<SaveMark> saves() const;

    /// Writes a step and makes it the present one. Errors: Io, also of an earlier bulk step that could not be written.
    base::Status append(const StepInfo& info, std::shared_ptr<const StepData> data, const base::NameTable& names);
    base::Status setPresent(const History& history);
    base::Status addSave(const SaveMark& mark);
    base::Result<StepData> load(StepId id, base::NameTable& names) const;
    /// Waits until all is on disk.
    base::Status flush();
    std::uint64_t bytesOnDisk() const;

  private:
    Ledger();
    struct Body;
    std::unique_ptr<Body> body_;
};

}  // namespace edit
