#include "query/region.h"

#include <algorithm>
#include <array>

namespace query {
namespace {

using base::Vec2;

bool segmentsMeet(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    const double slope = base::cross(b - a, d - c);
    if (slope == 0) return false;
    const double t = base::cross(c - a, d - c) / slope, s = base::cross(c - a, b - a) / slope;
    return t >= 0 && t <= 1 && s >= 0 && s <= 1;
}

bool insideTriangle(const Vec2& p, const std::array<Vec2, 3>& t) {
    const double a = base::cross(t[1] - t[0], p - t[0]), b = base::cross(t[2] - t[1], p - t[1]),
                 c = base::cross(t[0] - t[2], p - t[2]);
    return (a >= 0 && b >= 0 && c >= 0) || (a <= 0 && b <= 0 && c <= 0);
}

}  // namespace

Region::Region(std::vector<Vec2> corners) : outline(std::move(corners)) {
    for (const Vec2& p : outline) low = glm::min(low, p), high = glm::max(high, p);
}

// Even-odd rule: how often a line to the right crosses the outline.
bool Region::holds(const Vec2& p) const {
    bool in = false;
    for (std::size_t i = 0, k = outline.size() - 1; i < outline.size(); k = i++) {
        const Vec2 &a = outline[i], &b = outline[k];
        if ((a.y > p.y) != (b.y > p.y) && p.x < (b.x - a.x) * (p.y - a.y) / (b.y - a.y) + a.x) in = !in;
    }
    return in;
}

bool Region::crosses(const Vec2& a, const Vec2& b) const {
    for (std::size_t i = 0, k = outline.size() - 1; i < outline.size(); k = i++)
        if (segmentsMeet(a, b, outline[k], outline[i])) return true;
    return false;
}

bool inRegion(const Region& region, const shape::Mesh& mesh, const base::Affine& world, const Project& project,
              bool whole) {
    if (region.outline.size() < 3) return false;
    std::vector<std::optional<Vec2>> pixels;
    pixels.reserve(mesh.positions.size());
    for (const shape::Float3& p : mesh.positions) {
        pixels.push_back(project(world.point({p[0], p[1], p[2]})));
        const bool in = pixels.back() && region.holds(*pixels.back());
        if (in != whole) return in;  // one inside is enough to touch; one outside is enough not to be held
    }
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        std::array<Vec2, 3> t;
        bool seen = true;
        for (std::size_t k = 0; k < 3; ++k) {
            const auto& pixel = pixels[mesh.indices[i + k]];
            seen = seen && pixel.has_value();
            if (pixel) t[k] = *pixel;
        }
        if (!seen) continue;
        const Vec2 low = glm::min(t[0], glm::min(t[1], t[2])), high = glm::max(t[0], glm::max(t[1], t[2]));
        if (low.x > region.high.x || high.x < region.low.x || low.y > region.high.y || high.y < region.low.y) continue;
        bool meets = insideTriangle(region.outline.front(), t);
        for (std::size_t k = 0; k < 3 && !meets; ++k) meets = region.crosses(t[k], t[(k + 1) % 3]);
        if (meets) return !whole;  // corners are all inside, but a concave outline may cut between them
    }
    return whole;
}

}  // namespace query
