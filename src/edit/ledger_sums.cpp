#include "edit/ledger_sums.h"

#include <fmt/format.h>

#include "base/hash.h"

namespace edit {
namespace {

std::int64_t sumOf(std::string_view text) {
    return static_cast<std::int64_t>(base::hashBytes(text));
}

}  // namespace

std::int64_t headSum(const StepInfo& s) {
    return sumOf(fmt::format("{}|{}|{}|{}|{}|{}|{}", s.id, s.parent, s.name, fmt::join(s.scenes, "\n"), s.timeMs,
                             s.rows, s.barrier ? 1 : 0));
}
std::int64_t bodySum(std::string_view payload) {
    return sumOf(payload);
}
std::int64_t saveSum(const SaveMark& m) {
    return sumOf(fmt::format("{}|{}|{}|{}|{}", m.scene, m.step, m.hash, m.size, m.timeMs));
}
std::int64_t presentSum(StepId id) {
    return sumOf(fmt::format("present {}", id));
}

}  // namespace edit
