#pragma once
// Sounds in files: WAV, FLAC and Ogg, read with libsndfile. What a file claims of its length is not believed: it is
// read until it ends, or until it is as long as is taken.
#include <cstdint>
#include <filesystem>
#include <string_view>
#include <vector>

#include "base/result.h"

namespace io {

/// By its ending: does a file's name say that it is a sound?
bool isSoundName(std::string_view name);

inline constexpr double kLongestSound = 600;  ///< seconds: what is longer is refused

struct SoundData {
    int channels = 0;
    int rate = 0;                ///< frames a second
    std::vector<float> samples;  ///< frame by frame; 1 is as loud as a file can say
    std::size_t frames() const { return channels > 0 ? samples.size() / static_cast<std::size_t>(channels) : 0; }
    double seconds() const { return rate > 0 ? static_cast<double>(frames()) / rate : 0; }
    /// All channels as one.
    std::vector<float> mono() const;
};
/// Errors: NotFound; BadInput for what is no sound, is empty, or longer than kLongestSound.
base::Result<SoundData> readSound(const std::filesystem::path& file);

/// What one wants to know of a sound without hearing it.
struct SoundFacts {
    double seconds = 0;
    int channels = 0, rate = 0;
    double peak = 0;               ///< the largest sample; above 1 it is cut off
    double loudness = -120;        ///< decibels below full: the root of the mean square
    std::vector<float> low, high;  ///< the least and largest sample of each of kWaves parts
    static constexpr std::size_t kWaves = 200;
};
SoundFacts factsOf(const SoundData& sound);

/// A WAV file of 16 bits, for what is made here.
std::string wavOf(const SoundData& sound);

}  // namespace io
