#include "render/slide_handle.h"

#include <algorithm>
#include <cmath>

namespace render {
namespace {

double distanceToSegment(const Vec2& p, const Vec2& a, const Vec2& b) {
    const Vec2 d = b - a;
    const double length2 = glm::dot(d, d);
    const double t = length2 > 0 ? std::clamp(glm::dot(p - a, d) / length2, 0.0, 1.0) : 0.0;
    return glm::length(p - (a + d * t));
}

bool insideConvex(const Vec2& p, const std::array<Vec2, 4>& q) {
    int positive = 0;
    for (std::size_t i = 0; i < 4; ++i) {
        const Vec2 e = q[(i + 1) % 4] - q[i], w = p - q[i];
        positive += e.x * w.y - e.y * w.x > 0 ? 1 : 0;
    }
    return positive == 0 || positive == 4;
}

int axisOf(SlidePart part) {
    return part >= SlidePart::X && part <= SlidePart::Z ? static_cast<int>(part) - 1 : -1;
}
int planeOf(SlidePart part) {
    return part >= SlidePart::YZ && part <= SlidePart::XY ? static_cast<int>(part) - 4 : -1;
}

}  // namespace

Vec3 SlideHandle::tip(int axis, const Camera& camera, const Viewport& viewport) const {
    return origin + axes[static_cast<std::size_t>(axis)] * (pixels * camera.metresPerPixel(origin, viewport));
}

std::array<Vec3, 4> SlideHandle::planeSquare(int without, const Camera& camera, const Viewport& viewport) const {
    const double unit = pixels * camera.metresPerPixel(origin, viewport);
    const Vec3 a = axes[static_cast<std::size_t>((without + 1) % 3)] * unit,
               b = axes[static_cast<std::size_t>((without + 2) % 3)] * unit;
    return {origin + a * 0.3 + b * 0.3, origin + a * 0.5 + b * 0.3, origin + a * 0.5 + b * 0.5,
            origin + a * 0.3 + b * 0.5};
}

bool SlideHandle::axisUsable(int axis, const Camera& camera) const {
    const Vec3 sight = glm::normalize(origin - camera.eye);
    return std::abs(glm::dot(sight, axes[static_cast<std::size_t>(axis)])) < 0.985;
}

bool SlideHandle::planeUsable(int without, const Camera& camera) const {
    const Vec3 sight = glm::normalize(origin - camera.eye);
    return std::abs(glm::dot(sight, axes[static_cast<std::size_t>(without)])) > 0.12;
}

SlidePart SlideHandle::hit(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const {
    const auto centre = camera.project(origin, viewport);
    if (!centre) return SlidePart::None;
    if (glm::length(pixel - *centre) < 9) return SlidePart::Free;
    SlidePart best = SlidePart::None;
    double nearest = 8;
    for (int axis = 0; axis < 3; ++axis) {
        if (!axisUsable(axis, camera)) continue;
        const auto end = camera.project(tip(axis, camera, viewport), viewport);
        if (!end) continue;
        const double distance =
            std::min(distanceToSegment(pixel, *centre + (*end - *centre) * 0.15, *end), glm::length(pixel - *end) - 3);
        if (distance < nearest) {
            nearest = distance;
            best = static_cast<SlidePart>(axis + 1);
        }
    }
    if (best != SlidePart::None) return best;
    for (int without = 0; without < 3; ++without) {
        if (!planeUsable(without, camera)) continue;
        std::array<Vec2, 4> corners;
        bool seen = true;
        const auto square = planeSquare(without, camera, viewport);
        for (std::size_t i = 0; i < 4; ++i) {
            const auto p = camera.project(square[i], viewport);
            seen = seen && p.has_value();
            if (p) corners[i] = *p;
        }
        if (seen && insideConvex(pixel, corners)) return static_cast<SlidePart>(without + 4);
    }
    return SlidePart::None;
}

SlideDrag::SlideDrag(const SlideHandle& handle, SlidePart part, const base::Ray& press, const Camera& camera)
    : handle_(handle), part_(part) {
    if (const int axis = axisOf(part); axis >= 0) {
        // The plane that holds the axis and faces the eye most.
        const Vec3 a = handle_.axes[static_cast<std::size_t>(axis)];
        const Vec3 sight = handle_.origin - camera.eye;
        normal_ = glm::normalize(glm::cross(a, glm::cross(sight, a)));
    } else if (const int plane = planeOf(part); plane >= 0) {
        normal_ = handle_.axes[static_cast<std::size_t>(plane)];
    } else {
        normal_ = -camera.forward();
    }
    start_ = pointOn(press).value_or(handle_.origin);
}

std::optional<Vec3> SlideDrag::pointOn(const base::Ray& ray) const {
    const double slope = glm::dot(ray.direction, normal_);
    if (std::abs(slope) < 0.01) return std::nullopt;
    const double t = glm::dot(handle_.origin - ray.origin, normal_) / slope;
    if (t <= 0) return std::nullopt;
    return ray.at(t);
}

Vec3 SlideDrag::offset(const base::Ray& ray) {
    if (const auto point = pointOn(ray)) {
        Vec3 d = *point - start_;
        if (const int axis = axisOf(part_); axis >= 0) {
            const Vec3& a = handle_.axes[static_cast<std::size_t>(axis)];
            d = a * glm::dot(d, a);
        }
        last_ = d;
    }
    return last_;
}

Vec3 snapOffset(const SlideHandle& handle, SlidePart part, const Vec3& offset, double step) {
    if (step <= 0) return offset;
    auto snap = [&](double v) { return std::round(v / step) * step; };
    if (part == SlidePart::Free) return {snap(offset.x), snap(offset.y), snap(offset.z)};
    Vec3 result(0.0);
    for (const Vec3& axis : handle.axes) result += axis * snap(glm::dot(offset, axis));
    return result;
}

}  // namespace render
