#pragma once
// What items of the Stock must be able to do, and within which ranges: a form, so that no words need to be known.
#include <optional>

#include "model/library.h"

namespace app {

struct StockFilter {
    bool sized = false, tinted = false, images = false, moved = false, variations = false, berth = false,
         outfits = false;
    std::optional<double> leastTriangles, mostTriangles, leastHeight, mostHeight, leastCost, mostCost;
    friend bool operator==(const StockFilter&, const StockFilter&) = default;
    /// How many things it asks for.
    int count() const;
};
const model::Fields& stockFilterFields();
bool fits(const StockFilter& filter, const model::Library& library, const model::Item& item);

}  // namespace app
