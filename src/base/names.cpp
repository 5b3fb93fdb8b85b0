#include "base/names.h"

#include <cstring>
#include <stdexcept>

#include "base/hash.h"

namespace base {

NameTable::NameTable() : buckets_(1024, 0) {
    intern("");
}

NameTable::~NameTable() {
    for (auto& block : blocks_) delete block.load();
}

std::string_view NameTable::text(Name name) const {
    const Block* block = blocks_[name.index >> kBlockBits].load(std::memory_order_acquire);
    return (*block)[name.index & (kBlock - 1)];
}

// Buckets hold index + 1, so that zero means free.
std::size_t NameTable::slotFor(std::string_view wanted) const {
    const std::size_t mask = buckets_.size() - 1;
    std::size_t slot = hashBytes(wanted) & mask;
    while (buckets_[slot] != 0 && text(Name{buckets_[slot] - 1}) != wanted) slot = (slot + 1) & mask;
    return slot;
}

Name NameTable::find(std::string_view wanted) const {
    std::lock_guard lock(mutex_);
    const std::uint32_t held = buckets_[slotFor(wanted)];
    return held != 0 ? Name{held - 1} : Name{};
}

Name NameTable::intern(std::string_view wanted) {
    std::lock_guard lock(mutex_);
    std::size_t slot = slotFor(wanted);
    if (buckets_[slot] != 0) return Name{buckets_[slot] - 1};
    const std::uint32_t index = count_.load(std::memory_order_relaxed);
    if ((index >> kBlockBits) >= blocks_.size()) throw std::length_error("too many names");
    auto& block = blocks_[index >> kBlockBits];
    if (block.load(std::memory_order_relaxed) == nullptr) block.store(new Block, std::memory_order_release);
    (*block.load(std::memory_order_relaxed))[index & (kBlock - 1)] = store(wanted);
    count_.store(index + 1, std::memory_order_release);
    buckets_[slot] = index + 1;
    if (std::size_t{index} * 2 > buckets_.size()) growBuckets();
    return Name{index};
}

void NameTable::growBuckets() {
    std::vector<std::uint32_t> old(buckets_.size() * 2, 0);
    old.swap(buckets_);
    for (std::uint32_t held : old)
        if (held != 0) buckets_[slotFor(text(Name{held - 1}))] = held;
}

std::string_view NameTable::store(std::string_view wanted) {
    if (wanted.size() > arenaFree_) {
        arenaFree_ = std::max<std::size_t>(wanted.size(), 1 << 16);
        arenas_.push_back(std::make_unique<char[]>(arenaFree_));
        arenaNext_ = arenas_.back().get();
    }
    if (!wanted.empty()) std::memcpy(arenaNext_, wanted.data(), wanted.size());
    std::string_view kept(arenaNext_, wanted.size());
    arenaNext_ += wanted.size();
    arenaFree_ -= wanted.size();
    return kept;
}

}  // namespace base
