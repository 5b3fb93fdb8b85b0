#include "sounds.h"

#include <cmath>
#include <functional>

#include "base/id.h"
#include "base/math.h"
#include "io/sound_file.h"

namespace demo {
namespace {

constexpr int kRate = 11'025;  // frames a second

double noise(std::uint64_t at) {
    return static_cast<double>(base::mixBits(at) >> 11) / static_cast<double>(1ull << 52) - 1;
}

std::string made(double seconds, const std::function<double(double second, std::uint64_t frame)>& at) {
    io::SoundData sound;
    sound.channels = 1;
    sound.rate = kRate;
    const auto frames = static_cast<std::uint64_t>(seconds * kRate);
    for (std::uint64_t f = 0; f < frames; ++f)
        sound.samples.push_back(static_cast<float>(at(static_cast<double>(f) / kRate, f)));
    return io::wavOf(sound);
}

}  // namespace

/// Falling water, without a seam when it is repeated: the mean of some noise before and after each frame.
std::string weirSound() {
    constexpr std::uint64_t kFrames = 2 * kRate;
    return made(2, [](double second, std::uint64_t f) {
        double sum = 0;
        for (std::uint64_t k = 0; k < 6; ++k) sum += noise((f + k) % kFrames);
        return 0.28 * sum / 2.4 * (0.85 + 0.15 * std::sin(2 * base::kPi * second));
    });
}

/// A pawl over teeth.
std::string windlassSound() {
    return made(1.2, [](double second, std::uint64_t f) {
        const double since = std::fmod(second, 0.15);
        return 0.6 * std::exp(-since * 70) * (noise(f) * 0.5 + std::sin(2 * base::kPi * 620 * since));
    });
}

std::string bellSound() {
    return made(1.8, [](double second, std::uint64_t) {
        double sum = 0;
        for (const auto& [times, share] : {std::pair(1.0, 0.5), {2.4, 0.25}, {3.9, 0.12}})
            sum += share * std::sin(2 * base::kPi * 440 * times * second) * std::exp(-second * (1.5 + times * 0.6));
        return 0.9 * sum * std::min(1.0, (1.8 - second) * 20);
    });
}

}  // namespace demo
