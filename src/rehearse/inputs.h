#pragma once
// What a player did, step by step, as a small text: the whole of what a run follows from, besides the scene.
// Grammar and an example: docs/formats/rehearsal.md. Values.
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include "base/result.h"
#include "rehearse/level.h"

namespace rehearse {

/// One step's. Numbers are whole, so that what is written reads back as the same run.
struct Input {
    enum Key : std::uint8_t { Run = 1, Jump = 2, Duck = 4, Use = 8, Take = 16, Throw = 32 };
    std::int16_t ahead = 0, side = 0, up = 0;  ///< hundredths of full speed, -100..100
    std::uint8_t keys = 0;                     ///< which are down
    std::int32_t yaw = 0, pitch = 0;           ///< hundredths of a degree; pitch up to 8,900 up and down
    std::optional<base::Vec3> place;           ///< put there, feet first
    bool has(Key key) const { return (keys & key) != 0; }
    friend bool operator==(const Input&, const Input&) = default;
};
inline double degrees(std::int32_t hundredths) {
    return hundredths / 100.0;
}
/// Hundredths of a degree, from -18,000 up to 18,000.
std::int32_t hundredths(double degrees);

struct Inputs {
    std::string scene, name;
    Start start;
    std::vector<Input> steps;
    friend bool operator==(const Inputs&, const Inputs&);
};
std::string toText(const Inputs& inputs);
/// Errors: BadInput naming the line; over an hour.
base::Result<Inputs> inputsFrom(std::string_view text);
constexpr int kMostSteps = 3600 * kStepsPerSecond;

}  // namespace rehearse
