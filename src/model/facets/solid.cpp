#include "model/facets/solid.h"

#include <algorithm>

#include "model/facet_builder.h"

namespace model {
namespace {

const std::vector<std::string>& names() {
    static const std::vector<std::string> all = {"box",    "wedge", "cylinder", "cone",
                                                 "sphere", "plane", "stairs",   "wall"};
    return all;
}

using Shape = Solid::Shape;

bool hasParts(const Solid& s) {
    return s.shape == Shape::Cylinder || s.shape == Shape::Cone || s.shape == Shape::Sphere || s.shape == Shape::Stairs;
}

}  // namespace

const std::string& solidName(Solid::Shape shape) {
    return names()[static_cast<std::size_t>(shape)];
}

std::optional<Solid::Shape> solidShape(std::string_view name) {
    const auto place = std::find(names().begin(), names().end(), name);
    return place == names().end() ? std::nullopt : std::optional(static_cast<Shape>(place - names().begin()));
}

const FacetType& Solid::type() {
    static const FacetType type = [] {
        FieldsOf<Solid> f;
        f.word("shape", "Shape", &Solid::shape, names()).always = true;
        Member& size = f.vector("size", "Size", &Solid::size, "m", kAboveNothing, kLargestMetres);
        size.always = true;
        size.inField = false;
        const char *keys[] = {"width", "height", "depth"}, *labels[] = {"Width", "Height", "Depth"};
        for (int k = 0; k < 3; ++k) {
            Member& one = f.derived(
                keys[k], labels[k], "m", 0.001, 10'000, [k](const Solid& s) { return s.size[k]; },
                [k](Solid& s, double metres) { s.size[k] = metres; });
            one.property.step = 0.25;
            if (k == 1) one.shown = f.when([](const Solid& s) { return s.shape != Shape::Plane; });
        }
        Member& parts = f.whole("parts", "Sides or steps", &Solid::parts, 0, 1000);
        parts.property.step = 0.5;  // no slider: nought is another thing than few
        parts.property.help = "Sides of what is round, steps of stairs; 0: as many as suits";
        parts.shown = f.when(hasParts);
        FacetType made = facetTypeOf<Solid>("solid", "Solid", "A plain body made here, from its numbers", f.done());
        made.byHand = false;
        return made;
    }();
    return type;
}

}  // namespace model
