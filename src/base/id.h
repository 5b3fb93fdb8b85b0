#pragma once
// Object ids: 64-bit, random, never reused; zero means "none".
#include <cstdint>
#include <functional>
#include <optional>
#include <string>
#include <string_view>

namespace base {

struct ObjectId {
    std::uint64_t value = 0;
    friend bool operator==(ObjectId, ObjectId) = default;
    friend bool operator<(ObjectId a, ObjectId b) { return a.value < b.value; }
    explicit operator bool() const { return value != 0; }
};

/// Sixteen lowercase hexadecimal digits, the form of an id in files.
std::string toText(ObjectId id);
/// The id written as sixteen hexadecimal digits; nothing if `text` is anything else, or zero.
std::optional<ObjectId> parseObjectId(std::string_view text);

/// Scrambles 64 bits so that each input bit reaches each output bit (the finaliser of splitmix64).
constexpr std::uint64_t mixBits(std::uint64_t x) {
    x ^= x >> 30;
    x *= 0xbf58476d1ce4e5b9ULL;
    x ^= x >> 27;
    x *= 0x94d049bb133111ebULL;
    return x ^ (x >> 31);
}

/// What mixBits made `x` from.
constexpr std::uint64_t unmixBits(std::uint64_t x) {
    x ^= (x >> 31) ^ (x >> 62);
    x *= 0x319642b2d24d8ec3ULL;
    x ^= (x >> 27) ^ (x >> 54);
    x *= 0x96de1b173f119089ULL;
    return x ^ (x >> 30) ^ (x >> 60);
}

/// The id that object `inner` of a prefab's definition has inside `instance`. Whoever computes it gets the same;
/// how prefabs nest does not matter: joined(a, joined(b, c)) is joined(joined(a, b), c).
constexpr ObjectId joined(ObjectId instance, ObjectId inner) {
    return ObjectId{unmixBits(mixBits(instance.value) + mixBits(inner.value))};
}
/// The `inner` for which joined(instance, inner) is `id`.
constexpr ObjectId innerOf(ObjectId instance, ObjectId id) {
    return ObjectId{unmixBits(mixBits(id.value) - mixBits(instance.value))};
}

/// A seeded stream of random numbers (splitmix64). The seed is passed in, so that runs can be repeated.
class Random {
  public:
    explicit Random(std::uint64_t seed) : state_(seed) {}
    std::uint64_t next() { return mixBits(state_ += 0x9e3779b97f4a7c15ULL); }
    /// Uniform in [0, 1).
    double unit() { return static_cast<double>(next() >> 11) * 0x1.0p-53; }
    double between(double low, double high) { return low + (high - low) * unit(); }
    ObjectId nextId() {
        std::uint64_t value = next();
        return ObjectId{value != 0 ? value : 1};
    }

  private:
    std::uint64_t state_;
};

}  // namespace base

template <>
struct std::hash<base::ObjectId> {
    std::size_t operator()(base::ObjectId id) const noexcept {
        return static_cast<std::size_t>(base::mixBits(id.value));
    }
};
