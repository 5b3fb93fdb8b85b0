#pragma once
// Cause and effect in a run: cues wait for what happens, go off, and do what they do, now or later. The rules stand in
// docs/cues.md; what happens in a step is told and done in the same order, always.
// One thread. The set and the stage outlive it.
#include <cstdint>
#include <optional>
#include <set>
#include <string>
#include <vector>

#include "rehearse/cue_set.h"
#include "rehearse/trace.h"

namespace rehearse {

enum class GoalState : std::uint8_t { Held, Set, Met, Missed };

/// What cues ask of the world, and do to it.
class CueStage {
  public:
    virtual ~CueStage() = default;
    virtual bool isIn(std::int32_t zone, const Party& party) const = 0;
    /// To the nearest of them; nothing: there is none.
    virtual std::optional<double> metresTo(const CueTest& test) const = 0;
    virtual bool isInSight(model::Slot slot) const = 0;
    /// Of the level; -1: none.
    virtual std::int32_t thingOf(base::ObjectId object) const = 0;
    virtual void tell(What what, base::ObjectId object, base::ObjectId other, const std::string& note) = 0;
    /// A property has another value from now on; told in words, too.
    virtual void became(const PropertyAt&, const model::Value&) {}
    /// What is not about cues, goals or properties. `cause`: of the level's things, -1: whoever walks.
    virtual void doThis(const CueDeed& deed, std::int32_t cause) = 0;
    /// Which acts go on, by then; what stands elsewhere in them takes so long to come there.
    virtual void obey(const std::vector<bool>& acts, double seconds) = 0;
};

class Cues {
  public:
    Cues(const CueSet& set, CueStage& stage);

    /// One step: what was told since the last one, and whether places are to be looked at again.
    void step(int step, const std::vector<Entry>& told, std::size_t from, bool look);
    /// By hand: as if its conditions had come true.
    void setOff(std::size_t cue);

    struct State {
        bool armed = true;
        std::int64_t count = 0;               ///< how often it went off
        int last = -1;                        ///< when, in steps
        std::uint64_t latched = 0, held = 0;  ///< by condition: happened; is so
    };
    const CueSet& set() const { return set_; }
    const State& state(std::size_t cue) const { return states_[cue]; }
    GoalState goal(std::size_t goal) const { return goals_[goal]; }
    const std::vector<bool>& acts() const { return acts_; }
    const model::Value& value(std::size_t property) const { return values_[property]; }
    /// Set by what is no cue; what does not fit the property is left as it was.
    void letBecome(std::int32_t property, const model::Value& value);
    /// Won or lost: nothing goes off any more.
    const std::optional<CueDeed>& end() const { return end_; }
    bool isWaiting() const { return !due_.empty(); }

  private:
    struct Due {
        int step;
        std::uint64_t order;
        std::int32_t cue, deed, cause;
        bool operator<(const Due& o) const { return step != o.step ? step < o.step : order < o.order; }
    };
    struct Happened {
        std::int32_t cue, test, cause;
    };

    void listen();
    void heed(const Entry& entry);
    void happen(std::int32_t cue, std::int32_t test, std::int32_t cause);
    void lookAround();
    void rounds();
    void judge(std::int32_t cue);
    bool holds(std::int32_t cue, std::size_t test) const;
    void goOff(std::int32_t cue, std::int32_t cause, const std::string& why);
    void doDeed(const CueDeed& deed, std::int32_t cause);
    void setValue(std::int32_t property, model::Value value);
    void setGoal(std::int32_t goal, GoalState state);
    void setActs(const CueDeed& deed);
    void arm(std::int32_t cue, bool armed);
    model::Value formula(const CueDeed& deed, std::size_t target) const;
    void stopEndless();
    bool isSpent(std::int32_t cue) const;
    bool mayGoOff(std::int32_t cue) const;

    const CueSet& set_;
    CueStage& stage_;
    int step_ = 0;
    bool begun_ = false;
    std::vector<State> states_;
    std::vector<GoalState> goals_;
    std::vector<model::Value> values_;
    std::vector<bool> acts_;
    std::optional<CueDeed> end_;
    std::set<Due> due_;
    std::uint64_t order_ = 0;
    std::set<std::int32_t> stirred_;  ///< cues to be judged in the next round
    std::vector<Happened> happened_, news_;
    struct Going {
        std::int32_t cue, cause;
        std::string why;
    };
    std::vector<Going> going_;
    // Who listens to what: by zone, by object, by property, by goal, by cue; and to places.
    using Ears = std::vector<std::pair<std::int32_t, std::int32_t>>;
    std::vector<Ears> byZone_, byProperty_, byGoal_, byCue_;
    std::multimap<base::ObjectId, std::pair<std::int32_t, std::int32_t>> byObject_;
    Ears places_;
    std::vector<bool> placeHeld_;                     ///< by place in places_: as it was when it was looked at last
    std::vector<std::vector<std::int32_t>> placeOf_;  ///< by cue and condition; -1: none
};

}  // namespace rehearse
