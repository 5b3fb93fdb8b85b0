#pragma once
// What each record of the ledger is held to: XXH3-64 of what it says. docs/formats/ledger.md. For this room's sources.
#include <fmt/format.h>

#include "base/hash.h"
#include "edit/history.h"
#include "edit/ledger.h"

namespace edit {

inline std::int64_t sumOf(std::string_view text) {
    return static_cast<std::int64_t>(base::hashBytes(text));
}
inline std::int64_t headSum(const StepInfo& s) {
    return sumOf(fmt::format("{}|{}|{}|{}|{}|{}|{}", s.id, s.parent, s.name, fmt::join(s.scenes, "\n"), s.timeMs, s.rows,
                             s.barrier ? 1 : 0));
}
inline std::int64_t bodySum(std::string_view payload) {
    return sumOf(payload);
}
inline std::int64_t saveSum(const SaveMark& m) {
    return sumOf(fmt::format("{}|{}|{}|{}|{}", m.scene, m.step, m.hash, m.size, m.timeMs));
}
inline std::int64_t presentSum(StepId id) {
    return sumOf(fmt::format("present {}", id));
}

}  // namespace edit
