#include "model/facets/surfaces.h"

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& slotFields() {
    static const Fields fields = [] {
        FieldsOf<SlotSurface> f;
        f.text("slot", "Slot", &SlotSurface::slot);
        f.text("surface", "Surface", &SlotSurface::surface);
        f.colour("tint", "Tint", &SlotSurface::tint);
        f.text("image", "Image", &SlotSurface::image, PropertyType::Media);
        f.word("fit", "How the image lies", &SlotSurface::fit, {"tile", "fit", "fill", "stretch"});
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
