#pragma once
#include "model/facet.h"

namespace model {

/// Which of its kind's outfits an object wears.
struct Wears {
    std::string outfit;
    static const FacetType& type();
    friend bool operator==(const Wears&, const Wears&) = default;
};

}  // namespace model
