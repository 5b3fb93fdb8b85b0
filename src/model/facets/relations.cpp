#include "model/facets/relations.h"

#include <fmt/format.h>

#include "model/facet_builder.h"

namespace model {
namespace {

bool isFlush(const Relation& r) {
    return r.what == Relation::What::Flush;
}

const Fields& relationFields() {
    static const Fields fields = [] {
        FieldsOf<Relation> f;
        f.word("what", "Stays", &Relation::what, {"seated", "flush", "distance", "facing"}).always = true;
        f.link("to", "To", &Relation::to);
        f.word("axis", "Along", &Relation::axis, {"x", "y", "z"}).shown = f.when(isFlush);
        f.word("own", "Its side", &Relation::own, {"low", "middle", "high"}).shown = f.when(isFlush);
        f.word("other", "The other’s side", &Relation::other, {"low", "middle", "high"}).shown = f.when(isFlush);
        f.real("metres", "By", &Relation::metres, "m", -kLargestMetres, kLargestMetres).shown =
            f.when([](const Relation& r) { return r.what != Relation::What::Facing; });
        return f.done();
    }();
    return fields;
}

base::Status isFewEnough(const void* facet) {
    const Relations& relations = FieldsOf<Relations>::self(facet);
    if (relations.all.empty()) return base::fail(base::ErrorCode::BadInput, "Relations are at least one.");
    if (relations.all.size() > Relations::kMost)
        return base::fail(base::ErrorCode::BadInput,
                          fmt::format("An object can have up to {} relations.", Relations::kMost));
    return {};
}

}  // namespace

const FacetType& Relations::type() {
    static const FacetType type = [] {
        FieldsOf<Relations> f;
        f.parts("all", "Relations", &Relations::all, relationFields()).property.unit = "relation";
        FacetType made = facetTypeOf<Relations>(
            "relations", "Relations", "What stays so when others move: seated, flush, at a distance, facing", f.done());
        made.check = isFewEnough;
        made.byHand = false;
        made.bare = true;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
