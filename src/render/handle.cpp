#include "render/handle.h"

#include <algorithm>
#include <cmath>

namespace render {
namespace {

constexpr int kRingPoints = 48;
constexpr double kReach = 8;  // pixels

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
        positive += base::cross(e, w) > 0 ? 1 : 0;
    }
    return positive == 0 || positive == 4;
}

Vec3 acrossOf(const Vec3& axis) {
    const Vec3 other = std::abs(axis.y) < 0.9 ? Vec3(0, 1, 0) : Vec3(1, 0, 0);
    return glm::normalize(glm::cross(axis, other));
}

double nearestMultiple(double value, double step) {
    return step > 0 ? std::round(value / step) * step : value;
}

}  // namespace

// Together, each task has a reach of its own so that no two parts lie on one another.
Vec3 Handle::tip(Task task, int axis, const Camera& camera, const Viewport& viewport) const {
    const double share = task == Task::Fit && slide ? 0.62 : 1.0;
    return origin + axesFor(task)[axis] * (pixels * share * camera.metresPerPixel(origin, viewport));
}

std::array<Vec3, 4> Handle::planeSquare(Task task, int without, const Camera& camera, const Viewport& viewport) const {
    const double unit = pixels * camera.metresPerPixel(origin, viewport);
    const Vec3 a = axesFor(task)[(without + 1) % 3] * unit, b = axesFor(task)[(without + 2) % 3] * unit;
    return {origin + a * 0.3 + b * 0.3, origin + a * 0.5 + b * 0.3, origin + a * 0.5 + b * 0.5,
            origin + a * 0.3 + b * 0.5};
}

double Handle::ringPixels() const {
    return slide || fit ? pixels * 1.18 : pixels;
}

std::vector<Handle::RingPoint> Handle::ring(int which, const Camera& camera, const Viewport& viewport) const {
    const bool sight = which == kAll;
    const Vec3 axis = sight ? -camera.forward() : axes[which];
    const double radius = ringPixels() * (sight ? 1.14 : 1.0) * camera.metresPerPixel(origin, viewport);
    const Vec3 a = acrossOf(axis), b = glm::cross(axis, a);
    const Vec3 towards = -camera.sightTo(origin);
    std::vector<RingPoint> points;
    for (int i = 0; i <= kRingPoints; ++i) {
        const double angle = 2 * base::kPi * i / kRingPoints;
        const Vec3 way = a * std::cos(angle) + b * std::sin(angle);
        points.push_back({origin + way * radius, sight || glm::dot(way, towards) > -0.05});
    }
    return points;
}

bool Handle::axisUsable(Task task, int axis, const Camera& camera) const {
    return std::abs(glm::dot(camera.sightTo(origin), axesFor(task)[axis])) < 0.985;
}

bool Handle::planeUsable(Task task, int without, const Camera& camera) const {
    return std::abs(glm::dot(camera.sightTo(origin), axesFor(task)[without])) > 0.12;
}

