#pragma once
// Pictures without a window or a graphics card: a scene from a view, an item from all round, drawn triangle by triangle
// in the scene's light. Plain and exact rather than fast; any thread.
#include <cstdint>
#include <string>
#include <vector>

#include "io/gltf_out.h"

namespace hand {

struct Picture {
    int width = 0, height = 0;      ///< pixels
    std::vector<std::uint8_t> rgb;  ///< sRGB, row by row from the top
};
/// As a PNG file's bytes.
std::string pngOf(const Picture& picture);

struct PictureView {
    base::Vec3 from{0.0}, to{0.0, 0.0, -1.0};
    double heightMetres = 0;      ///< of an orthographic view; 0: perspective
    double verticalDegrees = 50;  ///< of a perspective one
};
constexpr int kLargestPicture = 8192;  ///< pixels, either way

/// What is seen in play, as it looks, in the scene's light.
Picture pictureOf(const io::ExportSource& source, const PictureView& view, int width, int height);
/// An item from so many sides, one beside the other, each `pixels` wide and high, turned once about.
Picture turningRow(const shape::Mesh& mesh, int sides, int pixels);

}  // namespace hand
