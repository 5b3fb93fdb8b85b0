#pragma once
#include <vector>

#include "base/id.h"
#include "model/facet.h"

namespace model {

/// One thing that stays so while others move, in the same step.
struct Relation {
    enum class What : std::uint8_t { Seated, Flush, Distance, Facing };
    enum class Side : std::uint8_t { Low, Middle, High };
    enum class Axis : std::uint8_t { X, Y, Z };
    What what = What::Seated;
    base::ObjectId to;    ///< what it stands on, is in line with, keeps away from, looks at
    Axis axis = Axis::X;  ///< of the world, when flush
    Side own = Side::Low, other = Side::Low;
    double metres = 0;  ///< seated: sunk by; flush: from the other's side on; distance: between where they are
    Unknown unknown;
    friend bool operator==(const Relation&, const Relation&) = default;
};

/// What an object keeps to others.
struct Relations {
    static constexpr std::size_t kMost = 16;
    std::vector<Relation> all;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Relations&, const Relations&) = default;
};

}  // namespace model
