#pragma once
#include "model/facet.h"

namespace model {

/// A camera at the object's origin looking along its -Z axis.
struct Camera {
    double verticalDegrees = 50.0;  ///< field of view, 1..170
    double nearMetres = 0.1;
    double farMetres = 1000.0;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Camera&, const Camera&) = default;
};

}  // namespace model
