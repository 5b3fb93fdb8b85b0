#pragma once
#include <string>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// One of the objects that something is done to.
struct CueTarget {
    base::ObjectId object;
    Unknown unknown;
    friend bool operator==(const CueTarget&, const CueTarget&) = default;
};

/// One condition of a cue. Happenings hold in the moment in which they happen; the others as long as they are so.
struct CueWhen {
    enum class What : std::uint8_t {
        // Happenings.
        Start,
        After,
        Enters,
        Leaves,
        Used,
        Taken,
        PutDown,
        Bumped,
        Passed,
        Cue,
        // States.
        Inside,
        Nearer,
        Farther,
        Unseen,
        Is,
        Above,
        Below,
        Met
    };
    enum class Who : std::uint8_t { Player, Object, Fitting, Anything };
    What what = What::Used;
    base::ObjectId object;  ///< the zone, the thing, the goal, whose cue; zero: the one that has the cue
    Who who = Who::Player;  ///< who enters, is inside, is near
    base::ObjectId by;      ///< that object
    std::string filter;     ///< any that fits, as in Select
    double metres = 3;      ///< of a distance
    double seconds = 1;     ///< from the start
    std::string property;   ///< of `object`
    std::string value;      ///< as it is typed for that property
    std::string cue;        ///< the name of one of its cues; empty: any
    Unknown unknown;
    bool isHappening() const { return what < What::Inside; }
    bool asksWho() const;
    friend bool operator==(const CueWhen&, const CueWhen&) = default;
};

/// One thing that a cue does.
struct CueThen {
    enum class Does : std::uint8_t {
        Set,
        Exists,
        Solid,
        Wake,
        Sleep,
        Push,
        Move,
        GoTo,
        Message,
        GoalSet,
        GoalMet,
        GoalMissed,
        Arm,
        Disarm,
        SetOff,
        Won,
        Lost,
        Seen,
        ActBegins,
        ActEnds,
        Camera,
        Sound,
        Outfit,
        Surface,
        Guise,
        Follow
    };
    enum class To : std::uint8_t { These, Fitting, Cause, Myself };
    enum class Ease : std::uint8_t { Both, Steady };
    Does does = Does::Message;
    double after = 0;  ///< seconds from when the cue goes off
    To to = To::These;
    std::vector<CueTarget> targets;
    std::string filter;
    std::string property, value;  ///< of Set; value: as typed, or "= oil - 1"
    bool on = true;               ///< exists, is solid, is seen
    base::Vec3 slide{0.0};        ///< metres, along the target's own axes; of Push: newton seconds
    double turnDegrees = 0;       ///< about its own up
    base::ObjectId place;         ///< where to go: the pose of that object; of Follow, along its route
    double seconds = 2;           ///< that a movement takes; of acts, what stands elsewhere in them
    Ease ease = Ease::Both;
    std::string words;  ///< of a message
    std::string cue;    ///< the name of a target's cue; empty: all of it
    std::string next;   ///< the scene after the end
    std::string look;   ///< the name of an outfit, a surface, a guise; empty: as at the start
    std::string slot;   ///< of a surface: the slot it lies on; empty: all
    Unknown unknown;
    bool isOfActs() const { return does == Does::ActBegins || does == Does::ActEnds; }
    /// Takes its seconds to bring what it is done to elsewhere.
    bool moves() const { return does == Does::Move || does == Does::GoTo; }
    bool isOfRoutes() const { return does == Does::Follow; }
    bool isOfLooks() const { return does == Does::Outfit || does == Does::Surface || does == Does::Guise; }
    bool hasTargets() const {
        return does != Does::Message && does != Does::Won && does != Does::Lost && does != Does::Guise;
    }
    friend bool operator==(const CueThen&, const CueThen&) = default;
};

/// When something happens, then do something.
struct Cue {
    static constexpr std::size_t kMostParts = 64;
    std::string name;
    bool armed = true, any = false;  ///< any of the conditions, else all
    std::int64_t times = 1;          ///< at most so often; 0: each time
    double rest = 0;                 ///< seconds between two
    std::vector<CueWhen> when{};
    std::vector<CueThen> then{};
    Unknown unknown{};
    friend bool operator==(const Cue&, const Cue&) = default;
};

struct Cues {
    static constexpr std::size_t kMost = 64;
    std::vector<Cue> all;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Cues&, const Cues&) = default;
};

class Scene;
/// "the player enters Lock": a condition in words. `owner`: who has the cue, where it is said by name; zero: "this".
std::string textOf(const CueWhen& when, const Scene& scene, base::ObjectId owner = {});
/// "moves Gate leaf, left and 1 more, 6 s"; with its delay "after 4 s moves …".
std::string textOf(const CueThen& then, const Scene& scene, bool delay = false);
/// All of a cue's conditions, and all of its effects with their delays.
std::string whenText(const Cue& cue, const Scene& scene);
std::string thenText(const Cue& cue, const Scene& scene);
/// Where a new one begins: when its object is used, something is said. Its name is free among these.
Cue freshCue(const Cues& among);

}  // namespace model
