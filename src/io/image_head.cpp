#include "io/image_head.h"

#include <fmt/format.h>

#include "base/files.h"
#include "io/names.h"

namespace io {

namespace {

constexpr std::size_t kHead = std::size_t{512} << 10;  // a camera may put a picture of its own before the sizes

int bigEndian(std::string_view bytes) {
    int n = 0;
    for (const char c : bytes) n = n << 8 | static_cast<unsigned char>(c);
    return n;
}

/// ISO/IEC 15948: width and height stand in the first chunk.
ImageHead ofPng(std::string_view head) {
    if (head.size() < 24) return {};
    return {bigEndian(head.substr(16, 4)), bigEndian(head.substr(20, 4))};
}

/// ITU T.81: the frame header says them; segments before it are passed over.
ImageHead ofJpeg(std::string_view head) {
    for (std::size_t at = 2; at + 9 <= head.size() && head[at] == '\xFF';) {
        const int marker = bigEndian(head.substr(at + 1, 1)), length = bigEndian(head.substr(at + 2, 2));
        const bool frame = marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
        if (frame) return {bigEndian(head.substr(at + 7, 2)), bigEndian(head.substr(at + 5, 2))};
        at += 2 + static_cast<std::size_t>(std::max(length, 2));
    }
    return {};
}

}  // namespace

Result<ImageHead> imageHeadOf(std::string_view bytes, const std::string& file, double most) {
    const ImageHead head = bytes.starts_with("\x89PNG")    ? ofPng(bytes)
                           : bytes.starts_with("\xFF\xD8") ? ofJpeg(bytes)
                                                           : ImageHead{};
    if (head.width <= 0 || head.height <= 0)
        return fail(ErrorCode::BadInput, file + ": is no PNG or JPEG image that can be read.");
    if (double(head.width) * double(head.height) > most)
        return fail(ErrorCode::BadInput, fmt::format("{}: is {} × {} pixels large; at most {} million are read.", file,
                                                     head.width, head.height, int(most / 1e6)));
    return head;
}

Result<ImageHead> readImageHead(const std::filesystem::path& file, double most) {
    auto bytes = base::readHead(file, kHead);
    if (!bytes) return tl::unexpected(bytes.error());
    return imageHeadOf(*bytes, file.string(), most);
}

}  // namespace io
