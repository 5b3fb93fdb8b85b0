#include "model/facets/goal.h"

#include "model/facet_builder.h"

namespace model {

const FacetType& Goal::type() {
    static const FacetType type = [] {
        FieldsOf<Goal> f;
        f.text("words", "Says", &Goal::words).property.help = "What the player reads";
        f.last().fallback = Value{std::string()};
        f.whole("order", "Order", &Goal::order, -1000, 1000).property.help = "Of those that are set, the lowest first";
        f.flag("held", "Held back", &Goal::held).property.help = "Until a cue sets it";
        return facetTypeOf<Goal>("goal", "Goal", "What the player is asked to reach; cues say when it is met",
                                 f.done());
    }();
    return type;
}

}  // namespace model
