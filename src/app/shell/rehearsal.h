#pragma once
// Playing the scene that is shown, and coming back: one walks through a copy, of which nothing is kept but what
// happened. While it runs nothing can be edited; afterwards camera, selection and tool are as they were.
#include <QElapsedTimer>
#include <QObject>
#include <QString>
#include <QTimer>
#include <memory>
#include <optional>

#include "app/shell/ground_map.h"
#include "app/shell/kept_runs.h"
#include "app/shell/shown_changes.h"
#include "edit/live_copy.h"
#include "rehearse/plan.h"
#include "rehearse/ride.h"
#include "rehearse/run.h"
#include "rehearse/settle.h"
#include "rehearse/start.h"
#include "render/camera.h"

namespace app {

class Editor;
struct Tools;

class Rehearsal : public QObject {
    Q_OBJECT
  public:
    enum class Mode { Off, Playing, Paused, Looking, Settling, Riding };

    explicit Rehearsal(Editor& editor);
    ~Rehearsal() override;

    Mode mode() const { return mode_; }
    bool isOn() const { return mode_ != Mode::Off; }
    /// Does one walk in it, now or as soon as it goes on?
    bool isPlayed() const { return mode_ == Mode::Playing || mode_ == Mode::Paused; }
    /// What a run begins with, made once for looking at the start and for the run.
    struct Prepared {
        std::shared_ptr<const rehearse::Level> level;  // shared with the run
        std::unique_ptr<rehearse::World> world;
        std::vector<rehearse::StartFault> faults;  ///< what is wrong with the start, to be told before it begins
    };
    Prepared prepare() const;
    /// Begins at the start (a selected one, if several), looking where that looks; or with feet at a place.
    void start(Prepared prepared, const std::optional<base::Vec3>& at = {}, double yawDegrees = 0);
    void again();
    /// Back to the scene; the run is kept.
    void end();
    /// The project is about to go.
    void close();

    void setPaused(bool paused);
    void stepOnce();
    void setSpeed(int times);
    /// The nth cue of an object, as if its conditions had come true.
    void setOff(base::ObjectId object, std::size_t cue);
    int speed() const { return speed_; }
    void jumpTo(const base::Vec3& place);
    /// One flies about without a body; it stays where it is.
    void setFree(bool isFree);
    bool isFree() const { return free_; }
    /// Zones are drawn while one plays, too.
    void showZones(bool shown);
    bool showsZones() const { return zones_; }
    /// One sees what the scene's cameras show, where there are some; else with one's own eyes.
    void seeByCameras(bool seen);
    bool seesByCameras() const { return byCameras_; }
    /// Is it so at this moment?
    bool isShownByCamera() const;
    /// What is pressed by whoever plays.
    rehearse::Input& pressed() { return input_; }
    /// A key went down: it counts for a step, however soon it is let go.
    void tap(rehearse::Input::Key key) { tapped_ = static_cast<std::uint8_t>(tapped_ | key); }
    void lookBy(double yawDegrees, double pitchDegrees);
    render::Camera& freeCamera() { return freeCamera_; }

    /// Of what is played or looked at; null: nothing is.
    const rehearse::Level* level() const { return level_.get(); }
    const rehearse::Trace* trace() const;
    const rehearse::Run* run() const { return run_.get(); }
    const rehearse::Focus& focus() const { return focus_; }
    /// Which moment is shown, in steps.
    int shownStep() const { return shown_; }
    void show(int step);
    /// Where one looks from.
    render::Camera camera() const;
    /// Where one looked from before.
    const std::optional<render::Camera>& cameraBefore() const { return cameraBefore_; }
    void cameraWas(const render::Camera& camera) { cameraBefore_ = camera; }

    const std::vector<KeptRun>& kept() const { return kept_.all(); }
    /// Shows a kept run, at its beginning.
    void look(std::size_t kept);
    /// Does again what was pressed in a kept run, in the scene as it is now, and shows how it differs.
    void replay(std::size_t kept);
    /// Goes a written walk, shows it at its beginning and keeps it as a run. What is wrong is said.
    void follow(const rehearse::Plan& plan);
    /// Another run beside the one that is shown; nothing: none.
    void compareWith(const std::optional<std::size_t>& kept);
    const std::optional<std::size_t>& comparedWith() const { return compared_; }
    const std::optional<rehearse::Parting>& parting() const { return parting_; }
    void forget(std::size_t kept);

    /// Lets what is selected fall where it is; keepSettled() makes a step of it, end() drops it.
    void settle();
    void keepSettled();
    /// Shows the selected carriers with all that is aboard on their way along points: their own, or those of the one
    /// other selected object that has some. Again and again, until end().
    void ride();
    /// Only asks: what would become of all that is loose.
    std::vector<rehearse::Rest> wouldMove();

    /// What of the ground can be come to.
    GroundMap& ground() { return ground_; }

  Q_SIGNALS:
    /// The view that is worked in is the player's from now on.
    void beginning();
    /// Mode, speed, who is free: what can be done.
    void changed();
    /// Another moment is shown.
    void advanced();
    void keptChanged();

  private:
    void begin(Mode mode, std::shared_ptr<const rehearse::Level> level);
    rehearse::LevelSources sources() const;
    std::shared_ptr<const rehearse::Level> levelNow() const;
    void tick();
    void goOn(int steps);
    void showScene();
    void showThings();
    void showChanges(int step);
    void putThing(std::size_t thing, const rehearse::Pose& now, bool there, base::Affine motion);
    void showMoment(int step);
    void rideOn(double seconds);
    void keepRun();
    void lookAt(rehearse::Trace trace);
    const rehearse::Start* chosenStart(const rehearse::Level& level) const;

    Editor& editor_;
    Mode mode_ = Mode::Off;
    std::shared_ptr<const rehearse::Level> level_;  // shared with the run, and workers
    std::unique_ptr<rehearse::Run> run_;
    std::unique_ptr<rehearse::World> falling_;  // of what settles
    std::optional<rehearse::Trace> looked_;     // a run that is over
    std::unique_ptr<edit::LiveCopy> copy_;
    std::vector<rehearse::Pose> shownAt_;  // by thing
    ShownChanges changes_;
    std::vector<std::pair<model::Slot, rehearse::Ride>> rides_;
    /// The stops of the route that is ridden along, when it tells them how they are.
    struct PassedStops {
        struct Stop {
            model::Slot slot;
            double metres;
            std::string word;  ///< that it shows
        };
        std::string tells;  ///< their property
        std::vector<Stop> stops;
        double length = 0;
    };
    PassedStops stopsToShow(model::Slot path) const;
    void showPassed(double metres);
    PassedStops passed_;
    double ridden_ = 0;             // seconds
    std::vector<bool> shownThere_;  // the same: does it exist
    rehearse::Input input_;
    std::uint8_t tapped_ = 0;
    rehearse::Focus focus_;
    rehearse::Start begunAt_;
    QTimer timer_;
    QElapsedTimer clock_;
    double owed_ = 0;  // steps
    int speed_ = 1, shown_ = 0, settled_ = 0;
    bool free_ = false, inTick_ = false, zones_ = false, byCameras_ = true;
    render::Camera freeCamera_;
    std::optional<render::Camera> cameraBefore_;
    std::vector<base::ObjectId> selectionBefore_;
    std::unique_ptr<Tools> toolsBefore_;
    std::string readOnlyBefore_;
    KeptRuns kept_;
    GroundMap ground_;
    std::optional<std::size_t> compared_;
    std::optional<rehearse::Parting> parting_;
};

}  // namespace app
