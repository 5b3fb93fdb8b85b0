#include "shape/solid.h"

#include <algorithm>
#include <cmath>

namespace shape {
namespace {

using base::Vec3;

/// Gathers faces; each has corners of its own, counter-clockwise as seen from outside.
class Builder {
  public:
    void face(std::initializer_list<Vec3> corners) { face(std::vector<Vec3>(corners)); }
    void face(const std::vector<Vec3>& corners) {
        const Vec3 normal = glm::normalize(glm::cross(corners[1] - corners[0], corners[2] - corners[0]));
        const auto first = static_cast<std::uint32_t>(mesh_.positions.size());
        for (const Vec3& c : corners) add(c, normal);
        for (std::uint32_t i = 2; i < corners.size(); ++i)
            mesh_.indices.insert(mesh_.indices.end(), {first, first + i - 1, first + i});
    }
    /// Four corners with normals of their own; two that fall together leave a triangle.
    void curved(const Vec3 (&corners)[4], const Vec3 (&normals)[4]) {
        const auto first = static_cast<std::uint32_t>(mesh_.positions.size());
        for (int i = 0; i < 4; ++i) add(corners[i], normals[i]);
        for (auto [b, c] : {std::pair{1u, 2u}, {2u, 3u}})
            if (corners[b] != corners[c] && corners[0] != corners[b] && corners[0] != corners[c])
                mesh_.indices.insert(mesh_.indices.end(), {first, first + b, first + c});
    }
    Mesh finish() {
        mesh_.bounds = boundsOf(mesh_);
        mesh_.submeshes = {{0, static_cast<std::uint32_t>(mesh_.indices.size()), 0}};
        Material plaster;
        plaster.name = "plaster";
        plaster.baseColour = {0.56F, 0.54F, 0.49F, 1.0F};
        mesh_.materials = {plaster};
        return std::move(mesh_);
    }

