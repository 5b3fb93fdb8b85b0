// mellow: the headless twin.
#include <chrono>
#include <iostream>
#include <random>

#include "cli/commands.h"

int main(int argc, char** argv) {
    std::random_device device;
    const auto now = [] {
        return std::chrono::duration_cast<std::chrono::milliseconds>(
                   std::chrono::system_clock::now().time_since_epoch())
            .count();
    };
    const std::uint64_t seed = (std::uint64_t{device()} << 32) | device();
    return cli::run({argv + 1, argv + argc}, {now, seed}, std::cout, std::cerr);
}
