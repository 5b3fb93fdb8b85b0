#include "render/camera.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <glm/gtc/matrix_transform.hpp>

namespace render {
namespace {

constexpr double kSteepest = 89.0;
constexpr double kFlatDepth = 9000;  // metres seen behind the middle of an orthographic picture
constexpr double kFlatBefore = 0.8;  // and before it, in heights of the picture: what is nearer is cut away
constexpr double kSmallestHeight = 0.02, kGreatestHeight = 40'000;

query::Plane planeThrough(const Vec3& eye, const Vec3& a, const Vec3& b) {
    const Vec3 n = glm::normalize(glm::cross(a, b));
    return {n, -glm::dot(n, eye)};
}

}  // namespace

Camera Camera::looking(const Vec3& from, const Vec3& to) {
    Camera camera;
    camera.eye = from;
    const Vec3 d = to - from;
    if (glm::length(d) < 1e-9) return camera;
    camera.yawDegrees = base::degrees(std::atan2(-d.x, -d.z));
    camera.pitchDegrees = std::clamp(base::degrees(std::atan2(d.y, std::hypot(d.x, d.z))), -kSteepest, kSteepest);
    return camera;
}

Camera Camera::at(const base::Affine& pose) {
    Camera camera = looking(pose.translation, pose.translation + pose.direction({0, 0, -1}));
    const Vec3 side = pose.direction({1, 0, 0});
    camera.rollDegrees = base::degrees(std::atan2(glm::dot(side, camera.up()), glm::dot(side, camera.right())));
    return camera;
}

Camera Camera::flat(const Vec3& centre, double yaw, double pitch, double height) {
    Camera camera;
    camera.eye = centre;
    camera.yawDegrees = yaw;
    camera.pitchDegrees = pitch;
    camera.heightMetres = std::clamp(height, kSmallestHeight, kGreatestHeight);
    return camera;
}

Vec3 Camera::forward() const {
    const double yaw = base::radians(yawDegrees), pitch = base::radians(pitchDegrees);
    return {-std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch)};
}

Vec3 Camera::right() const {
    const double yaw = base::radians(yawDegrees);
    const Vec3 level(std::cos(yaw), 0, -std::sin(yaw));
    if (rollDegrees == 0) return level;
    const double roll = base::radians(rollDegrees);
    return level * std::cos(roll) + glm::cross(level, forward()) * std::sin(roll);
}

Vec3 Camera::up() const {
    return glm::cross(right(), forward());
}

base::Mat4 Camera::viewMatrix() const {
    const Vec3 r = right(), u = up(), f = forward();
    const base::Mat4 turn(r.x, u.x, -f.x, 0, r.y, u.y, -f.y, 0, r.z, u.z, -f.z, 0, 0, 0, 0, 1);
    return glm::translate(turn, -eye);
}

base::Mat4 Camera::projection(const Viewport& v) const {
    if (isFlat()) {
        const double y = heightMetres / 2, x = y * v.width / v.height;
        return glm::ortho(-x, x, -y, y, -flatBefore(), kFlatDepth);
    }
    return glm::perspective(base::radians(verticalDegrees), v.width / v.height, nearMetres, farMetres);
}

base::Ray Sight::rayThrough(const Vec2& pixel) const {
    const double x = (pixel.x - viewport.width / 2) / scale, y = (viewport.height / 2 - pixel.y) / scale;
    if (flat) return {eye + right * x + up * y - forward * before, forward};
    return {eye, glm::normalize(forward + right * x + up * y)};
}

std::optional<Vec2> Sight::project(const Vec3& point) const {
    const Vec3 d = point - eye;
    const double depth = glm::dot(d, forward);
    if (!flat && depth < 1e-6) return std::nullopt;
    const double pixels = flat ? scale : scale / depth;
    return Vec2(viewport.width / 2 + glm::dot(d, right) * pixels, viewport.height / 2 - glm::dot(d, up) * pixels);
}

double Sight::metresPerPixel(const Vec3& point) const {
    return flat ? 1 / scale : std::max(glm::dot(point - eye, forward), nearMetres) / scale;
}

base::Ray Sight::rayTo(const Vec3& point) const {
    const Vec3 d = point - eye;
    if (flat) return {point - forward * (glm::dot(d, forward) + before), forward};
    const double length = glm::length(d);
    return {eye, length < 1e-9 ? forward : d / length};
}

Sight Camera::sight(const Viewport& v) const {
    const double half = isFlat() ? heightMetres / 2 : std::tan(base::radians(verticalDegrees) / 2);
    const Vec3 ahead = forward(), across = right();
    return {eye, ahead, across, glm::cross(across, ahead), v, v.height / 2 / half, flatBefore(), nearMetres, isFlat()};
}

base::Ray Camera::rayThrough(const Vec2& pixel, const Viewport& v) const {
    return sight(v).rayThrough(pixel);
}

std::optional<Vec2> Camera::project(const Vec3& point, const Viewport& v) const {
    return sight(v).project(point);
}

Vec3 Camera::sightTo(const Vec3& point) const {
    const Vec3 d = point - eye;
    const double length = glm::length(d);
    return isFlat() || length < 1e-9 ? forward() : d / length;
}

double Camera::flatBefore() const {
    return heightMetres * kFlatBefore;
}

base::Ray Camera::rayTo(const Vec3& point) const {
    return sight({}).rayTo(point);
}

double Camera::distanceTo(const Vec3& point) const {
    return isFlat() ? glm::dot(point - eye, forward()) + flatBefore() : glm::length(point - eye);
}

double Camera::metresPerPixel(const Vec3& point, const Viewport& v) const {
    return sight(v).metresPerPixel(point);
}

query::Frustum Camera::frustum(const Viewport& v) const {
    return frustum(v, {0, 0}, {v.width, v.height});
}

