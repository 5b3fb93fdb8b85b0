#pragma once
// Triangles seen from above: what contact and settling share. Not for other rooms.
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <optional>
#include <span>
#include <vector>

#include "query/contact.h"

namespace query {

constexpr double kNever = std::numeric_limits<double>::infinity();

/// One triangle seen from above.
struct Flat {
    std::array<base::Vec2, 3> at;
    std::array<double, 3> y;
    base::Vec2 low, high;
    double lowest, highest;
    int faces;  ///< 1 up, -1 down, 0 to a side: by the order of its corners
};

inline Flat flatOf(const Triangle& t) {
    Flat f;
    f.low = base::Vec2(kNever), f.high = base::Vec2(-kNever);
    f.lowest = kNever, f.highest = -kNever;
    for (std::size_t i = 0; i < 3; ++i) {
        f.at[i] = {t[i].x, t[i].z};
        f.y[i] = t[i].y;
        f.low = glm::min(f.low, f.at[i]);
        f.high = glm::max(f.high, f.at[i]);
        f.lowest = std::min(f.lowest, t[i].y);
        f.highest = std::max(f.highest, t[i].y);
    }
    const double area = base::cross(f.at[1] - f.at[0], f.at[2] - f.at[0]);
    f.faces = std::abs(area) < 1e-14 ? 0 : area < 0 ? 1 : -1;
    return f;
}

/// Height of a triangle above a point of the ground plane, if it covers it, or misses it by less than `slack` of its
/// size.
inline std::optional<double> heightAt(const Flat& t, const base::Vec2& p, double slack = 0) {
    const double area = base::cross(t.at[1] - t.at[0], t.at[2] - t.at[0]);
    if (std::abs(area) < 1e-14) return std::nullopt;
    const double u = base::cross(t.at[2] - t.at[1], p - t.at[1]) / area,
                 v = base::cross(t.at[0] - t.at[2], p - t.at[2]) / area;
    const double w = 1 - u - v;
    if (u < -slack || v < -slack || w < -slack) return std::nullopt;
    return u * t.y[0] + v * t.y[1] + w * t.y[2];
}

/// Where a moving triangle may first meet another one as it goes up or down: corners over faces, edges across edges.
/// `meet(place, height of the one, height of the other)`.
template <class Meet>
void eachMeeting(const Flat& body, const Flat& support, const Meet& meet) {
    for (std::size_t i = 0; i < 3; ++i) {
        if (const auto y = heightAt(support, body.at[i])) meet(body.at[i], body.y[i], *y);
        if (const auto y = heightAt(body, support.at[i])) meet(support.at[i], *y, support.y[i]);
    }
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k) {
            const std::size_t i1 = (i + 1) % 3, k1 = (k + 1) % 3;
            const base::Vec2 d = body.at[i1] - body.at[i], e = support.at[k1] - support.at[k];
            const double slope = base::cross(d, e);
            if (std::abs(slope) < 1e-14) continue;
            const base::Vec2 between = support.at[k] - body.at[i];
            const double t = base::cross(between, e) / slope, s = base::cross(between, d) / slope;
            if (t < 0 || t > 1 || s < 0 || s > 1) continue;
            meet(body.at[i] + d * t, body.y[i] + (body.y[i1] - body.y[i]) * t,
                 support.y[k] + (support.y[k1] - support.y[k]) * s);
        }
}

/// Those of a body, drawn in by `inset` metres on each side.
std::vector<Flat> flatsOf(const FallingBody& body, double inset);
/// The triangles of an object in `box`, in the world, their fronts outwards.
void appendTriangles(const model::Scene& scene, const SceneIndex& index, model::Slot slot, const base::Aabb& box,
                     std::vector<Triangle>& out);

/// Supports by where they lie below a footprint; in each column in their own order. Few share one.
class Columns {
  public:
    Columns(const std::vector<Flat>& flats, const base::Aabb& footprint, std::size_t parts)
        : low_(footprint.low.x, footprint.low.z) {
        constexpr std::size_t kWorth = 4096;  // pairs
        if (flats.size() * parts > kWorth)
            side_ = std::clamp(static_cast<int>(std::sqrt(static_cast<double>(flats.size()) / 2)), 1, 24);
        const base::Vec3 size = footprint.size();
        scale_ = static_cast<double>(side_) / glm::max(base::Vec2(size.x, size.z), base::Vec2(1e-9));
        // Counted first, so that all columns share one list.
        ends_.resize(static_cast<std::size_t>(side_) * static_cast<std::size_t>(side_) + 1);
        for (const Flat& flat : flats) visit(flat, [&](std::size_t column) { ++ends_[column + 1]; });
        std::partial_sum(ends_.begin(), ends_.end(), ends_.begin());
        listed_.resize(ends_.back());
        std::vector<std::uint32_t> next(ends_.begin(), ends_.end() - 1);
        for (std::uint32_t i = 0; i < flats.size(); ++i)
            visit(flats[i], [&](std::size_t column) { listed_[next[column]++] = i; });
    }
    template <class Each>
    void each(const Flat& part, const Each& each) const {
        visit(part, [&](std::size_t column) {
            each(std::span(listed_).subspan(ends_[column], ends_[column + 1] - ends_[column]));
        });
    }

  private:
    int at(double along, int axis) const {
        return static_cast<int>(std::clamp((along - low_[axis]) * scale_[axis], 0.0, side_ - 1.0));
    }
    template <class Each>
    void visit(const Flat& flat, const Each& each) const {
        for (int z = at(flat.low.y, 1); z <= at(flat.high.y, 1); ++z)
            for (int x = at(flat.low.x, 0); x <= at(flat.high.x, 0); ++x) each(static_cast<std::size_t>(z * side_ + x));
    }
    int side_ = 1;
    base::Vec2 low_, scale_{0.0};
    std::vector<std::uint32_t> ends_, listed_;  // the columns, one behind the other
};

}  // namespace query
