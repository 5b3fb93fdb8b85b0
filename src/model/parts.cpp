#include "model/parts.h"

#include <algorithm>
#include <functional>
#include <iterator>

namespace model {

namespace {

constexpr std::less<const FacetType*> kBefore;

}  // namespace

const PartSet& PartSet::detail() {
    static const PartSet set = [] {
        PartSet made(part::kProperties);
        for (const FacetType* type : facetTypes()) made.add(*type);
        return made;
    }();
    return set;
}

const PartSet& PartSet::all() {
    static const PartSet set = detail().with(part::kCommon);
    return set;
}

bool PartSet::has(const FacetType& facet) const {
    return std::binary_search(facets_.begin(), facets_.end(), &facet, kBefore);
}

void PartSet::add(const PartSet& other) {
    *this = with(other);
}

PartSet PartSet::with(const PartSet& other) const {
    PartSet both(common_ | other.common_);
    std::set_union(facets_.begin(), facets_.end(), other.facets_.begin(), other.facets_.end(),
                   std::back_inserter(both.facets_), kBefore);
    return both;
}

PartSet PartSet::without(const PartSet& other) const {
    PartSet rest(common_ & ~other.common_);
    std::set_difference(facets_.begin(), facets_.end(), other.facets_.begin(), other.facets_.end(),
                        std::back_inserter(rest.facets_), kBefore);
    return rest;
}

bool PartSet::meets(const PartSet& other) const {
    return (common_ & other.common_) != 0 ||
           std::any_of(facets_.begin(), facets_.end(), [&](const FacetType* type) { return other.has(*type); });
}

}  // namespace model
