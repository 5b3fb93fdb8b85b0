#pragma once
// What a target of chance tries: bytes from outside, which may be anything. Built twice: with seeded_main.cpp, a short
// run that is the same each time, as a test; and by tools/fuzz.sh with libFuzzer, for as long as one likes.
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <string_view>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace fuzz {

inline std::string_view textOf(const std::uint8_t* data, std::size_t size) {
    return {reinterpret_cast<const char*>(data), size};
}
/// What must hold whatever the bytes were.
inline void must(bool holds) {
    if (!holds) std::abort();
}

}  // namespace fuzz
