#pragma once
// The broom: a round footprint swept over the scene that applies one verb to what it meets. A sweep is one draft: one
// step, or taken back whole. The same seed over the same ground gives the same objects, whichever way one sweeps.
#include <map>
#include <set>
#include <unordered_set>

#include "ops/chance.h"
#include "ops/seat.h"
#include "query/object_filter.h"

namespace ops {

enum class BroomVerb { Scatter, Remove, Vary, Seat, Hide, Protect, Release, Select, Replace, Align };
std::string_view broomLabel(BroomVerb verb);

struct BroomSettings {
    BroomVerb verb = BroomVerb::Scatter;
    double radiusMetres = 3;
    double strength = 1;   ///< 0..1: which share of what it meets is taken; of the density when scattering
    std::string filter;    ///< which objects it works on; not for scattering
    std::string item;      ///< what is scattered, or put in place of what is met
    std::string outfit;    ///< what is scattered wears it, if its kind has it
    double density = 0.5;  ///< of them, per square metre
    double spacingMetres = 0.5;
    Chances chances;
    double flattest = 0, steepest = 45;  ///< degrees of slope they stand on
    std::string onto;                    ///< which objects they may stand on, as a filter; empty: any
    std::string apartFrom;               ///< which objects they keep away from, as a filter; empty: none
    double apartMetres = 1;              ///< that far from these, over the ground
    double headingDegrees = 0;           ///< which way they face, and what is aligned; chance turns about that
    bool align = false;                  ///< they lean with the slope
    double sinkMetres = 0;
    std::uint64_t seed = 1;
};

class Broom {
  public:
    /// `index` must follow what the draft does while the broom lives.
    Broom(edit::Draft& draft, const query::SceneIndex& index, BroomSettings settings, base::ObjectId parent = {});

    /// Sweeps the footprint round `centre`. Errors: of the verb; what was swept before stays until the draft goes.
    base::Status sweep(const base::Vec3& centre);

    /// How many objects were placed, removed, changed or met so far.
    std::size_t count() const { return touched_.size(); }
    bool isMet(base::ObjectId id) const { return touched_.contains(id); }
    /// Those met, in the order of their ids: what Select selects, Scatter has placed.
    Ids met() const { return {touched_.begin(), touched_.end()}; }

  private:
    base::Status scatter(const base::Vec3& centre);
    using Cell = std::pair<std::int64_t, std::int64_t>;
    base::Status scatterOne(const Cell& cell, const base::Vec3& at, std::vector<model::ObjectRecord>& objects);
    base::Status meet(const base::Vec3& centre);
    base::Status apply(const Ids& ids);
    base::Status replace(const Ids& ids);
    base::Status align(const Ids& ids);
    bool isNearOthers(const base::Vec3& at) const;
    double chance(base::ObjectId id) const;

    edit::Draft& draft_;
    const query::SceneIndex& index_;
    BroomSettings settings_;
    base::ObjectId parent_;
    query::ObjectFilter filter_, onto_, apartFrom_;
    FreeNames names_;
    std::set<Cell> done_;                // those that were decided
    std::map<Cell, base::Vec3> stands_;  // what was scattered
    std::unordered_set<model::Slot> placed_;
    std::set<base::ObjectId> touched_, passed_;
};

}  // namespace ops
