#pragma once
// Small painted pictures for models, as PNG bytes: the same ones every time.
#include <array>
#include <cstdint>
#include <functional>
#include <string>

#include "shape/mesh.h"

namespace demo {

using Rgb = std::array<std::uint8_t, 3>;

/// The picture whose pixel at (x, y), from the top left, is what `colourAt` says.
std::string pngOf(int width, int height, const std::function<Rgb(int x, int y)>& colourAt);

/// The poster on the notice board: a heron in the shallows, and some lines to read. 96 x 64.
std::string heronPoster();

/// Adds an upright rectangle facing +Z from corner to corner, which shows `png`.
void addPicture(shape::Mesh& mesh, const base::Vec3& low, const base::Vec3& high, std::string png);

}  // namespace demo