  private:
    void add(const Vec3& p, const Vec3& n) {
        mesh_.positions.push_back({float(p.x), float(p.y), float(p.z)});
        mesh_.normals.push_back({float(n.x), float(n.y), float(n.z)});
    }
    Mesh mesh_;
};

/// A prism along X: `profile` in (z, y), counter-clockwise as seen from +X with -z to the right.
void prism(Builder& b, const std::vector<base::Vec2>& profile, double width) {
    const double x = width / 2;
    std::vector<Vec3> right, left;
    for (const base::Vec2& p : profile) right.emplace_back(x, p.y, p.x);
    for (auto p = profile.rbegin(); p != profile.rend(); ++p) left.emplace_back(-x, p->y, p->x);
    b.face(right);
    b.face(left);
    for (std::size_t i = 0; i < profile.size(); ++i) {
        const base::Vec2 &p = profile[i], &q = profile[(i + 1) % profile.size()];
        b.face({Vec3(x, p.y, p.x), Vec3(-x, p.y, p.x), Vec3(-x, q.y, q.x), Vec3(x, q.y, q.x)});
    }
}

void box(Builder& b, const Vec3& s) {
    const double z = s.z / 2;
    prism(b, {{z, 0}, {-z, 0}, {-z, s.y}, {z, s.y}}, s.x);
}

void wedge(Builder& b, const Vec3& s) {
    const double z = s.z / 2;
    prism(b, {{z, 0}, {-z, 0}, {-z, s.y}}, s.x);
}

/// Steps as boxes side by side, so that every face is convex.
void stairs(Builder& b, const Vec3& s, int steps) {
    const double deep = s.z / steps, high = s.y / steps;
    const double x = s.x / 2, front = s.z / 2;
    for (int i = 0; i < steps; ++i) {
        const double z0 = front - deep * i, z1 = front - deep * (i + 1), y0 = high * i, y1 = high * (i + 1);
        b.face({Vec3(-x, y0, z0), Vec3(x, y0, z0), Vec3(x, y1, z0), Vec3(-x, y1, z0)});
        b.face({Vec3(-x, y1, z0), Vec3(x, y1, z0), Vec3(x, y1, z1), Vec3(-x, y1, z1)});
        b.face({Vec3(x, 0, z0), Vec3(x, 0, z1), Vec3(x, y1, z1), Vec3(x, y1, z0)});
        b.face({Vec3(-x, 0, z1), Vec3(-x, 0, z0), Vec3(-x, y1, z0), Vec3(-x, y1, z1)});
    }
    b.face({Vec3(x, 0, -front), Vec3(-x, 0, -front), Vec3(-x, s.y, -front), Vec3(x, s.y, -front)});
    b.face({Vec3(-x, 0, -front), Vec3(x, 0, -front), Vec3(x, 0, front), Vec3(-x, 0, front)});
}

/// A point of the unit circle in the plane y = 0, going from +Z by way of +X.
Vec3 onCircle(int i, int sides) {
    const double angle = 2 * base::kPi * (i % sides) / sides;
    return {std::sin(angle), 0, std::cos(angle)};
}

void round(Builder& b, const Vec3& s, int sides, double topShare) {
    const Vec3 half(s.x / 2, 0, s.z / 2), up(0, s.y, 0);
    std::vector<Vec3> top, bottom;
    for (int i = 0; i < sides; ++i) {
        const Vec3 c[2] = {onCircle(i, sides), onCircle(i + 1, sides)};
        Vec3 normals[2];
        for (int k = 0; k < 2; ++k)
            normals[k] = glm::normalize(Vec3(c[k].x / half.x, (1 - topShare) / s.y, c[k].z / half.z));
        const Vec3 low[2] = {c[0] * half, c[1] * half};
        const Vec3 high[2] = {low[0] * topShare + up, low[1] * topShare + up};
        b.curved({low[0], low[1], high[1], high[0]}, {normals[0], normals[1], normals[1], normals[0]});
        top.push_back(high[0]);
        bottom.push_back(low[0]);
    }
    std::reverse(bottom.begin(), bottom.end());
    b.face(bottom);
    if (topShare > 0) b.face(top);
}

void sphere(Builder& b, const Vec3& s, int sides) {
    const int rings = std::max(2, sides / 2);
    const Vec3 half = s / 2.0, middle(0, half.y, 0);
    auto direction = [&](int ring, int side) {
        if (ring == 0 || ring == rings) return Vec3(0, ring == 0 ? -1 : 1, 0);
        const double tilt = base::kPi * ring / rings;
        return onCircle(side, sides) * std::sin(tilt) + Vec3(0, -std::cos(tilt), 0);
    };
    for (int ring = 0; ring < rings; ++ring)
        for (int side = 0; side < sides; ++side) {
            const Vec3 d[4] = {direction(ring, side), direction(ring, side + 1), direction(ring + 1, side + 1),
                               direction(ring + 1, side)};
            Vec3 at[4], normals[4];
            for (int k = 0; k < 4; ++k) {
                at[k] = middle + d[k] * half;
                normals[k] = glm::normalize(d[k] / half);
            }
            b.curved(at, normals);
        }
}

}  // namespace

int usualParts(SolidShape shape, const Vec3& size) {
    constexpr double kRise = 0.18;  // metres: a step that is climbed with ease
    if (shape == SolidShape::Stairs) return std::clamp(int(std::lround(size.y / kRise)), 1, 200);
    const bool isRound = shape == SolidShape::Cylinder || shape == SolidShape::Cone || shape == SolidShape::Sphere;
    return isRound ? 24 : 0;
}

Mesh solidMesh(SolidShape shape, const Vec3& size, int parts) {
    if (parts <= 0) parts = usualParts(shape, size);
    Builder b;
    switch (shape) {
        case SolidShape::Box:
        case SolidShape::Wall: box(b, size); break;
        case SolidShape::Wedge: wedge(b, size); break;
        case SolidShape::Cylinder: round(b, size, std::max(3, parts), 1); break;
        case SolidShape::Cone: round(b, size, std::max(3, parts), 0); break;
        case SolidShape::Sphere: sphere(b, size, std::max(3, parts)); break;
        case SolidShape::Plane: {
            const double x = size.x / 2, z = size.z / 2;
            b.face({Vec3(-x, 0, z), Vec3(x, 0, z), Vec3(x, 0, -z), Vec3(-x, 0, -z)});
            break;
        }
        case SolidShape::Stairs: stairs(b, size, std::clamp(parts, 1, 1000)); break;
    }
    return b.finish();
}

}  // namespace shape
