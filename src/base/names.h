#pragma once
// Interned strings. Names, kinds and item references are 32-bit indices into one append-only table
// per project, so that columns stay small and comparisons are integer comparisons.
// Threads: any thread may read a Name it was given while another thread interns.
#include <array>
#include <atomic>
#include <cstdint>
#include <memory>
#include <mutex>
#include <string>
#include <string_view>
#include <vector>

namespace base {

/// An interned string; zero is the empty string. Means something only with its NameTable.
struct Name {
    std::uint32_t index = 0;
    friend bool operator==(Name, Name) = default;
    explicit operator bool() const { return index != 0; }
};

class NameTable {
  public:
    NameTable();
    ~NameTable();
    NameTable(const NameTable&) = delete;
    NameTable& operator=(const NameTable&) = delete;

    /// The name for `text`, added if new. Throws std::length_error past 64 million names.
    Name intern(std::string_view text);
    /// The name for `text` if it has ever been interned, else the empty name.
    Name find(std::string_view text) const;
    /// The text of a name of this table; valid as long as the table. Constant time.
    std::string_view text(Name name) const;
    std::size_t size() const { return count_.load(std::memory_order_acquire); }

  private:
    static constexpr std::size_t kBlockBits = 14;
    static constexpr std::size_t kBlock = std::size_t{1} << kBlockBits;
    using Block = std::array<std::string_view, kBlock>;

    std::size_t slotFor(std::string_view text) const;
    void growBuckets();
    std::string_view store(std::string_view text);

    mutable std::mutex mutex_;
    std::array<std::atomic<Block*>, 4096> blocks_{};
    std::atomic<std::uint32_t> count_{0};
    std::vector<std::uint32_t> buckets_;
    std::vector<std::unique_ptr<char[]>> arenas_;
    std::size_t arenaFree_ = 0;
    char* arenaNext_ = nullptr;
};

}  // namespace base

template <>
struct std::hash<base::Name> {
    std::size_t operator()(base::Name name) const noexcept { return name.index * 0x9e3779b97f4a7c15ULL; }
};
