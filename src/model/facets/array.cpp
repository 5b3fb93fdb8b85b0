#include "model/facets/array.h"

#include "model/facet_builder.h"

namespace model {
namespace {

constexpr double kMostEachWay = 10'000;

using Shape = Array::Shape;

/// Three whole numbers.
void describeCounts(FieldsOf<Array>& f) {
    Member& counts = f.add("counts", "Counts", PropertyType::Vector);
    counts.always = true;
    counts.inField = false;
    counts.expected = "three whole numbers from 1 to 10000 were";
    counts.schema = [] {
        const ValueMap number = {{"type", {std::string("integer")}},
                                 {"minimum", {std::int64_t{1}}},
                                 {"maximum", {static_cast<std::int64_t>(kMostEachWay)}}};
        return ValueMap{{"type", {std::string("array")}},
                        {"items", {number}},
                        {"minItems", {std::int64_t{3}}},
                        {"maxItems", {std::int64_t{3}}}};
    };
    counts.get = [](const void* t) {
        ValueList list;
        for (int n : FieldsOf<Array>::self(t).counts) list.push_back({static_cast<std::int64_t>(n)});
        return std::optional(Value{std::move(list)});
    };
    counts.set = [](void* t, const Value& v) {
        const auto read = vectorIn<base::Vec3>(v);
        if (!read || *read != glm::floor(*read)) return false;
        for (int k = 0; k < 3; ++k)
            if (!((*read)[k] >= 1 && (*read)[k] <= kMostEachWay)) return false;
        for (int k = 0; k < 3; ++k)
            FieldsOf<Array>::self(t).counts[static_cast<std::size_t>(k)] = static_cast<int>((*read)[k]);
        return true;
    };
    const char *keys[] = {"count", "countY", "countZ"}, *labels[] = {"Count", "Count Y", "Count Z"};
    for (std::size_t k = 0; k < 3; ++k) {
        Member& one = f.derived(
            keys[k], labels[k], "", 1, kMostEachWay, [k](const Array& a) { return a.counts[k]; },
            [k](Array& a, double n) { a.counts[k] = static_cast<int>(n); });
        one.property.type = PropertyType::Integer;
        one.property.step = 1;
        if (k > 0) one.shown = f.when([](const Array& a) { return a.shape == Shape::Grid; });
    }
}

const Fields& placeFields() {
    static const Fields fields = [] {
        FieldsOf<ArrayPlace> f;
        f.vector("at", "Place", &ArrayPlace::at, "m", -kFarthestMetres, kFarthestMetres).always = true;
        f.angle("turn", "Turn", &ArrayPlace::turnDegrees, -360, 360);
        return f.done();
    }();
    return fields;
}

}  // namespace

const FacetType& Array::type() {
    static const FacetType type = [] {
        FieldsOf<Array> f;
        const auto ring = f.when([](const Array& a) { return a.shape == Shape::Ring; });
        const auto route = f.when([](const Array& a) { return a.shape == Shape::Route; });
        Member& shape = f.word("shape", "Shape", &Array::shape, {"row", "grid", "ring", "route"});
        shape.always = true;
        describeCounts(f);
        f.vector("spacing", "Spacing", &Array::spacing, "m", -kLargestMetres, kLargestMetres).shown =
            f.when([](const Array& a) { return a.shape == Shape::Row || a.shape == Shape::Grid; });
        f.last().step = 0.5;
        f.real("from", "First at", &Array::fromMetres, "m", 0, kLargestMetres).shown = route;
        f.real("every", "Every", &Array::everyMetres, "m", 0, kLargestMetres).shown = route;
        f.last().help = "As many as there is room for; 0: as many as are counted, evenly to its end";
        f.flag("turned", "Turned with its way", &Array::turned).shown = route;
        f.parts("places", "Places", &Array::places, placeFields()).always = false;
        Member& length = f.derived(
            "length", "Whole length", "m", 0, 10 * kLargestMetres,
            [](const Array& a) { return glm::length(a.spacing) * (a.counts[0] - 1); },
            [](Array& a, double metres) {
                const double now = glm::length(a.spacing) * (a.counts[0] - 1);
                if (now > 1e-9) a.spacing *= metres / now;
            });
        length.property.step = 1;
        length.property.help = "From the first to the last; the spacing follows";
        length.shown = f.when([](const Array& a) { return a.shape == Shape::Row; });
        f.real("radius", "Radius", &Array::radiusMetres, "m", 0, kLargestMetres).shown = ring;
        f.last().step = 0.5;
        f.angle("sweep", "Sweep", &Array::sweepDegrees, -360, 360).shown = ring;
        f.last().step = 15;
        f.angle("turn", "Turn each", &Array::turnDegrees, -360, 360).property.help = "From one to the next, about up";
        f.last().step = 15;
        f.real("size", "Size each ×", &Array::size, "", 0.1, 10).property.step = 0.1;
        f.real("jitter", "Jitter", &Array::jitterMetres, "m", 0, 1e4).property.help =
            "By chance, level, up to so much either way";
        f.last().step = 0.1;
        f.angle("jitterTurn", "Jitter turn", &Array::jitterDegrees, 0, 180).property.step = 5;
        f.real("jitterSize", "Jitter size", &Array::jitterSize, "", 0, 0.9).property.step = 0.1;
        f.whole("seed", "Seed", &Array::seed, 0, 9e15).property.help = "Another one: other chances";
        f.last().step = 1;
        FacetType made = facetTypeOf<Array>("array", "Array", "Its first child, repeated", f.done());
        made.byHand = false;
        return made;
    }();
    return type;
}

}  // namespace model
