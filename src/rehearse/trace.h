#pragma once
// What happened in a run: entries in the order of time, the way of who walked, and where each thing was when. Values.
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "rehearse/level.h"

namespace rehearse {

enum class What : std::uint8_t {
    Began,   ///< the run
    Moved,   ///< a thing left its place; what is guided began its way
    Rested,  ///< it stands still again; amount: metres from where it was
    Bumped,  ///< amount: metres a second
    Pushed,  ///< by who walks
    Taken,
    PutDown,
    Thrown,
    Used,
    Entered,  ///< a zone; object: the zone, other: what went in, zero: who walks
    Left,
    Jumped,
    Fell,   ///< who walks came down; amount: metres
    Hit,    ///< who walks was hit, or ran into something; amount: metres a second
    Stood,  ///< who walks stood in one place; amount: seconds
    Ducked,
    Reached,  ///< a written walk came to a place; object: it, if it is one
    Failed,   ///< a written walk could not do something; note: what
    Stopped,  ///< fell out of the level, or was flung; amount: metres a second
    Ended,
    WentOff,   ///< a cue; object: whose; note: its name, and which conditions came true
    Became,    ///< a property; note: "oil = 3"
    Appeared,  ///< note: "seen", when it was there, and only not seen
    Vanished,
    Woke,
    FellAsleep,
    Said,  ///< a message; note: its words
    GoalSet,
    GoalMet,
    GoalMissed,
    Armed,  ///< note: the cue's name
    Disarmed,
    Won,  ///< note: the next scene
    Lost,
    Endless,  ///< cues that set off one another without an end were stopped; object: whose the first is
    ActBegan,
    ActEnded,
    SoundBegan,
    SoundEnded,
    Passed,  ///< a stop of a route; object: it, other: the route; amount: seconds since its first; note: which it is
    Missed,  ///< the same: a later one was passed before it
    WrongWay,
    Lapped,   ///< object: the route; amount: seconds that the lap, or all of it, took
    Dressed,  ///< object: who looks otherwise, zero: the whole scene; note: "outfit pears", "surface brass, wood"
    Shown     ///< object: the camera that shows from now on; zero: one sees with one's own eyes
};
/// "moved", "came to rest": as traces and people read it.
std::string_view wordOf(What what);
std::optional<What> whatOf(std::string_view word);

struct Entry {
    int step = 0;
    What what = What::Began;
    base::ObjectId object, other;  ///< zero: who walks, or nothing
    base::Vec3 at{0.0};
    double amount = 0;
    std::string note;
    double seconds() const { return step * kStep; }
    friend bool operator==(const Entry&, const Entry&) = default;
};

/// Where who walks was, ten times a second.
struct PathPoint {
    int step = 0;
    base::Vec3 feet{0.0};
    double yawDegrees = 0, pitchDegrees = 0;
    friend bool operator==(const PathPoint&, const PathPoint&) = default;
};

/// Where a thing was: between two keys it went evenly, before the first it stood where the scene has it.
struct Key {
    int step = 0;
    Pose pose;
};
struct Track {
    base::ObjectId object;
    Pose first;
    std::vector<Key> keys;
    Pose at(int step) const;
};

/// What an object has otherwise from then on: a property, or what it is dressed in.
struct Change {
    enum class Of : std::uint8_t { Property, Outfit, Surface, Guise };
    int step = 0;
    base::ObjectId object;  ///< zero: the scene, of a guise
    Of of = Of::Property;
    std::string name;    ///< of the property; of the slot, empty: all of them
    model::Value value;  ///< the look's name as text, empty: as at the start
};

struct Trace {
    std::string scene;
    int steps = 0;
    std::vector<Entry> entries;
    std::vector<PathPoint> path;
    std::vector<Track> tracks;        ///< by thing of the level
    std::vector<Change> changes;      ///< in the order of time
    std::vector<std::uint64_t> sums;  ///< of all that moves, after each step: two runs are alike as long as these are
    std::uint64_t sum() const { return sums.empty() ? 0 : sums.back(); }
    double seconds() const { return steps * kStep; }
    /// Where who walks was; the last place known.
    PathPoint walkerAt(int step) const;
    std::size_t count(What what) const;
};

/// Which things of a level are there to be seen at a moment; cues may make them appear and vanish.
std::vector<bool> thereAt(const Trace& trace, const Level& level, int step);

/// What an entry says, with the names of a scene: "Crate 3 was bumped by Barge at 2.1 m/s".
std::string textOf(const Entry& entry, const Level& level);

/// When a stop of a route was passed in two runs: seconds since its course began; nothing: it was not.
struct StopTimes {
    base::ObjectId stop, route;
    int time = 1;  ///< the first, second … time that it was passed
    std::optional<double> first, second;
    int step = 0;  ///< when, in the second; in the first where only that has it
};

/// How two runs part.
struct Parting {
    int step = -1;  ///< the first step after which something is elsewhere by more than a millimetre; -1: never
    std::vector<Entry> onlyFirst, onlySecond;  ///< what happened in one alone, or over a tenth of a second apart
    double farthestMetres = 0;                 ///< between the two walkers at the same moment
    int farthestStep = 0;
    std::vector<StopTimes> stops;  ///< in the order of the second, then those that only the first has
    bool alike() const { return step < 0 && onlyFirst.empty() && onlySecond.empty(); }
};
/// Of runs of the same scene, before and after an edit too: things are told by their ids.
Parting compare(const Trace& first, const Trace& second);

}  // namespace rehearse
