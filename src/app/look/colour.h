#pragma once
// Colours as Qt has them and as the scene does: linear RGB, 0 to 1.
#include <QColor>
#include <algorithm>
#include <cmath>

#include "base/colour.h"
#include "base/math.h"

namespace app {

inline QColor toColour(const base::Vec3& linear) {
    auto part = [](double v) { return std::clamp(static_cast<int>(std::lround(base::toShown(v) * 255)), 0, 255); };
    return {part(linear.x), part(linear.y), part(linear.z)};
}
inline base::Vec3 toLinear(const QColor& c) {
    return {base::toLinear(c.redF()), base::toLinear(c.greenF()), base::toLinear(c.blueF())};
}

/// As the renderer takes tints: 0xAABBGGRR.
inline std::uint32_t pack(const QColor& c, int alpha) {
    return static_cast<std::uint32_t>(c.red()) | static_cast<std::uint32_t>(c.green()) << 8 |
           static_cast<std::uint32_t>(c.blue()) << 16 | static_cast<std::uint32_t>(alpha) << 24;
}

}  // namespace app
