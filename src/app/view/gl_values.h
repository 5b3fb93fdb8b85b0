#pragma once
// Our vectors and matrices as Qt's shader programs take them.
#include <QMatrix4x4>
#include <QVector3D>

#include "base/math.h"

namespace app {

inline QMatrix4x4 toQt(const base::Mat4& m) {
    QMatrix4x4 q;
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 4; ++c) q(r, c) = static_cast<float>(m[c][r]);
    return q;
}

inline QVector3D toQt(const base::Vec3& v) {
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

}  // namespace app
