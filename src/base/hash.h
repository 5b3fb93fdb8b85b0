#pragma once
// One 64-bit hash of bytes (XXH3), for tables and for telling whether a file is the one we wrote.
#include <cstdint>
#include <string_view>

namespace base {

std::uint64_t hashBytes(std::string_view bytes);

}  // namespace base
