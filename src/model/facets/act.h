#pragma once
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// A named set of what is there: "High water". What belongs to it says so itself, in its InActs.
struct Act {
    bool begins = false;  ///< it goes on from the start
    /// One works in it: what has a pose or values of its own there has them at present, and its InActs keep what it has
    /// otherwise. Of a scene's acts at most one; ops::workIn turns it.
    bool worked = false;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Act&, const Act&) = default;
};

/// A property that has another value in an act; as it is typed.
struct ActValue {
    std::string property, value;
    bool usual = false;  ///< it says nothing of it there: it has what its kind says
    Unknown unknown;
    friend bool operator==(const ActValue&, const ActValue&) = default;
};

/// What an object is in one act.
struct ActPart {
    enum class Is : std::uint8_t { There, Away, AsItIs };
    base::ObjectId act;
    Is is = Is::There;
    bool posed = false;  ///< it has a pose of its own there; while one works in the act, the other is kept here
    base::Vec3 at{0.0};  ///< local, as in a transform
    base::Quat turn{1, 0, 0, 0};
    std::vector<ActValue> values{};
    Unknown unknown{};
    bool saysNothing() const { return is == Is::AsItIs && !posed && values.empty() && unknown.empty(); }
    friend bool operator==(const ActPart&, const ActPart&) = default;
};

/// In which acts an object is there. One that has no part that says "there" is always there, but for those where it is
/// away.
struct InActs {
    static constexpr std::size_t kMost = 64;
    std::vector<ActPart> all;
    Unknown unknown;
    /// Null: it says nothing of that act.
    const ActPart* of(base::ObjectId act) const;
    static const FacetType& type();
    friend bool operator==(const InActs&, const InActs&) = default;
};

/// Is something there while some acts go on? `parts`: what it is in each; `goesOn`: does that one?
template <class Parts, class GoesOn>
bool isThere(const Parts& parts, const GoesOn& goesOn) {
    bool bound = false, there = false;
    for (const auto& part : parts) {
        if (part.is == ActPart::Is::AsItIs) continue;
        const bool now = goesOn(part.act);
        if (part.is == ActPart::Is::Away && now) return false;
        if (part.is == ActPart::Is::There) bound = true, there = there || now;
    }
    return !bound || there;
}

}  // namespace model
