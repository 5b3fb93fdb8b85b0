#pragma once
// One mesh of something that may have several.
#include "base/math.h"
#include "base/names.h"

namespace app {

struct Piece {
    base::Name item;
    base::Affine pose;
    std::uint32_t shade = 0xFFFFFFFF;  ///< as render::Instance::shade
};

}  // namespace app
