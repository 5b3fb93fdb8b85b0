#pragma once
// The cues and goals of a level, ready to run: links are places in lists, values are of their property's type, filters
// are what fits at the beginning. Values; any thread.
#include <map>
#include <unordered_map>

#include "model/facets/act.h"
#include "model/facets/cues.h"
#include "rehearse/follow.h"
#include "rehearse/level.h"

namespace rehearse {

/// Who may enter, be near: the walker, things of the level by their place in its list, or anybody.
struct Party {
    bool walker = false, anything = false;
    std::vector<std::int32_t> things;  ///< ascending
    bool has(std::int32_t who) const;  ///< -1: the walker
};

/// A property that cues ask for or set, with what it has at the beginning.
struct PropertyAt {
    base::ObjectId object;
    model::Slot slot = model::kNoSlot;
    model::Property property;
    model::Value value;
};

struct CueTest {
    model::CueWhen::What what{};
    std::string text;  ///< in words, for the trace
    model::Slot slot = model::kNoSlot;
    base::ObjectId object;
    std::int32_t zone = -1;  ///< of the level
    Party party;
    double metres = 0;
    int step = 0;                    ///< of After
    std::int32_t property = -1;      ///< of the set; -1: there is none, and it never holds
    model::Value value;              ///< of Is, Above, Below
    std::vector<std::int32_t> cues;  ///< those whose going off it waits for
    std::int32_t goal = -1;
};

struct CueDeed {
    model::CueThen then;
    int delay = 0;                          ///< steps
    std::vector<model::Slot> targets;       ///< empty with To::Cause: whoever set it off
    std::vector<std::size_t> things;        ///< of the level; of what exists, is solid, is seen: all below the targets
    std::vector<std::int32_t> properties;   ///< of Set, by target; -1: it has none
    std::vector<model::Value> values;       ///< of Set, by target, when it is no formula
    std::vector<std::int32_t> cues, goals;  ///< those of the targets
    std::vector<std::int32_t> acts;         ///< that the targets are
    Pose place;                             ///< of GoTo
    std::shared_ptr<const Network> way;     ///< of Follow, shared with who follows; null: there is none
    std::vector<std::pair<std::int32_t, model::Value>> worn;  ///< of Outfit: what it says of properties
};

struct CueAt {
    base::ObjectId object;
    std::string name;
    bool armed = true, any = false;
    std::int64_t times = 1;
    int rest = 0;  ///< steps
    std::vector<CueTest> tests;
    std::vector<CueDeed> deeds;
};

struct GoalAt {
    base::ObjectId object;
    std::string name, words;
    std::int64_t order = 0;
    bool held = false;
};

struct ActAt {
    base::ObjectId object;
    std::string name;
    bool begins = false;
};

/// What acts do to one object.
struct ActMember {
    using Values = std::vector<std::pair<std::int32_t, model::Value>>;  ///< by property of the set
    struct Part {
        std::int32_t act = 0;
        model::ActPart::Is is = model::ActPart::Is::AsItIs;
        std::optional<base::Affine> motion;  ///< in the world, from where it stands in the scene
        Values values;
    };
    base::ObjectId object;
    std::int32_t thing = -1;          ///< itself, of the level
    std::vector<std::size_t> things;  ///< itself and those below: they are not there when it is not
    base::Affine motion;              ///< to where it stands in no act
    Values values;                    ///< what it has then, of those that acts change
    std::vector<Part> parts;          ///< the last one that goes on has its way
    bool isThere(const std::vector<bool>& goingOn) const;
    const base::Affine& motionIn(const std::vector<bool>& goingOn) const;
    const model::Value& valueIn(const std::vector<bool>& goingOn, std::size_t value) const;
};

struct CueSet {
    std::vector<CueAt> cues;  ///< in the order of the tree
    std::vector<GoalAt> goals;
    std::vector<ActAt> acts;
    std::vector<ActMember> members;  ///< of acts, in the order of the tree
    std::vector<PropertyAt> properties;
    std::map<std::pair<model::Slot, std::string>, std::int32_t> propertyOf;
    std::unordered_map<base::ObjectId, std::vector<std::int32_t>> cuesOf;  ///< by whose they are, in their order
    bool empty() const { return cues.empty() && goals.empty() && acts.empty(); }
    /// Which acts go on at first.
    std::vector<bool> actsAtStart() const;
    /// The nth of an object; nothing: it has none.
    std::optional<std::size_t> cueOf(base::ObjectId object, std::size_t nth) const;
};

/// Of a level whose things and zones are there.
CueSet cueSetOf(const Level& level, const model::Library& library);

/// What an effect is done to: whom it names, or what fits now. Whoever set it off is known only then.
std::vector<model::Slot> targetsOf(const model::Scene& scene, model::Slot owner, const model::CueThen& then);

/// What cues move, take away or wait for must be things by themselves: which, by slot.
struct CueNeeds {
    std::vector<bool> moved, used;  ///< by slot; empty: none
};
CueNeeds needsOf(const model::Scene& scene);

}  // namespace rehearse
