#include "model/facets/body.h"

#include "model/facet_builder.h"

namespace model {
namespace {

bool isSized(const Body& b) {
    return !b.fitted && b.shape != Body::Shape::Mesh && b.shape != Body::Shape::Hull;
}

}  // namespace

const FacetType& Body::type() {
    static const FacetType type = [] {
        FieldsOf<Body> f;
        Member& role = f.word("role", "Role", &Body::role, {"fixed", "guided", "loose", "loose when touched"});
        role.always = true;
        role.property.help =
            "Fixed: never moves. Guided: the game moves it. Loose: physics does. Loose when touched: from then on";
        Member& shape = f.word("shape", "Collision shape", &Body::shape, {"mesh", "box", "sphere", "capsule", "hull"});
        shape.always = true;
        f.flag("fitted", "Fitted to the mesh", &Body::fitted).shown =
            f.when([](const Body& b) { return b.shape != Body::Shape::Mesh && b.shape != Body::Shape::Hull; });
        f.vector("centre", "Centre", &Body::centre, "m", -kFarthestMetres, kFarthestMetres).shown = f.when(isSized);
        f.last().step = 0.25;
        f.vector("size", "Size", &Body::size, "m", kAboveNothing, kLargestMetres).shown = f.when(isSized);
        f.last().step = 0.25;
        f.real("mass", "Mass", &Body::massKilograms, "kg", 0, 1e9).property.help = "0: as the game reckons it";
        FacetType made =
            facetTypeOf<Body>("body", "Body", "What others bump into, and what physics does with it", f.done());
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
