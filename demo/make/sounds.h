#pragma once
// The demo's sounds, made of noise and tones: the same bytes every time.
#include <string>

namespace demo {

std::string weirSound();
std::string windlassSound();
std::string bellSound();

}  // namespace demo
