#pragma once
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// What the mesh's colours are multiplied with.
struct Tint {
    base::Vec3 colour{1.0};  ///< linear RGB, 0..1
    static const FacetType& type();
    friend bool operator==(const Tint&, const Tint&) = default;
};

}  // namespace model
