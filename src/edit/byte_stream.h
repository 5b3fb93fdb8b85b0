#pragma once
// Bytes out and in for the ledger's payloads: little-endian, checked when read.
#include <cstdint>
#include <cstring>
#include <span>
#include <stdexcept>
#include <string>
#include <string_view>
#include <vector>

namespace edit {

class ByteWriter {
  public:
    std::string bytes;

    void byte(std::uint8_t value) { bytes += static_cast<char>(value); }
    void count(std::uint64_t value) {  // LEB128
        while (value >= 128) {
            byte(static_cast<std::uint8_t>(value | 128));
            value >>= 7;
        }
        byte(static_cast<std::uint8_t>(value));
    }
    void text(std::string_view value) {
        count(value.size());
        bytes.append(value);
    }
    void real(double value) {
        char raw[8];
        std::memcpy(raw, &value, 8);
        bytes.append(raw, 8);
    }
    /// `values` with their first bytes together, then their second, and so on: compresses far better.
    void words(std::span<const std::uint64_t> values) {
        const std::size_t at = bytes.size();
        const std::size_t n = values.size();
        bytes.resize(at + n * 8);
        for (std::size_t plane = 0; plane < 8; ++plane)
            for (std::size_t i = 0; i < n; ++i) bytes[at + plane * n + i] = static_cast<char>(values[i] >> (8 * plane));
    }
};

/// What a ByteReader meets when the bytes end early or say something impossible; caught in decode.
struct MalformedBytes : std::runtime_error {
    using std::runtime_error::runtime_error;
};

class ByteReader {
  public:
    explicit ByteReader(std::string_view bytes) : rest_(bytes) {}

    std::string_view take(std::size_t n) {
        if (n > rest_.size()) throw MalformedBytes("it ends early");
        std::string_view part = rest_.substr(0, n);
        rest_.remove_prefix(n);
        return part;
    }
    std::uint8_t byte() { return static_cast<std::uint8_t>(take(1)[0]); }
    std::uint64_t count() {
        std::uint64_t value = 0;
        for (unsigned shift = 0; shift < 64; shift += 7) {
            const std::uint8_t b = byte();
            value |= std::uint64_t{b & 127u} << shift;
            if (b < 128) return value;
        }
        throw MalformedBytes("a count is too long");
    }
    /// A count of things that take at least `least` bytes each, so that a wrong one cannot ask for all memory.
    std::size_t countOf(std::size_t least) {
        const std::uint64_t n = count();
        if (n > rest_.size() / least) throw MalformedBytes("a count is larger than what follows");
        return static_cast<std::size_t>(n);
    }
    std::string_view text() { return take(countOf(1)); }
    double real() {
        double value = 0;
        std::memcpy(&value, take(8).data(), 8);
        return value;
    }
    std::vector<std::uint64_t> words(std::size_t n) {
        if (n > rest_.size() / 8) throw MalformedBytes("a column ends early");
        std::string_view raw = take(n * 8);
        std::vector<std::uint64_t> values(n, 0);
        for (std::size_t plane = 0; plane < 8; ++plane) {
            const char* from = raw.data() + plane * n;
            for (std::size_t i = 0; i < n; ++i)
                values[i] |= std::uint64_t{static_cast<unsigned char>(from[i])} << (8 * plane);
        }
        return values;
    }
    bool done() const { return rest_.empty(); }

  private:
    std::string_view rest_;
};

}  // namespace edit
