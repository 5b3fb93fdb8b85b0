#pragma once
// The demo's scenes as text.
#include <string>

namespace demo {

/// The lower basin on market day, about 300 objects.
std::string lowerBasin();

/// `count` objects of the demo's items over a square of 4 km (less for few), in groups of a hundred; seeded.
std::string many(std::size_t count);

}  // namespace demo
