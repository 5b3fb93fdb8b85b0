#include "model/facets/camera.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Camera::type() {
    static const FacetType type = [] {
        FieldsOf<Camera> f;
        f.angle("fieldOfView", "Field of view", &Camera::verticalDegrees, 1, 170).property.step = 5;
        f.real("near", "Near", &Camera::nearMetres, "m", 1e-4, kFarthestMetres).property.step = 0.1;
        f.real("far", "Far", &Camera::farMetres, "m", 1e-3, kFarthestMetres).property.step = 50;
        return facetTypeOf<Camera>("camera", "Camera", "A place to look from, along its own -Z axis", f.done());
    }();
    return type;
}

}  // namespace model
