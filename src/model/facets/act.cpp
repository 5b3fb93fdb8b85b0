#include "model/facets/act.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "model/facet_builder.h"

namespace model {
namespace {

const Fields& valueFields() {
    static const Fields fields = [] {
        FieldsOf<ActValue> f;
        f.text("property", "Property", &ActValue::property);
        f.text("value", "Value", &ActValue::value).property.help = "As it is typed for the property";
        f.flag("usual", "As its kind says", &ActValue::usual);
        return f.done();
    }();
    return fields;
}

/// Four numbers, as files have turns: to be the same to the bit when it comes back.
void describeTurn(FieldsOf<ActPart>& f) {
    Member& turn = f.add("rotation", "Turn", PropertyType::List);
    turn.inField = false;
    turn.expected = "four numbers x, y, z, w of unit length, was";
    turn.schema = [] {
        return ValueMap{{"type", {std::string("array")}},
                        {"items", {ValueMap{{"type", {std::string("number")}}}}},
                        {"minItems", {std::int64_t{4}}},
                        {"maxItems", {std::int64_t{4}}}};
    };
    turn.get = [](const void* t) {
        const base::Quat& q = FieldsOf<ActPart>::self(t).turn;
        return std::optional(Value{ValueList{Value{q.x}, Value{q.y}, Value{q.z}, Value{q.w}}});
    };
    turn.set = [](void* t, const Value& v) {
        const auto read = vectorIn<glm::dvec4>(v);
        if (!read || std::abs(glm::length(*read) - 1) > 1e-6) return false;
        FieldsOf<ActPart>::self(t).turn = base::Quat(read->w, read->x, read->y, read->z);
        return true;
    };
}

const Fields& partFields() {
    static const Fields fields = [] {
        FieldsOf<ActPart> f;
        const auto posed = f.when([](const ActPart& p) { return p.posed; });
        f.link("act", "Act", &ActPart::act).always = true;
        f.word("is", "It is", &ActPart::is, {"there", "away", "as it is"}).always = true;
        f.flag("posed", "A place of its own", &ActPart::posed);
        Member& at = f.vector("at", "Place", &ActPart::at, "m", -kFarthestMetres, kFarthestMetres);
        at.shown = posed;
        at.property.help = "Against its parent, as in Pose";
        describeTurn(f);
        f.parts("values", "Other values", &ActPart::values, valueFields()).property.unit = "value";
        return f.done();
    }();
    return fields;
}

base::Status saysOfEachOnce(const void* facet) {
    const InActs& in = FieldsOf<InActs>::self(facet);
    if (in.all.size() > InActs::kMost)
        return base::fail(base::ErrorCode::BadInput, fmt::format("An object can be in up to {} acts.", InActs::kMost));
    for (std::size_t i = 0; i < in.all.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
            if (in.all[i].act && in.all[i].act == in.all[k].act)
                return base::fail(base::ErrorCode::BadInput, "An object says of each act once what it is there.");
    return {};
}

}  // namespace

const FacetType& Act::type() {
    static const FacetType type = [] {
        FieldsOf<Act> f;
        f.flag("begins", "Goes on from the start", &Act::begins);
        f.flag("worked", "One works in it", &Act::worked).inField = false;
        return facetTypeOf<Act>("act", "Act", "A named set of what is there; cues begin and end it", f.done());
    }();
    return type;
}

const ActPart* InActs::of(base::ObjectId act) const {
    const auto part = std::ranges::find(all, act, &ActPart::act);
    return part == all.end() ? nullptr : &*part;
}

const FacetType& InActs::type() {
    static const FacetType type = [] {
        FieldsOf<InActs> f;
        f.parts("all", "Acts", &InActs::all, partFields()).property.unit = "act";
        FacetType made = facetTypeOf<InActs>("acts", "In acts", "In which acts it is there, and how", f.done());
        made.check = saysOfEachOnce;
        made.byHand = false;  // by the strip of acts, which knows which
        made.bare = true;
        made.pointed = true;
        return made;
    }();
    return type;
}

}  // namespace model
