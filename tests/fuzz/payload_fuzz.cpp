// A step's payload in the ledger: read, or refused; what is read is written and read back the same.
#include "edit/codec.h"
#include "fuzz/target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    base::NameTable names;
    const auto step = edit::decode(fuzz::textOf(data, size), names);
    if (!step) return 0;
    const std::string written = edit::encode(*step, names);
    base::NameTable others;
    const auto again = edit::decode(written, others);
    fuzz::must(again.has_value());
    fuzz::must(edit::encode(*again, others) == written);
    return 0;
}
