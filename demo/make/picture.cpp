#include "picture.h"

#include <algorithm>
#include <cmath>
#include <string_view>

namespace demo {
namespace {

std::uint32_t crc32(std::string_view bytes) {
    std::uint32_t crc = 0xFFFFFFFFu;
    for (const char byte : bytes) {
        crc ^= static_cast<std::uint8_t>(byte);
        for (int bit = 0; bit < 8; ++bit) crc = (crc >> 1) ^ ((crc & 1) != 0 ? 0xEDB88320u : 0u);
    }
    return ~crc;
}

std::uint32_t adler32(std::string_view bytes) {
    std::uint32_t a = 1, b = 0;
    for (const char byte : bytes) {
        a = (a + static_cast<std::uint8_t>(byte)) % 65521;
        b = (b + a) % 65521;
    }
    return b << 16 | a;
}

void put32(std::string& out, std::uint32_t v) {
    for (int shift = 24; shift >= 0; shift -= 8) out += static_cast<char>(v >> shift & 255);
}

void putChunk(std::string& out, const std::string& typeAndData) {
    put32(out, static_cast<std::uint32_t>(typeAndData.size() - 4));
    out += typeAndData;
    put32(out, crc32(typeAndData));
}

// A zlib stream of stored blocks: nothing is packed, so no version of a library changes a byte.
std::string stored(const std::string& raw) {
    std::string out("\x78\x01", 2);
    constexpr std::size_t kBlock = 65535;
    for (std::size_t at = 0; at < raw.size(); at += kBlock) {
        const std::size_t size = std::min(kBlock, raw.size() - at);
        out += static_cast<char>(at + size == raw.size() ? 1 : 0);
        for (const std::size_t word : {size, ~size})
            for (int shift : {0, 8}) out += static_cast<char>(word >> shift & 255);
        out += raw.substr(at, size);
    }
    put32(out, adler32(raw));
    return out;
}

bool inEllipse(double x, double y, double cx, double cy, double rx, double ry) {
    return std::hypot((x - cx) / rx, (y - cy) / ry) < 1;
}

bool nearSegment(double x, double y, double ax, double ay, double bx, double by, double width) {
    const double dx = bx - ax, dy = by - ay;
    const double t = std::clamp(((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy), 0.0, 1.0);
    return std::hypot(x - ax - dx * t, y - ay - dy * t) < width;
}

Rgb posterColour(int px, int py) {
    const double x = px, y = py;
    constexpr Rgb kPaper{236, 228, 206}, kSky{196, 214, 214}, kWater{86, 142, 152}, kRipple{132, 178, 184},
        kInk{70, 74, 66}, kFeather{96, 112, 122}, kBeak{208, 140, 60}, kSun{232, 178, 92};
    if (px < 3 || px > 92 || py < 3 || py > 60) return kPaper;
    if (px > 56) {  // lines to read
        const int row = (py - 8) / 7, within = (py - 8) % 7;
        const int end = 88 - (row * 5) % 13;
        return py >= 8 && within < (row == 0 ? 4 : 2) && row < 7 && px >= 60 && px <= end ? kInk : kPaper;
    }
    if (nearSegment(x, y, 21, 31, 24, 20, 1.8) || nearSegment(x, y, 24, 20, 20, 13, 1.7) ||
        inEllipse(x, y, 22, 12, 3.6, 2.6))
        return kFeather;
    if (nearSegment(x, y, 24, 12, 35, 14, 1.2)) return kBeak;
    if (inEllipse(x, y, 18, 34, 10, 5.5) || nearSegment(x, y, 12, 36, 5, 41, 2.2)) return kFeather;
    if (nearSegment(x, y, 18, 39, 18, 54, 0.9) || nearSegment(x, y, 22, 39, 23, 54, 0.9)) return kInk;
    if (inEllipse(x, y, 44, 16, 6, 6)) return kSun;
    if (py > 46) return (py % 5 == 0 && (px + py * 3) % 17 < 9) ? kRipple : kWater;
    return kSky;
}

}  // namespace

std::string pngOf(int width, int height, const std::function<Rgb(int x, int y)>& colourAt) {
    std::string header = "IHDR", raw, out("\x89PNG\r\n\x1A\n", 8);
    put32(header, static_cast<std::uint32_t>(width));
    put32(header, static_cast<std::uint32_t>(height));
    header += std::string("\x08\x02\0\0\0", 5);  // eight bits of red, green and blue
    for (int y = 0; y < height; ++y) {
        raw += '\0';
        for (int x = 0; x < width; ++x)
            for (const std::uint8_t part : colourAt(x, y)) raw += static_cast<char>(part);
    }
    putChunk(out, header);
    putChunk(out, "IDAT" + stored(raw));
    putChunk(out, "IEND");
    return out;
}

std::string heronPoster() {
    return pngOf(96, 64, posterColour);
}

void addPicture(shape::Mesh& mesh, const base::Vec3& low, const base::Vec3& high, std::string png) {
    mesh.texture.resize(mesh.positions.size(), {0, 0});
    shape::Material material;
    material.name = "Poster";
    material.image = static_cast<int>(mesh.images.size());
    mesh.images.push_back({"image/png", std::move(png)});
    mesh.submeshes.push_back(
        {static_cast<std::uint32_t>(mesh.indices.size()), 6, static_cast<std::uint32_t>(mesh.materials.size())});
    mesh.materials.push_back(material);
    const auto first = static_cast<std::uint32_t>(mesh.positions.size());
    for (int corner = 0; corner < 4; ++corner) {
        const bool right = corner == 1 || corner == 2, top = corner >= 2;
        mesh.positions.push_back({static_cast<float>(right ? high.x : low.x), static_cast<float>(top ? high.y : low.y),
                                  static_cast<float>(high.z)});
        mesh.normals.push_back({0, 0, 1});
        mesh.texture.push_back({right ? 1.0F : 0.0F, top ? 0.0F : 1.0F});
    }
    for (const std::uint32_t k : {0u, 1u, 2u, 0u, 2u, 3u}) mesh.indices.push_back(first + k);
    mesh.bounds = shape::boundsOf(mesh);
}

}  // namespace demo
