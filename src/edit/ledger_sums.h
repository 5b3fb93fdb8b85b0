#pragma once
// What each record of the ledger is held to: XXH3-64 of what it says. docs/formats/ledger.md. For this room's sources.
#include "edit/history.h"
#include "edit/ledger.h"

namespace edit {

std::int64_t headSum(const StepInfo& step);
std::int64_t bodySum(std::string_view payload);
std::int64_t saveSum(const SaveMark& mark);
std::int64_t presentSum(StepId id);

}  // namespace edit
