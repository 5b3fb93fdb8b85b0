#include "base/math.h"

#include <cmath>

namespace base {

bool isFinite(const Vec3& v) {
    return std::isfinite(v.x) && std::isfinite(v.y) && std::isfinite(v.z);
}

bool isFinite(const Quat& q) {
    return std::isfinite(q.x) && std::isfinite(q.y) && std::isfinite(q.z) && std::isfinite(q.w);
}

Affine toAffine(const Transform& t) {
    Affine a;
    a.linear = glm::mat3_cast(t.rotation);
    a.linear[0] *= t.scale.x;
    a.linear[1] *= t.scale.y;
    a.linear[2] *= t.scale.z;
    a.translation = t.position;
    return a;
}

Affine operator*(const Affine& outer, const Affine& inner) {
    return {outer.linear * inner.linear, outer.linear * inner.translation + outer.translation};
}

std::optional<Affine> inverse(const Affine& a) {
    const double determinant = glm::determinant(a.linear);
    if (!std::isfinite(determinant) || std::abs(determinant) < 1e-30) return std::nullopt;
    Affine result;
    result.linear = glm::inverse(a.linear);
    result.translation = -(result.linear * a.translation);
    return result;
}

Transform toTransform(const Affine& a) {
    Transform t;
    t.position = a.translation;
    t.scale = {glm::length(a.linear[0]), glm::length(a.linear[1]), glm::length(a.linear[2])};
    if (glm::determinant(a.linear) < 0) t.scale.x = -t.scale.x;
    Mat3 r;
    for (int i = 0; i < 3; ++i) r[i] = t.scale[i] != 0 ? a.linear[i] / t.scale[i] : Vec3(0.0);
    // Gram-Schmidt, Y first: what shear there is goes into the other two axes.
    r[1] = glm::length(r[1]) > 0 ? glm::normalize(r[1]) : Vec3(0, 1, 0);
    r[0] -= r[1] * glm::dot(r[0], r[1]);
    r[0] = glm::length(r[0]) > 1e-12 ? glm::normalize(r[0]) : Vec3(1, 0, 0);
    r[2] = glm::cross(r[0], r[1]);
    t.rotation = glm::normalize(glm::quat_cast(r));
    return t;
}

bool hasShear(const Affine& a) {
    for (int i = 0; i < 3; ++i) {
        const Vec3 u = a.linear[i];
        const Vec3 v = a.linear[(i + 1) % 3];
        if (std::abs(glm::dot(u, v)) > 1e-6 * glm::length(u) * glm::length(v)) return true;
    }
    return false;
}

Aabb mapped(const Aabb& box, const Affine& a) {
    if (box.empty()) return box;
    Aabb result{a.translation, a.translation};
    for (int column = 0; column < 3; ++column) {
        const Vec3 p = a.linear[column] * box.low[column];
        const Vec3 q = a.linear[column] * box.high[column];
        result.low += glm::min(p, q);
        result.high += glm::max(p, q);
    }
    return result;
}

std::optional<double> intersect(const Ray& ray, const Aabb& box) {
    double enter = 0.0;
    double leave = std::numeric_limits<double>::infinity();
    for (int axis = 0; axis < 3; ++axis) {
        if (ray.direction[axis] == 0.0) {
            if (ray.origin[axis] < box.low[axis] || ray.origin[axis] > box.high[axis]) return std::nullopt;
            continue;
        }
        double near = (box.low[axis] - ray.origin[axis]) / ray.direction[axis];
        double far = (box.high[axis] - ray.origin[axis]) / ray.direction[axis];
        if (near > far) std::swap(near, far);
        enter = std::max(enter, near);
        leave = std::min(leave, far);
    }
    if (enter > leave) return std::nullopt;
    return enter;
}

Quat fromDegrees(const Vec3& turn) {
    const Quat x = glm::angleAxis(radians(turn.x), Vec3(1, 0, 0));
    const Quat y = glm::angleAxis(radians(turn.y), Vec3(0, 1, 0));
    const Quat z = glm::angleAxis(radians(turn.z), Vec3(0, 0, 1));
    return y * x * z;
}

Vec3 toDegrees(const Quat& rotation) {
    const Mat3 m = glm::mat3_cast(rotation);
    const double sinPitch = glm::clamp(-m[2][1], -1.0, 1.0);
    Vec3 turn;
    turn.x = std::asin(sinPitch);
    if (std::abs(sinPitch) < 1.0 - 1e-12) {
        turn.y = std::atan2(m[2][0], m[2][2]);
        turn.z = std::atan2(m[0][1], m[1][1]);
    } else {
        turn.y = std::atan2(-m[0][2], m[0][0]);
        turn.z = 0.0;
    }
    return {degrees(turn.x), degrees(turn.y), degrees(turn.z)};
}

}  // namespace base
