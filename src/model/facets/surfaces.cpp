#include "model/facets/surfaces.h"

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& slotFields() {
    static const Fields fields = [] {
        FieldsOf<SlotSurface> f;
        f.text("slot", "Slot", &SlotSurface::slot).inField = false;
        f.text("surface", "Surface", &SlotSurface::surface);
        f.colour("tint", "Tint", &SlotSurface::tint);
        f.text("image", "Image", &SlotSurface::image, PropertyType::Media);
        Member& fit = f.word("fit", "Image lies", &SlotSurface::fit, {"tile", "fit", "fill", "stretch"});
        const char* labels[] = {"Tiled, by its size", "Fitted: all of it", "Filled: no gap", "Stretched to the face"};
        for (std::size_t i = 0; i < std::size(labels); ++i) fit.property.choices[i].label = labels[i];
        fit.shown = f.when([](const SlotSurface& s) { return !s.image.empty(); });
        return f.done();
    }();
    return fields;
}

}  // namespace

const FacetType& Surfaces::type() {
    static const FacetType type = [] {
        FieldsOf<Surfaces> f;
        f.parts("slots", "Slots", &Surfaces::slots, slotFields()).parts.named = true;
        FacetType made =
            facetTypeOf<Surfaces>("surfaces", "Surfaces", "What its slots show instead of their own", f.done());
        made.bare = true;
        made.pointed = true;
        made.byHand = false;
        return made;
    }();
    return type;
}

}  // namespace model
