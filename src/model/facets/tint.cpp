#include "model/facets/tint.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Tint::type() {
    static const FacetType type = [] {
        FieldsOf<Tint> f;
        f.colour("colour", "Colour", &Tint::colour).always = true;
        FacetType made = facetTypeOf<Tint>("tint", "Tint", "Times the colours of its mesh", f.done());
        made.bare = true;
        return made;
    }();
    return type;
}

}  // namespace model
