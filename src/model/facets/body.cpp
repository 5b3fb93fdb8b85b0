#include "model/facets/body.h"

#include "model/facet_builder.h"

namespace model {
namespace {

constexpr std::string_view kOldRole = "loose when touched";  // loose, and wakes when bumped

bool isSized(const Body& b) {
    return !b.fitted && b.shape != Body::Shape::Mesh && b.shape != Body::Shape::Hull;
}

}  // namespace

const FacetType& Body::type() {
    static const FacetType type = [] {
        FieldsOf<Body> f;
        Member& role = f.word("role", "Role", &Body::role, {"fixed", "guided", "loose"});
        role.always = true;
        role.property.help = "Fixed: never moves. Guided: is moved on purpose, with what stands on it. Loose: falls";
        role.set = [set = role.set](void* t, const Value& v) {
            const auto* word = std::get_if<std::string>(&v.data);
            if (word == nullptr || *word != kOldRole) return set(t, v);
            FieldsOf<Body>::self(t).role = Body::Role::Loose;
            FieldsOf<Body>::self(t).wakes = Body::Wakes::WhenBumped;
            return true;
        };
        f.word("wakes", "Begins to move", &Body::wakes, {"at once", "when bumped", "by a cue"}).shown =
            f.when([](const Body& b) { return b.role == Body::Role::Loose; });
        Member& shape = f.word("shape", "Collision shape", &Body::shape, {"mesh", "box", "sphere", "capsule", "hull"});
        shape.always = true;
        f.flag("fitted", "Fitted to the mesh", &Body::fitted).shown =
            f.when([](const Body& b) { return b.shape != Body::Shape::Mesh && b.shape != Body::Shape::Hull; });
        f.vector("centre", "Centre", &Body::centre, "m", -kFarthestMetres, kFarthestMetres).shown = f.when(isSized);
        f.last().step = 0.25;
        f.vector("size", "Size", &Body::size, "m", kAboveNothing, kLargestMetres).shown = f.when(isSized);
        f.last().step = 0.25;
        f.real("mass", "Mass", &Body::massKilograms, "kg", 0, 1e9).property.help =
            "0: as its kind says, else by its volume";
        f.real("friction", "Friction", &Body::friction, "", 0, 10).property.help =
            "0.6 is usual: on wood or stone. Not said: as its kind";
        f.real("bounce", "Bounce", &Body::bounce, "", 0, 1).property.help =
            "Share of the speed that it keeps when it hits something. Not said: as its kind";
        FacetType made =
            facetTypeOf<Body>("body", "Body", "What others bump into, and what physics does with it", f.done());
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
