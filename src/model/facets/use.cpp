#include "model/facets/use.h"

#include <fmt/format.h>

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& targetFields() {
    static const Fields fields = [] {
        FieldsOf<UseTarget> f;
        f.link("object", "Object", &UseTarget::object);
        return f.done();
    }();
    return fields;
}

base::Status movesFewEnough(const void* facet) {
    if (FieldsOf<Use>::self(facet).targets.size() <= Use::kMost) return {};
    return base::fail(base::ErrorCode::BadInput, fmt::format("One use can move up to {} objects.", Use::kMost));
}

}  // namespace

const FacetType& Use::type() {
    static const FacetType type = [] {
        FieldsOf<Use> f;
        f.text("words", "Says", &Use::words).property.help = "What the player reads who looks at it";
        f.last().fallback = Value{std::string()};
        f.angle("turn", "Turns by", &Use::turnDegrees, -3600, 3600).property.help = "About the own up of what it moves";
        f.vector("slide", "Slides by", &Use::slide, "m", -kLargestMetres, kLargestMetres).property.help =
            "Along the own axes of what it moves";
        f.last().step = 0.25;
        f.real("after", "Begins after", &Use::afterSeconds, "s", 0, 3600);
        f.real("seconds", "Takes", &Use::seconds, "s", 0, 3600);
        f.flag("back", "Used again goes back", &Use::back);
        f.parts("moves", "Moves", &Use::targets, targetFields()).property.unit = "object";
        f.last().help = "Guided bodies; none: the object itself";
        FacetType made = facetTypeOf<Use>("use", "Use", "What a player can do with it, and what that moves", f.done());
        made.check = movesFewEnough;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
