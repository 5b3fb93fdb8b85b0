#include "model/facets/light.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Light::type() {
    static const FacetType type = [] {
        FieldsOf<Light> f;
        const auto spot = f.when([](const Light& l) { return l.shape == Shape::Spot; });
        f.word("shape", "Shape", &Light::shape, {"point", "spot"}).property.help =
            "Point: all around. Spot: a cone along its own -Z axis";
        f.colour("colour", "Colour", &Light::colour);
        f.real("intensity", "Intensity", &Light::intensity, "cd", 0, 1e9).property.step = 5;
        f.real("reach", "Reach", &Light::reachMetres, "m", 0, kFarthestMetres).property.step = 0.5;
        f.angle("inner", "Inner cone", &Light::innerDegrees, 0, 90).shown = spot;
        f.last().step = 5;
        f.angle("outer", "Outer cone", &Light::outerDegrees, 0, 90).shown = spot;
        f.last().step = 5;
        f.flag("on", "On at the start", &Light::on).property.help = "Off: it is shown by its mark, and shines not";
        return facetTypeOf<Light>("light", "Light", "Shines where the object is", f.done());
    }();
    return type;
}

}  // namespace model
