#pragma once
// Geometry values in double precision. Metres, right-handed, Y up, -Z forward; quaternions x y z w in
// files. Angles are radians in code and degrees in the interface.
#include <glm/glm.hpp>
#include <glm/gtc/quaternion.hpp>
#include <limits>
#include <optional>

namespace base {

using Vec2 = glm::dvec2;
using Vec3 = glm::dvec3;
using Vec4 = glm::dvec4;
using Quat = glm::dquat;
using Mat3 = glm::dmat3;
using Mat4 = glm::dmat4;

constexpr double kPi = 3.14159265358979323846;
constexpr double radians(double degrees) {
    return degrees * (kPi / 180.0);
}
constexpr double degrees(double radians) {
    return radians * (180.0 / kPi);
}

/// Twice the area of the triangle they span; positive where `b` lies to the left of `a`.
inline double cross(const Vec2& a, const Vec2& b) {
    return a.x * b.y - a.y * b.x;
}

bool isFinite(const Vec3& v);
bool isFinite(const Quat& q);

/// Position, rotation (unit quaternion) and scale, applied scale first: p' = position + rotation * (scale * p).
struct Transform {
    Vec3 position{0.0};
    Quat rotation{1.0, 0.0, 0.0, 0.0};
    Vec3 scale{1.0};
    friend bool operator==(const Transform&, const Transform&) = default;
};

/// A linear map and a translation: p' = linear * p + translation. May shear and mirror.
struct Affine {
    Mat3 linear{1.0};
    Vec3 translation{0.0};
    Vec3 point(const Vec3& p) const { return linear * p + translation; }
    Vec3 direction(const Vec3& d) const { return linear * d; }
    friend bool operator==(const Affine&, const Affine&) = default;
};

Affine toAffine(const Transform& t);
Affine operator*(const Affine& outer, const Affine& inner);
/// The inverse map; nothing when `a` flattens space (a scale of zero).
std::optional<Affine> inverse(const Affine& a);
/// The transform nearest to `a`: exact unless `a` shears, which no transform can hold. Mirroring goes to x.
Transform toTransform(const Affine& a);
/// True when the axes of `a` are not at right angles (within 1e-6), so that toTransform would lose something.
bool hasShear(const Affine& a);

/// An axis-aligned box; empty (low > high) until something is added.
struct Aabb {
    Vec3 low{std::numeric_limits<double>::infinity()};
    Vec3 high{-std::numeric_limits<double>::infinity()};

    bool empty() const { return !(low.x <= high.x && low.y <= high.y && low.z <= high.z); }
    Vec3 centre() const { return (low + high) * 0.5; }
    Vec3 size() const { return empty() ? Vec3(0.0) : high - low; }
    void add(const Vec3& p) {
        low = glm::min(low, p);
        high = glm::max(high, p);
    }
    void add(const Aabb& other) {
        low = glm::min(low, other.low);
        high = glm::max(high, other.high);
    }
    /// Corner `i` of 0..7: bit 0 picks x, bit 1 y, bit 2 z.
    Vec3 corner(int i) const {
        return {(i & 1) != 0 ? high.x : low.x, (i & 2) != 0 ? high.y : low.y, (i & 4) != 0 ? high.z : low.z};
    }
    /// The middle of the bottom face, where objects stand.
    Vec3 baseCentre() const { return {centre().x, low.y, centre().z}; }
    bool overlaps(const Aabb& o) const {
        return low.x <= o.high.x && high.x >= o.low.x && low.y <= o.high.y && high.y >= o.low.y && low.z <= o.high.z &&
               high.z >= o.low.z;
    }
    friend bool operator==(const Aabb&, const Aabb&) = default;
};

/// The smallest box around `box` mapped by `a` (Arvo, "Transforming axis-aligned bounding boxes", 1990).
Aabb mapped(const Aabb& box, const Affine& a);

struct Ray {
    Vec3 origin{0.0};
    Vec3 direction{0.0, 0.0, -1.0};
    Vec3 at(double t) const { return origin + direction * t; }
};

/// Where `ray` enters `box` (0 if it starts inside), or nothing.
std::optional<double> intersect(const Ray& ray, const Aabb& box);

/// Turns about the fixed axes in the order the interface shows them: about Y (heading) outermost, then X
/// (pitch), then Z (roll). Degrees. The inverse picks roll 0 where pitch is +-90 degrees.
Quat fromDegrees(const Vec3& turn);
Vec3 toDegrees(const Quat& rotation);

}  // namespace base
