#pragma once
// A step's payload as bytes, for the ledger. Columnar: each field of a bulk change is one array, "after" XORed
// with "before", bytes of equal weight together, the whole compressed with zstd. docs/formats/ledger.md has the
// grammar.
#include <string>
#include <string_view>
#include <vector>

#include "base/names.h"
#include "base/result.h"
#include "model/change.h"

namespace edit {

/// What a step holds beyond its row in the ledger.
struct StepData {
    std::vector<model::ChangeSet> changes;
    std::vector<base::ObjectId> selectionBefore;
    std::vector<base::ObjectId> selectionAfter;
};

std::string encode(const StepData& data, const base::NameTable& names);

/// Interns the names it meets. Errors: BadInput when the bytes are not what encode writes.
base::Result<StepData> decode(std::string_view bytes, base::NameTable& names);

/// A file's text, compressed, as the ledger keeps it; empty: it is too large to be kept.
std::string packText(std::string_view text);
/// Errors: BadInput when it is not what packText made.
base::Result<std::string> unpackText(std::string_view packed);

}  // namespace edit
