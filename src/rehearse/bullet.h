#pragma once
// Between our values and those of the physics library. For this room's sources that name it.
#include <btBulletDynamicsCommon.h>

#include "rehearse/level.h"

namespace rehearse {

inline btVector3 toBt(const base::Vec3& v) {
    return {v.x, v.y, v.z};
}
inline base::Vec3 fromBt(const btVector3& v) {
    return {v.x(), v.y(), v.z()};
}
inline btTransform toBt(const Pose& p) {
    return btTransform(btQuaternion(p.turn.x, p.turn.y, p.turn.z, p.turn.w), toBt(p.at));
}
/// Upright, at a place.
inline btTransform upright(const btVector3& at) {
    return btTransform(btQuaternion::getIdentity(), at);
}
inline Pose fromBt(const btTransform& t) {
    const btQuaternion q = t.getRotation();
    return {fromBt(t.getOrigin()), base::Quat(q.w(), q.x(), q.y(), q.z())};
}

}  // namespace rehearse
