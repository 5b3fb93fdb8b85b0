#include "io/sound_file.h"

#include <fmt/format.h>
#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <memory>

#include "base/text.h"

namespace io {

using base::ErrorCode;
using base::fail;

namespace {

constexpr int kMostChannels = 8, kHighestRate = 192'000;

struct Closer {
    void operator()(SNDFILE* file) const { sf_close(file); }
};

template <class Number>
void append(std::string& out, Number value) {
    for (std::size_t i = 0; i < sizeof(Number); ++i)
        out.push_back(static_cast<char>(static_cast<std::uint64_t>(value) >> (8 * i) & 0xff));
}

}  // namespace

bool isSoundName(std::string_view name) {
    const std::string ending = base::lowered(std::filesystem::path(name).extension().string());
    return ending == ".wav" || ending == ".flac" || ending == ".ogg" || ending == ".oga";
}

std::vector<float> SoundData::mono() const {
    std::vector<float> one(frames(), 0.0F);
    for (std::size_t f = 0; f < one.size(); ++f) {
        for (int c = 0; c < channels; ++c)
            one[f] += samples[f * static_cast<std::size_t>(channels) + static_cast<std::size_t>(c)];
        one[f] /= static_cast<float>(channels);
    }
    return one;
}

base::Result<SoundData> readSound(const std::filesystem::path& path) {
    const std::string name = path.filename().string();
    std::error_code none;
    if (!std::filesystem::is_regular_file(path, none))
        return fail(ErrorCode::NotFound, fmt::format("There is no sound “{}”.", name));
    SF_INFO info{};
    const std::unique_ptr<SNDFILE, Closer> file(sf_open(path.c_str(), SFM_READ, &info));
    if (!file) {
        std::string why = sf_strerror(nullptr);
        while (why.ends_with('.')) why.pop_back();
        return fail(ErrorCode::BadInput, fmt::format("“{}” is no sound that can be read: {}.", name, why));
    }
    if (info.channels < 1 || info.channels > kMostChannels || info.samplerate < 1 || info.samplerate > kHighestRate)
        return fail(ErrorCode::BadInput, fmt::format("“{}” has {} channels at {} Hz, which is not taken.", name,
                                                     info.channels, info.samplerate));
    SoundData sound;
    sound.channels = info.channels;
    sound.rate = info.samplerate;
    constexpr sf_count_t kBlock = 16'384;  // frames
    std::vector<float> block(static_cast<std::size_t>(kBlock * info.channels));
    for (sf_count_t read = kBlock; read == kBlock;) {
        read = sf_readf_float(file.get(), block.data(), kBlock);
        if (read <= 0) break;
        sound.samples.insert(sound.samples.end(), block.begin(),
                             block.begin() + static_cast<std::ptrdiff_t>(read * info.channels));
        if (sound.seconds() > kLongestSound)
            return fail(ErrorCode::BadInput,
                        fmt::format("“{}” is longer than {:g} minutes.", name, kLongestSound / 60));
    }
    for (float& sample : sound.samples)
        if (!std::isfinite(sample)) sample = 0;
    if (sound.samples.empty()) return fail(ErrorCode::BadInput, fmt::format("There is nothing to hear in “{}”.", name));
    return sound;
}

SoundFacts factsOf(const SoundData& sound) {
    SoundFacts facts;
    facts.seconds = sound.seconds();
    facts.channels = sound.channels;
    facts.rate = sound.rate;
    const std::size_t frames = sound.frames(), parts = std::min(SoundFacts::kWaves, frames);
    facts.low.assign(parts, 0);
    facts.high.assign(parts, 0);
    double sum = 0;
    for (std::size_t i = 0; i < sound.samples.size(); ++i) {
        const float sample = sound.samples[i];
        facts.peak = std::max(facts.peak, static_cast<double>(std::abs(sample)));
        sum += static_cast<double>(sample) * sample;
        const std::size_t part = i / static_cast<std::size_t>(sound.channels) * parts / frames;
        facts.low[part] = std::min(facts.low[part], sample);
        facts.high[part] = std::max(facts.high[part], sample);
    }
    const double mean = sum / static_cast<double>(std::max<std::size_t>(sound.samples.size(), 1));
    if (mean > 1e-12) facts.loudness = 10 * std::log10(mean);
    return facts;
}

std::string wavOf(const SoundData& sound) {
    const auto bytes = static_cast<std::uint32_t>(sound.samples.size() * 2);
    const auto channels = static_cast<std::uint16_t>(sound.channels);
    const auto rate = static_cast<std::uint32_t>(sound.rate);
    std::string out = "RIFF";
    append(out, std::uint32_t{36 + bytes});
    out += "WAVEfmt ";
    append(out, std::uint32_t{16});
    append(out, std::uint16_t{1});
    append(out, channels);
    append(out, rate);
    append(out, std::uint32_t{rate * channels * 2});
    append(out, static_cast<std::uint16_t>(channels * 2));
    append(out, std::uint16_t{16});
    out += "data";
    append(out, bytes);
    for (const float sample : sound.samples)
        append(out, static_cast<std::uint16_t>(
                        static_cast<std::int16_t>(std::lround(std::clamp(sample, -1.0F, 1.0F) * 32'767.0F))));
    return out;
}

}  // namespace io
