#pragma once
// One run: a level, who walks through it, and what comes of it, step by step. The same level and inputs give the same
// trace, bit for bit.
// One thread. Shapes of the level must stay valid as long as it runs.
#include <memory>

#include "base/progress.h"
#include "rehearse/courses.h"
#include "rehearse/cues.h"
#include "rehearse/inputs.h"
#include "rehearse/mover.h"
#include "rehearse/shots.h"
#include "rehearse/trace.h"

namespace rehearse {

// Its functions stand in run.cpp (steps), run_go.cpp, run_act.cpp, run_watch.cpp, run_cues.cpp, run_shots.cpp
// and run_courses.cpp.

/// Who walks, or the craft one sits in.
struct Player {
    Footing footing;
    double yawDegrees = 0, pitchDegrees = 0;
    Capsule capsule;
    bool ducked = false, swims = false;
    std::int32_t holds = -1;     ///< a thing; below 0: nothing
    double speed = 0;            ///< of a craft, metres a second ahead
    double heading = 0;          ///< of a craft, degrees
    double climb = 0, bank = 0;  ///< the same
    base::Vec3 eye{0.0};
};

/// What is looked at and in reach.
struct Focus {
    std::int32_t thing = -1;  ///< below 0: nothing
    bool canUse = false, canTake = false;
    std::string name, words;  ///< "Windlass", "Turn the windlass"
};

class Run {
  public:
    /// `ready`: a world of the level that has not gone on yet; null: it makes one.
    Run(std::shared_ptr<const Level> level, const Start& start, std::unique_ptr<World> ready = nullptr);
    ~Run();

    void step(const Input& input);
    int steps() const { return trace_.steps; }
    const Level& level() const { return *level_; }
    const World& world() const { return *world_; }
    const Player& player() const { return player_; }
    const Trace& trace() const { return trace_; }
    const Inputs& inputs() const { return inputs_; }
    Focus focus() const;
    /// What a thing does at the moment.
    enum class Does : std::uint8_t { Rests, Moves, Waits, IsMoved, IsHeld, IsGone };
    Does doesNow(std::size_t thing) const;
    /// As if it had been used by whoever walks.
    void use(std::size_t thing);
    /// Ends what was begun: what stood long is told. Once.
    void end(const std::string& why = {});
    /// For written walks.
    void note(What what, base::ObjectId object, const std::string& text);
    const Cues& cues() const { return *cues_; }
    /// Since which step a sound of the level is heard; -1: it is not. One that is not repeated may be over by now.
    int soundSince(std::size_t sound) const { return soundSince_[sound]; }
    /// Where it is by now.
    base::Vec3 soundAt(std::size_t sound) const;
    /// What shows it.
    const Shots& shots() const { return *shots_; }
    /// How far one is on the routes of the level.
    const Courses& courses() const { return *courses_; }
    /// A cue, as if its conditions had come true.
    void setOff(std::size_t cue) { cues_->setOff(cue); }
    /// Is it there to be seen? A cue may have taken it away.
    bool isThere(std::size_t thing) const { return states_[thing].there && states_[thing].seen; }
    /// Is there something that moves or waits to move?
    bool isQuiet() const;

  private:
    struct ThingState {
        Pose quiet;  // where it stood last
        bool moving = false;
        bool gone = false;    // stopped for good
        bool turned = false;  // a use brought it there
        bool there = true;    // else cues took it away, or no act has it
        bool exists = true;   // as far as cues go
        int missing = 0;      // of how many it is part of that no act has there
        bool solid = true;    // else nothing meets it
        bool seen = true;
    };
    struct Due {
        int step;
        std::size_t thing;
        bool back;  // to where it stood; else by that, from where it goes
        base::Vec3 slide;
        double turnDegrees, seconds;
    };

    class Stage;  // what cues ask and do
    void letSound(base::ObjectId object, bool on);
    class Lens;  // what cameras ask
    void makeShots();
    void stepShots();
    void stepCourses(const base::Vec3& from, bool jumped);
    void tellStops(std::size_t course);
    Entry& add(What what, base::ObjectId object = {}, base::ObjectId other = {});
    void makeCues();
    void stepCues();
    void letFollow(std::size_t thing, const std::shared_ptr<const Network>& way);
    void stopFollowing(std::size_t thing);
    void stepFollowing();
    void letMove(std::size_t thing, const model::CueThen& then, const Pose& place);
    Pose moved(std::size_t thing, const base::Vec3& slide, double turnDegrees) const;
    void letBe(std::size_t thing, bool exists, bool solid);
    void letCome(std::size_t thing, const base::Affine& motion, double seconds);
    void look(const Input& input);
    void walkOn(const Input& input);
    void onFoot(const Input& input);
    void swim(const Input& input);
    void flyOn(const Input& input);
    void duck(const Input& input);
    base::Vec3 wayOf(const Input& input) const;
    void landed();
    void act(const Input& input);
    void take(std::size_t thing);
    void letGo(double speed);
    void holdOn();
    void beHit();
    void startDue();
    void watchThings();
    void watchZones();
    base::Vec3 placeIn(const ZoneAt& zone, std::size_t thing) const;
    void watchWalker();
    void watchStill();
    void tellStood();
    void stopThing(std::size_t thing, const std::string& why, double speed);
    void keepTracks();
    void sumUp();
    bool pressed(const Input& input, Input::Key key) const;
    double waterAbove(const base::Vec3& feet) const;

    std::shared_ptr<const Level> level_;  // shared with whoever shows the run
    std::unique_ptr<World> world_;
    Mover mover_;
    Player player_;
    Trace trace_;
    Inputs inputs_;
    Input before_;
    std::vector<ThingState> states_;
    std::vector<Due> due_;
    std::vector<std::pair<std::size_t, Following>> following_;  // by thing, in the order in which they began
    std::vector<std::vector<std::int32_t>> inZone_;             // by zone: who is in it; -1: who walks
    std::vector<int> soundSince_;
    std::vector<bool> zoneIsThere_;  // by zone: when it was looked at last
    base::Vec3 firm_{0.0};           // where it last stood
    double highest_ = 0;             // of a fall
    base::Vec3 stoodAt_{0.0};
    int stoodSince_ = 0, lastHit_ = -kStepsPerSecond, lastPush_ = -kStepsPerSecond, lastDucked_ = -kStepsPerSecond;
    std::int32_t lastPushed_ = -1;
    std::size_t keyCount_ = 0;
    int keyEvery_ = 6;
    std::size_t heard_ = 0;       // entries of the trace that cues know
    std::size_t toldByCues_ = 0;  // entries that are theirs
    bool ended_ = false;
    std::unique_ptr<CueStage> stage_;
    std::unique_ptr<Cues> cues_;
    std::unique_ptr<ShotStage> lens_;
    std::unique_ptr<Shots> shots_;
    std::unique_ptr<Courses> courses_;
};

/// Runs all of it, with `seconds` more of nothing pressed.
/// Cancelled: what came of it until then.
Trace replay(std::shared_ptr<const Level> level, const Inputs& inputs, double seconds = 0,
             base::Progress* progress = nullptr);

}  // namespace rehearse
