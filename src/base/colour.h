#pragma once
// A colour's part, 0 to 1, as the scene has it (linear) and as it is written and shown (sRGB, IEC 61966-2-1).
#include <cmath>

namespace base {

inline double toLinear(double shown) {
    return shown <= 0.04045 ? shown / 12.92 : std::pow((shown + 0.055) / 1.055, 2.4);
}
inline double toShown(double linear) {
    return linear <= 0.0031308 ? linear * 12.92 : 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
}

}  // namespace base
