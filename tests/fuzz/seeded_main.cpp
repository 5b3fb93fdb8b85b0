// Runs a target on seeds and on what chance makes of them, the same each time: PROGRAM RUNS SEEDS...
#include <algorithm>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <string>
#include <vector>

#include "base/id.h"
#include "fuzz/target.h"

namespace {

std::string fileBytes(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void run(const std::string& bytes) {
    (void)LLVMFuzzerTestOneInput(reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size());
}

/// Some bytes changed, left out, said twice, taken from another seed; numbers to their limits.
std::string changed(std::string bytes, const std::string& other, base::Random& random) {
    const auto at = [&](const std::string& of) { return of.empty() ? 0 : random.next() % of.size(); };
    for (std::uint64_t n = 1 + random.next() % 4; n > 0; --n) {
        const std::size_t i = at(bytes);
        switch (random.next() % 6) {
            case 0:
                if (!bytes.empty()) bytes[i] = static_cast<char>(random.next());
                break;
            case 1: bytes.erase(i, random.next() % 16); break;
            case 2: bytes.insert(i, bytes.substr(at(bytes), random.next() % 64)); break;
            case 3: bytes.insert(i, other.substr(at(other), random.next() % 64)); break;
            case 4:
                bytes.insert(i, std::size_t{1} + random.next() % 9,
                             static_cast<char>(random.next() % 2 != 0 ? 0xff : 0));
                break;
            default: {
                static const char* const kWords[] = {
                    "null", "-1", "1e999", "[]", "{}", "\"", "true", "9007199254740993", "\\u0000"};
                bytes.insert(i, kWords[random.next() % std::size(kWords)]);
            }
        }
    }
    return bytes;
}

}  // namespace

int main(int argc, char** argv) {
    std::vector<std::string> seeds;
    for (int i = 2; i < argc; ++i)
        for (const auto& file : std::filesystem::directory_iterator(argv[i])) seeds.push_back(fileBytes(file.path()));
    if (argc < 3 || seeds.empty()) return std::puts("PROGRAM RUNS SEEDS..."), 2;
    std::sort(seeds.begin(), seeds.end());  // folders have no order of their own
    for (const std::string& seed : seeds) run(seed);
    base::Random random(7);
    const long runs = std::atol(argv[1]);
    for (long i = 0; i < runs; ++i)
        run(changed(seeds[random.next() % seeds.size()], seeds[random.next() % seeds.size()], random));
    std::printf("%ld runs on %zu seeds\n", runs, seeds.size());
    return 0;
}
