#include "model/facets/outfit.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Wears::type() {
    static const FacetType type = [] {
        FieldsOf<Wears> f;
        f.text("name", "Outfit", &Wears::outfit).always = true;
        f.last().help = "A named set of values of its kind; what differs from it is the object’s own";
        FacetType made = facetTypeOf<Wears>("outfit", "Outfit", "Which of its kind’s outfits it wears", f.done());
        made.bare = true;
        made.byHand = false;
        return made;
    }();
    return type;
}

}  // namespace model
