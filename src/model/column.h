#pragma once
// One field of all objects, cut into chunks of 1,024 rows that copies share until one of them writes.
// Copying costs one counter per chunk. Threads: different copies may be used by different threads.
#include <array>
#include <atomic>
#include <cstdint>
#include <utility>
#include <vector>

namespace model {

template <class T>
class Column {
  public:
    static constexpr std::size_t kBits = 10;
    static constexpr std::size_t kRows = std::size_t{1} << kBits;

    Column() = default;
    Column(const Column& other) : chunks_(other.chunks_), size_(other.size_) {
        for (Chunk* chunk : chunks_) chunk->owners.fetch_add(1, std::memory_order_relaxed);
    }
    Column(Column&& other) noexcept : chunks_(std::move(other.chunks_)), size_(std::exchange(other.size_, 0)) {
        other.chunks_.clear();
    }
    Column& operator=(Column other) noexcept {
        chunks_.swap(other.chunks_);
        std::swap(size_, other.size_);
        return *this;
    }
    ~Column() {
        for (Chunk* chunk : chunks_) release(chunk);
    }

    std::size_t size() const { return size_; }
    const T& operator[](std::size_t row) const { return chunks_[row >> kBits]->rows[row & (kRows - 1)]; }

    /// The row, for writing; copies its chunk first if another column shares it.
    T& edit(std::size_t row) {
        Chunk*& chunk = chunks_[row >> kBits];
        if (chunk->owners.load(std::memory_order_acquire) != 1) {
            auto* own = new Chunk{chunk->rows};
            release(chunk);
            chunk = own;
        }
        return chunk->rows[row & (kRows - 1)];
    }

    /// Grows to `rows`; new rows hold T{}. Never shrinks.
    void grow(std::size_t rows) {
        while (chunks_.size() * kRows < rows) chunks_.push_back(new Chunk{});
        if (rows > size_) size_ = rows;
    }

  private:
    struct Chunk {
        std::array<T, kRows> rows{};
        std::atomic<std::uint32_t> owners{1};
    };
    static void release(Chunk* chunk) {
        if (chunk->owners.fetch_sub(1, std::memory_order_acq_rel) == 1) delete chunk;
    }

    std::vector<Chunk*> chunks_;
    std::size_t size_ = 0;
};

}  // namespace model
