#include "app/panels/stock_filter.h"

#include <algorithm>

#include "model/facet_builder.h"
#include "ops/chance.h"

namespace app {

namespace {

struct Ability {
    const char *key, *label;
    bool StockFilter::*member;
};
constexpr Ability kAbilities[] = {
    {"sized", "may be sized", &StockFilter::sized},           {"tinted", "may be tinted", &StockFilter::tinted},
    {"images", "takes images", &StockFilter::images},         {"moved", "moved by physics", &StockFilter::moved},
    {"variations", "has siblings", &StockFilter::variations}, {"berth", "has a berth", &StockFilter::berth},
    {"outfits", "has outfits", &StockFilter::outfits}};

/// One field with a box for each.
void describeAbilities(model::FieldsOf<StockFilter>& f) {
    model::Member& made = f.add("can", "What it can", model::PropertyType::Flags);
    for (const Ability& ability : kAbilities) made.property.choices.push_back({ability.key, ability.label});
    made.get = [](const void* t) {
        model::ValueList list;
        for (const Ability& ability : kAbilities)
            if (static_cast<const StockFilter*>(t)->*ability.member) list.push_back({std::string(ability.key)});
        return std::optional(model::Value{std::move(list)});
    };
    made.set = [](void* t, const model::Value& v) {
        const auto* list = std::get_if<model::ValueList>(&v.data);
        for (const Ability& ability : kAbilities)
            static_cast<StockFilter*>(t)->*ability.member =
                list != nullptr &&
                std::find(list->begin(), list->end(), model::Value{std::string(ability.key)}) != list->end();
        return list != nullptr;
    };
}

}  // namespace

const model::Fields& stockFilterFields() {
    static const model::Fields fields = [] {
        model::FieldsOf<StockFilter> f;
        describeAbilities(f);
        const auto range = [&](const char* low, const char* lowLabel, std::optional<double> StockFilter::*least,
                               const char* high, const char* highLabel, std::optional<double> StockFilter::*most,
                               const char* unit) {
            f.real(low, lowLabel, least, unit, 0, 1e9);
            f.real(high, highLabel, most, unit, 0, 1e9);
        };
        range("leastTriangles", "Triangles from", &StockFilter::leastTriangles, "mostTriangles", "Triangles to",
              &StockFilter::mostTriangles, "");
        range("leastHeight", "Height from", &StockFilter::leastHeight, "mostHeight", "Height to",
              &StockFilter::mostHeight, "m");
        range("leastCost", "Cost from", &StockFilter::leastCost, "mostCost", "Cost to", &StockFilter::mostCost, "");
        return f.done();
    }();
    return fields;
}

int StockFilter::count() const {
    int n = 0;
    for (const Ability& ability : kAbilities) n += this->*ability.member ? 1 : 0;
    for (const auto& limit : {leastTriangles, mostTriangles, leastHeight, mostHeight, leastCost, mostCost})
        n += limit ? 1 : 0;
    return n;
}

bool fits(const StockFilter& f, const model::Library& library, const model::Item& item) {
    const model::Kind* kind = library.kindNamed(item.kind);
    const auto within = [](double value, std::optional<double> low, std::optional<double> high) {
        return value >= low.value_or(value) && value <= high.value_or(value);
    };
    if (f.sized && model::sizesOf(kind, &item).isFixed()) return false;
    if (f.tinted && kind != nullptr && !kind->tints) return false;
    if (f.images && (kind == nullptr || !kind->takesImages)) return false;
    if (f.moved && (kind == nullptr || !kind->isMoved)) return false;
    if (f.variations && ops::variationsOf(library, item.name).size() < 2) return false;
    if (f.berth && item.berths.empty()) return false;
    if (f.outfits && (kind == nullptr || kind->outfits.empty())) return false;
    return within(static_cast<double>(item.triangles), f.leastTriangles, f.mostTriangles) &&
           within(item.bounds.size().y, f.leastHeight, f.mostHeight) &&
           within(model::costOf(kind, &item), f.leastCost, f.mostCost);
}

}  // namespace app
