#include "ops/turned.h"

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

base::Affine turnAbout(const base::Vec3& point, const base::Mat3& turn) {
    return {turn, point - turn * point};
}

}  // namespace ops