HandlePart Handle::hit(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const {
    const auto centre = camera.project(origin, viewport);
    if (!centre) return {};
    const double fromCentre = glm::length(pixel - *centre);
    if (fromCentre < 9) {
        if (fit && (!slide || fromCentre > 5.5)) return {Task::Fit, kAll};
        if (slide) return {Task::Slide, kAll};
    }
    HandlePart best;
    double nearest = kReach;
    auto offer = [&](double distance, HandlePart part) {
        if (distance < nearest) nearest = distance, best = part;
    };
    for (const Task task : {Task::Fit, Task::Slide}) {
        if (task == Task::Fit ? !fit : !slide) continue;
        for (int axis = 0; axis < 3; ++axis) {
            if (!axisUsable(task, axis, camera)) continue;
            const auto end = camera.project(tip(task, axis, camera, viewport), viewport);
            if (!end) continue;
            // Where both are shown, the inner part of an axis is for sizing, its end for sliding.
            const double from = task == Task::Slide ? (fit ? 0.72 : 0.15) : 0.3;
            offer(std::min(distanceToSegment(pixel, *centre + (*end - *centre) * from, *end),
                           glm::length(pixel - *end) - 3),
                  {task, axis});
        }
    }
    if (best) return best;
    for (const Task task : {Task::Slide, Task::Fit}) {
        if (task == Task::Slide ? !slide : !fit || slide) continue;
        for (int without = 0; without < 3; ++without) {
            if (!planeUsable(task, without, camera)) continue;
            std::array<Vec2, 4> corners;
            bool seen = true;
            const auto square = planeSquare(task, without, camera, viewport);
            for (std::size_t i = 0; i < 4; ++i) {
                const auto p = camera.project(square[i], viewport);
                seen = seen && p.has_value();
                if (p) corners[i] = *p;
            }
            if (seen && insideConvex(pixel, corners)) return {task, without + 3};
        }
    }
    if (!turn) return {};
    for (const int which : {0, 1, 2, kAll}) {
        const auto line = ring(which, camera, viewport);
        for (std::size_t i = 0; i + 1 < line.size(); ++i) {
            if (!line[i].front || !line[i + 1].front) continue;
            const auto a = camera.project(line[i].at, viewport), b = camera.project(line[i + 1].at, viewport);
            if (a && b) offer(distanceToSegment(pixel, *a, *b), {Task::Turn, which});
        }
    }
    if (!best && !slide && !fit && fromCentre < ringPixels() * 0.75) return {Task::Turn, kFree};
    return best;
}

HandleDrag::HandleDrag(const Handle& handle, HandlePart part, const Vec2& press, const Camera& camera,
                       const Viewport& viewport)
    : handle_(handle), part_(part), pressed_(press) {
    const base::Mat3& axes = handle_.axesFor(part.task);
    if (part.task == Task::Turn) {
        normal_ = part.which < 3 ? axes[part.which] : -camera.forward();
        edgeOn_ = part.which < 3 && std::abs(glm::dot(camera.sightTo(handle_.origin), normal_)) < 0.25;
        if (edgeOn_) {  // the ring is nearly a line: its direction on the screen
            const double unit = camera.metresPerPixel(handle_.origin, viewport) * 20;
            const Vec3 way = glm::normalize(glm::cross(normal_, -camera.sightTo(handle_.origin)));
            const auto a = camera.project(handle_.origin, viewport),
                       b = camera.project(handle_.origin + way * unit, viewport);
            if (a && b && glm::length(*b - *a) > 1e-6) along_ = glm::normalize(*b - *a);
        }
        angle_ = angleAt(press, camera, viewport);
        return;
    }
    const base::Ray ray = camera.rayThrough(press, viewport);
    if (const int axis = part.axis(); axis >= 0) {
        // The plane that holds the axis and faces the eye most.
        const Vec3 a = axes[axis];
        normal_ = glm::normalize(glm::cross(a, glm::cross(camera.sightTo(handle_.origin), a)));
    } else if (const int without = part.planeWithout(); without >= 0) {
        normal_ = axes[without];
    } else {
        normal_ = -camera.forward();
    }
    start_ = pointOn(ray).value_or(handle_.origin);
    const Vec3 way = start_ - handle_.origin;
    const double least = camera.metresPerPixel(handle_.origin, viewport) * 12;
    length_ = std::max(part.axis() >= 0 ? std::abs(glm::dot(way, axes[part.axis()])) : glm::length(way), least);
}

std::optional<Vec3> HandleDrag::pointOn(const base::Ray& ray) const {
    const double slope = glm::dot(ray.direction, normal_);
    if (std::abs(slope) < 0.01) return std::nullopt;
    const double t = glm::dot(handle_.origin - ray.origin, normal_) / slope;
    if (t <= 0) return std::nullopt;
    return ray.at(t);
}

Vec3 HandleDrag::slideOffset(const base::Ray& ray) {
    if (const auto point = pointOn(ray)) {
        Vec3 d = *point - start_;
        if (const int axis = part_.axis(); axis >= 0) {
            const Vec3 a = handle_.axesFor(part_.task)[axis];
            d = a * glm::dot(d, a);
        }
        last_ = d;
    }
    return last_;
}

// Where the pointer stands round the axis, radians.
double HandleDrag::angleAt(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const {
    if (edgeOn_) return glm::dot(pixel - pressed_, along_) / handle_.ringPixels();
    const Vec3 a = acrossOf(normal_), b = glm::cross(normal_, a);
    const auto point = pointOn(camera.rayThrough(pixel, viewport));
    if (!point) return angle_;
    const Vec3 way = *point - handle_.origin;
    return std::atan2(glm::dot(way, b), glm::dot(way, a));
}

// Counts full turns: each move goes the shorter way round.
double HandleDrag::turned(const Vec2& pixel, const Camera& camera, const Viewport& viewport) {
    const double now = angleAt(pixel, camera, viewport);
    whole_ += edgeOn_ ? now - angle_ : std::remainder(now - angle_, 2 * base::kPi);
    angle_ = now;
    return whole_;
}

HandleAmount HandleDrag::amount(const Vec2& pixel, const Camera& camera, const Viewport& viewport) {
    HandleAmount result;
    if (part_.task == Task::Turn) {
        result.axis = normal_;
        if (part_.which == kFree) {
            const Vec2 d = (pixel - pressed_) * 0.012;
            const base::Quat turn = glm::angleAxis(d.x, camera.up()) * glm::angleAxis(d.y, camera.right());
            result.radians = glm::angle(turn);
            if (result.radians > 1e-9) result.axis = glm::axis(turn);
        } else {
            result.radians = turned(pixel, camera, viewport);
        }
        return result;
    }
    if (part_.task == Task::Fit && part_.which == kAll) {
        const Vec2 d = pixel - pressed_;
        result.factors = Vec3(std::exp2((d.x - d.y) / 120.0));
        return result;
    }
    const Vec3 offset = slideOffset(camera.rayThrough(pixel, viewport));
    if (part_.task == Task::Slide) {
        result.offset = offset;
        return result;
    }
    const base::Mat3& axes = handle_.fitAxes;
    constexpr double kSmallest = 0.01;
    if (const int axis = part_.axis(); axis >= 0) {
        const double side = glm::dot(start_ - handle_.origin, axes[axis]) < 0 ? -1 : 1;
        result.factors[axis] = std::max(1 + side * glm::dot(offset, axes[axis]) / length_, kSmallest);
    } else {
        const Vec3 way = start_ - handle_.origin;
        const double factor = std::max(glm::dot(way + offset, way) / std::max(glm::dot(way, way), 1e-12), kSmallest);
        for (int k = 0; k < 3; ++k)
            if (k != part_.planeWithout()) result.factors[k] = factor;
    }
    return result;
}

HandleAmount HandleDrag::snapped(const HandleAmount& amount, const Steps& steps) const {
    HandleAmount result = amount;
    if (steps.metres > 0) {
        // Free follows the world's axes; the others the handle's own.
        const base::Mat3 axes = part_.which == kAll ? base::Mat3(1.0) : handle_.axes;
        result.offset = Vec3(0.0);
        for (int k = 0; k < 3; ++k) {
            const bool moves = part_.axis() >= 0 ? part_.axis() == k : part_.planeWithout() != k;
            const double start = steps.onLattice && moves ? glm::dot(handle_.origin, axes[k]) : 0;
            result.offset +=
                axes[k] * (nearestMultiple(start + glm::dot(amount.offset, axes[k]), steps.metres) - start);
        }
    }
    if (part_.which != kFree) result.radians = nearestMultiple(amount.radians, base::radians(steps.degrees));
    if (steps.factor > 0)
        for (int k = 0; k < 3; ++k)
            if (amount.factors[k] != 1.0)
                result.factors[k] = std::max(nearestMultiple(amount.factors[k], steps.factor), steps.factor);
    return result;
}

}  // namespace render
