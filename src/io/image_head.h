#pragma once
// What an image is, without reading more of it than its head.
#include <filesystem>

#include "base/result.h"

namespace io {

/// The most pixels an image may have: what it takes in memory is four times as many bytes.
constexpr double kMostPixels = 1e8;
/// And of which a smaller copy can be made.
constexpr double kMostPixelsRead = 16384.0 * 16384.0;

struct ImageHead {
    int width = 0, height = 0;  ///< pixels
};
/// Of a PNG or JPEG. Errors: those of reading it; BadInput (neither, or more than `most` pixels).
base::Result<ImageHead> readImageHead(const std::filesystem::path& file, double most = kMostPixels);
/// The same of bytes, of which the first are enough; `file` is what messages call them.
base::Result<ImageHead> imageHeadOf(std::string_view bytes, const std::string& file, double most = kMostPixels);

}  // namespace io
