#pragma once
// What writing and reading a payload share. For encode.cpp and decode.cpp.
#include <cstdint>

#include "base/math.h"

namespace edit {

// 1 had no unknown keys inside lights, cameras, sun and first view; 2 no bookmarks and saved selections;
// 3 no tints and arrays; 4 no solids, no prefabs, and no head in settings; 5 no project data; 6 no bodies, points,
// zones and surfaces; 7 nothing about checks; 8 facets of ten fixed forms (old_facets.h reads them); 9 no haze and
// notes; 10 no guise and no bounds of the level.
constexpr std::uint8_t kPayloadVersion = 11;

constexpr std::size_t kLargestKeptText = std::size_t{64} << 20;

/// One column of a Transform: ten doubles.
inline double& lane(base::Transform& t, int i) {
    if (i < 3) return t.position[i];
    if (i == 3) return t.rotation.x;
    if (i == 4) return t.rotation.y;
    if (i == 5) return t.rotation.z;
    if (i == 6) return t.rotation.w;
    return t.scale[i - 7];
}
inline double lane(const base::Transform& t, int i) {
    return lane(const_cast<base::Transform&>(t), i);
}

}  // namespace edit
