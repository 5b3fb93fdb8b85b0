#pragma once
// Pixels as Qt and as the core write them.
#include <QPointF>

#include "base/math.h"

namespace app {

inline base::Vec2 toVec(const QPointF& p) {
    return {p.x(), p.y()};
}
inline QPointF toQt(const base::Vec2& p) {
    return {p.x, p.y};
}

}  // namespace app