query::Frustum Camera::frustum(const Viewport& v, Vec2 from, Vec2 to) const {
    const Vec2 low = glm::min(from, to), high = glm::max(from, to) + Vec2(1e-3);
    const Vec3 topLeft = rayThrough(low, v).direction, bottomRight = rayThrough(high, v).direction;
    const Vec3 topRight = rayThrough({high.x, low.y}, v).direction,
               bottomLeft = rayThrough({low.x, high.y}, v).direction;
    query::Frustum f;
    if (isFlat()) {
        const Vec3 a = rayThrough(low, v).origin, b = rayThrough(high, v).origin;
        const Vec3 r = right(), u = up();
        f.planes[0] = {r, -glm::dot(r, a)};
        f.planes[1] = {-r, glm::dot(r, b)};
        f.planes[2] = {u, -glm::dot(u, b)};
        f.planes[3] = {-u, glm::dot(u, a)};
        f.planes[4] = {forward(), -glm::dot(forward(), a)};
        return f;
    }
    f.planes[0] = planeThrough(eye, topLeft, bottomLeft);
    f.planes[1] = planeThrough(eye, bottomRight, topRight);
    f.planes[2] = planeThrough(eye, bottomLeft, bottomRight);
    f.planes[3] = planeThrough(eye, topRight, topLeft);
    f.planes[4] = {forward(), -glm::dot(forward(), eye) - nearMetres};
    for (std::size_t i = 0; i < 4; ++i) {  // inside is where the rectangle's middle lies
        const Vec3 middle = rayThrough((low + high) * 0.5, v).at(1.0);
        if (f.planes[i].distance(middle) < 0) f.planes[i] = {-f.planes[i].normal, -f.planes[i].offset};
    }
    return f;
}

void Camera::orbit(const Vec3& pivot, double yaw, double pitch) {
    const Vec3 d = eye - pivot;
    const Vec3 own(glm::dot(d, right()), glm::dot(d, up()), glm::dot(d, forward()));
    look(yaw, pitch);
    eye = pivot + right() * own.x + up() * own.y + forward() * own.z;
}

void Camera::look(double yaw, double pitch) {
    rollDegrees = 0;
    yawDegrees = std::remainder(yawDegrees + yaw, 360.0);
    pitchDegrees = std::clamp(pitchDegrees + pitch, -kSteepest, kSteepest);
}

void Camera::pan(const Vec2& pixels, double depth, const Viewport& v) {
    const double metres = metresPerPixel(eye + forward() * depth, v);
    eye += right() * (-pixels.x * metres) + up() * (pixels.y * metres);
}

void Camera::zoomTowards(const Vec3& point, double share) {
    const Vec3 way = point - eye;
    if (isFlat()) {
        const double height = std::clamp(heightMetres * (1 - share), kSmallestHeight, kGreatestHeight);
        eye += (way - forward() * glm::dot(way, forward())) * (1 - height / heightMetres);
        heightMetres = height;
        return;
    }
    const double distance = glm::length(way);
    if (share > 0 && distance * (1 - share) < nearMetres * 3) return;
    eye += way * std::min(share, 0.9);
}

Camera Camera::between(const Camera& other, double share) const {
    if (share <= 0 || share >= 1 || isFlat() != other.isFlat()) return share <= 0 ? *this : other;
    Camera camera = other;
    auto mix = [share](double a, double b) { return a + (b - a) * share; };
    camera.eye = eye + (other.eye - eye) * share;
    auto turned = [share](double a, double b) {
        return std::remainder(a + std::remainder(b - a, 360.0) * share, 360.0);
    };
    camera.yawDegrees = turned(yawDegrees, other.yawDegrees);
    camera.rollDegrees = turned(rollDegrees, other.rollDegrees);
    camera.pitchDegrees = mix(pitchDegrees, other.pitchDegrees);
    camera.verticalDegrees = mix(verticalDegrees, other.verticalDegrees);
    if (isFlat()) camera.heightMetres = heightMetres * std::pow(other.heightMetres / heightMetres, share);
    return camera;
}

void Camera::frame(const base::Aabb& box, const Viewport& v) {
    if (box.empty()) return;
    if (isFlat()) {
        const Vec3 half = box.size() / 2.0, r = glm::abs(right()), u = glm::abs(up());
        const double tall = glm::dot(u, half) * 2, wide = glm::dot(r, half) * 2;
        heightMetres = std::clamp(std::max(tall, wide * v.height / v.width) * 1.15, 0.5, kGreatestHeight);
        // The front of the box is not cut away.
        const double deep = glm::dot(glm::abs(forward()), half) * 1.01;
        eye = box.centre() - forward() * std::max(0.0, deep - flatBefore());
        return;
    }
    const double radius = std::max(glm::length(box.size()) / 2, 0.25);
    const double half = base::radians(verticalDegrees) / 2;
    const double narrow = std::min(half, std::atan(std::tan(half) * v.width / v.height));
    eye = box.centre() - forward() * (radius / std::sin(narrow) * 1.1);
}

std::string Camera::describe() const {
    static constexpr const char* kNames[] = {"north", "north-west", "west", "south-west",
                                             "south", "south-east", "east", "north-east"};
    const int eighth = (static_cast<int>(std::lround(yawDegrees / 45.0)) % 8 + 8) % 8;
    const int tilt = static_cast<int>(std::lround(pitchDegrees));
    if (std::abs(tilt) == 90) return tilt < 0 ? "looking straight down" : "looking straight up";
    const std::string way = fmt::format("looking {}", kNames[eighth]);
    if (tilt == 0) return way + ", level";
    return fmt::format("{}, {} {}°", way, tilt < 0 ? "down" : "up", std::abs(tilt));
}

}  // namespace render
