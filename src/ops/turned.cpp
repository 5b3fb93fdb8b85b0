#include "ops/turned.h"

#include <cmath>

namespace ops {

base::Transform turnedBelow(const base::Transform& local, const base::Affine& parent, const base::Affine& toParent,
                            const base::Affine& by) {
    base::Transform pose = local;
    pose.position = toParent.point(by.point(parent.point(local.position)));
    if (by.linear == base::Mat3(1.0)) return pose;
    base::Affine turned;
    turned.linear = toParent.linear * by.linear * parent.linear * glm::mat3_cast(local.rotation);
    pose.rotation = glm::normalize(base::toTransform(turned).rotation);
    return pose;
}

base::Mat3 turnBetween(const base::Vec3& from, const base::Vec3& to) {
    const base::Vec3 axis = glm::cross(from, to);
    const double sine = glm::length(axis), cosine = glm::dot(from, to);
    if (sine < 1e-9 && cosine > 0) return base::Mat3(1.0);
    if (sine < 1e-9) {  // right about: any axis across
        const base::Vec3 other = std::abs(from.y) < 0.9 ? base::Vec3(0, 1, 0) : base::Vec3(1, 0, 0);
        return glm::mat3_cast(glm::angleAxis(base::kPi, glm::normalize(glm::cross(from, other))));
    }
    return glm::mat3_cast(glm::angleAxis(std::atan2(sine, cosine), axis / sine));
}

base::Affine turnAbout(const base::Vec3& point, const base::Mat3& turn) {
    return {turn, point - turn * point};
}

}  // namespace ops
