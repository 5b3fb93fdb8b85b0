#pragma once
// A surface to put on solids.
#include "ops/surfaces.h"

namespace test {

/// A step's verb that adds the surface "brick".
inline base::Status addBrick(edit::Draft& draft) {
    model::Surface brick;
    brick.name = brick.label = "brick";
    return ops::putSurface(draft, brick);
}

}  // namespace test
