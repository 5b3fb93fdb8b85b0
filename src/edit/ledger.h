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

/// A document's file: which step it holds.
struct SaveMark {
    std::string scene;
    StepId step = kRoot;
    std::uint64_t hash = 0;  ///< base::hashBytes of the file
    std::uint64_t size = 0;
    std::int64_t timeMs = 0;  ///< 0: found as it was, not written by us
    bool placed = true;       ///< false: announced, and perhaps never put in place
    bool isOf(std::uint64_t fileHash, std::uint64_t fileSize) const { return hash == fileHash && size == fileSize; }
};

class Ledger {
  public:
    /// Opens or makes the ledger; one whose making was cut is made anew. Read-only: nothing is created or written, also
    /// where nothing can be; a missing one is empty. Errors: BadLedger (damaged, none of ours, newer), Io.
    static base::Result<std::unique_ptr<Ledger>> open(const std::filesystem::path& file, bool readOnly);
    /// One that holds nothing and keeps nothing.
    static std::unique_ptr<Ledger> none();
    /// Waits for what is being written.
    ~Ledger();

    /// Steps whose record is damaged are marked so. Errors: BadLedger.
    base::Result<History> history() const;
    /// Those that can be trusted. Errors: BadLedger.
    base::Result<std::vector<SaveMark>> saves() const;

    /// Writes a step and makes it the present one. Errors: Io, also of an earlier bulk step that could not be written.
    base::Status append(const StepInfo& info, std::shared_ptr<const StepData> data, const base::NameTable& names);
    /// One whose payload is packed already, as another ledger has it; empty: it is lost, and nobody gets past this
    /// step.
    base::Status appendPacked(const StepInfo& info, std::string_view payload);
    base::Status setPresent(const History& history);
    /// `packed`: what the file holds, by packText; kept for each document's last one.
    base::Status addSave(const SaveMark& mark, std::string_view packed = {});
    /// The last save of this document that was announced is in place.
    base::Status confirmSave(const SaveMark& mark, std::string_view packed);
    /// What a document's file held when it was last read or written. Errors: NotFound; BadLedger.
    base::Result<std::string> keptFile(const std::string& scene, std::uint64_t hash) const;
    /// Errors: NotFound; BadLedger naming the step, when its record is not what was written.
    base::Result<StepData> load(StepId id, base::NameTable& names) const;
    /// Could it be loaded? Errors: as of load.
    base::Status verify(StepId id) const;
    /// Waits until all is on disk.
    base::Status flush();

  private:
    Ledger();
    struct Body;
    std::unique_ptr<Body> body_;
};

}  // namespace edit
