#pragma once
#include "model/facet.h"

namespace model {

/// A remark pinned in the scene.
struct Note {
    std::string text;
    static const FacetType& type();
    friend bool operator==(const Note&, const Note&) = default;
};

}  // namespace model
