#include "app/shell/rehearsal.h"

#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/long_work.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "edit/session.h"
#include "io/workspace.h"

namespace app {
namespace {

using rehearse::kStep;
using rehearse::kStepsPerSecond;

constexpr int kFrameMs = 16;
constexpr int kMostStepsAFrame = 40;  // what is owed beyond that is forgotten: it runs slower then
constexpr double kSettleSeconds = 20;

constexpr double kShownMetres = 1e-5, kShownTurn = 1e-9;  // less is not seen

}  // namespace

Rehearsal::Rehearsal(Editor& editor) : editor_(editor), kept_(editor), ground_(editor, [this] { return levelNow(); }) {
    timer_.setInterval(kFrameMs);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &Rehearsal::tick);
    connect(&editor_, &Editor::sceneShown, this, [this] {
        kept_.read();
        Q_EMIT keptChanged();
    });
}

Rehearsal::~Rehearsal() = default;

rehearse::LevelSources Rehearsal::sources() const {
    return rehearse::sourcesOf(editor_.session().project(), editor_.session().library(), editor_.sight().shapes(),
                               editor_.sceneName());
}

std::shared_ptr<const rehearse::Level> Rehearsal::levelNow() const {
    return std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(editor_.scene()), sources()));
}

Rehearsal::Prepared Rehearsal::prepare() const {
    Prepared prepared;
    prepared.level = levelNow();
    prepared.world = std::make_unique<rehearse::World>(*prepared.level);
    prepared.faults = rehearse::startFaults(*prepared.level, *prepared.world);
    // Of several a selected one is meant.
    if (chosenStart(*prepared.level) != nullptr)
        std::erase_if(prepared.faults, [](const auto& f) { return f.what == rehearse::StartFault::What::Several; });
    return prepared;
}

const rehearse::Start* Rehearsal::chosenStart(const rehearse::Level& level) const {
    const auto& selected = editor_.selection();
    for (const rehearse::Start& start : level.starts)
        if (std::find(selected.begin(), selected.end(), start.id) != selected.end()) return &start;
    return nullptr;
}

// ---- There and back

void Rehearsal::begin(Mode mode, std::shared_ptr<const rehearse::Level> level) {
    const bool wasOn = isOn();
    level_ = std::move(level);
    if (!wasOn) {
        Q_EMIT beginning();
        selectionBefore_ = editor_.selection();
        toolsBefore_ = std::make_unique<Tools>(editor_.tools());
        readOnlyBefore_ = editor_.session().readOnlyReason();
        editor_.session().makeReadOnly(tr("The scene is being played: Esc goes back to it.").toStdString());
        editor_.setPlacing({});
    }
    mode_ = mode;
    copy_ = std::make_unique<edit::LiveCopy>(*level_->scene, editor_.session().library());
    shownAt_.clear();
    shownThere_.assign(level_->things.size(), true);
    changes_.clear();
    for (const rehearse::Thing& thing : level_->things) {
        const base::Transform t = base::toTransform(level_->scene->world(thing.slot));
        shownAt_.push_back({t.position, t.rotation});
    }
    compared_.reset();
    parting_.reset();
    owed_ = 0;
    shown_ = 0;
    edit::SceneDelta none;
    none.scene = level_->scene->name();
    editor_.showInstead(&copy_->scene(), none);
    clock_.start();
    if (mode == Mode::Playing || mode == Mode::Settling || mode == Mode::Riding) timer_.start();
}

void Rehearsal::start(Prepared prepared, const std::optional<base::Vec3>& at, double yawDegrees) {
    if (!editor_.isOpen() || prepared.level == nullptr) return;
    if (isOn()) end();
    rehearse::Start start;
    if (at) {
        start.feet = *at;
        start.yawDegrees = yawDegrees;
    } else if (const rehearse::Start* chosen = chosenStart(*prepared.level)) {
        start = *chosen;
    } else if (!prepared.level->starts.empty()) {
        start = prepared.level->starts.front();
    } else {
        return editor_.say(tr("There is no start: place one, or begin at the pointer."));
    }
    begunAt_ = start;
    looked_.reset();
    free_ = false;
    speed_ = 1;
    input_ = {};
    tapped_ = 0;
    input_.yaw = rehearse::hundredths(start.yawDegrees);
    run_ = std::make_unique<rehearse::Run>(prepared.level, start, std::move(prepared.world));
    begin(Mode::Playing, std::move(prepared.level));
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = run_->world().firstPose(i);
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::again() {
    if (!isPlayed()) return;
    const rehearse::Start start = begunAt_;
    keepRun();
    std::shared_ptr<const rehearse::Level> level = level_;  // the scene is as it was: nothing could change it
    showScene();
    input_ = {};
    tapped_ = 0;
    input_.yaw = rehearse::hundredths(start.yawDegrees);
    run_ = std::make_unique<rehearse::Run>(level, start);
    begin(Mode::Playing, level);
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = run_->world().firstPose(i);
    Q_EMIT changed();
    Q_EMIT advanced();
}

/// Itself, in its own guise.
void Rehearsal::showScene() {
    const edit::SceneDelta back = copy_->all();
    const bool guise = copy_->scene().settings().guise != level_->scene->settings().guise;
    editor_.showInstead(nullptr, back);
    if (guise) Q_EMIT editor_.shownChanged();
}

void Rehearsal::end() {
    if (!isOn()) return;
    timer_.stop();
    if (isPlayed()) keepRun();
    mode_ = Mode::Off;
    showScene();
    run_.reset();
    falling_.reset();
    rides_.clear();
    looked_.reset();
    copy_.reset();
    level_.reset();
    parting_.reset();
    compared_.reset();
    free_ = false;
    if (readOnlyBefore_.empty())
        editor_.session().makeWritable();
    else
        editor_.session().makeReadOnly(readOnlyBefore_);
    if (toolsBefore_) editor_.setTools(*toolsBefore_);
    if (editor_.selection() != selectionBefore_) editor_.select(selectionBefore_);
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::close() {
    end();
    ground_.close();
    kept_.clear();
}

// ---- Going on

void Rehearsal::setPaused(bool paused) {
    if (!isPlayed() || paused == (mode_ == Mode::Paused)) return;
    mode_ = paused ? Mode::Paused : Mode::Playing;
    if (paused) {
        timer_.stop();
    } else {
        if (shown_ != run_->steps()) {  // one looked back
            shown_ = run_->steps();
            showThings();
        }
        owed_ = 0;
        clock_.restart();
        timer_.start();
    }
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::stepOnce() {
    if (mode_ != Mode::Paused) return setPaused(true);
    goOn(1);
}

void Rehearsal::setSpeed(int times) {
    speed_ = std::clamp(times, 1, 8);
    Q_EMIT changed();
}

void Rehearsal::jumpTo(const base::Vec3& place) {
    if (!isPlayed()) return;
    input_.place = place;
    if (mode_ == Mode::Paused) goOn(1);
}

void Rehearsal::setFree(bool isFree) {
    if (!isOn() || isFree == free_) return;
    if (isFree) freeCamera_ = camera();
    free_ = isFree;
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::lookBy(double yawDegrees, double pitchDegrees) {
    if (free_) {
        freeCamera_.yawDegrees -= yawDegrees;
        freeCamera_.pitchDegrees = std::clamp(freeCamera_.pitchDegrees + pitchDegrees, -89.0, 89.0);
        Q_EMIT advanced();
        return;
    }
    input_.yaw = rehearse::hundredths(rehearse::degrees(input_.yaw) + yawDegrees);
    input_.pitch = std::clamp(input_.pitch + static_cast<std::int32_t>(std::lround(pitchDegrees * 100)), -8900, 8900);
}

void Rehearsal::tick() {
    if (inTick_) return;
    inTick_ = true;
    const double seconds = std::min(static_cast<double>(clock_.restart()) / 1000.0, 0.25);
    if (mode_ == Mode::Riding) {
        inTick_ = false;
        return rideOn(seconds);
    }
    owed_ += seconds * kStepsPerSecond * (mode_ == Mode::Settling ? 1 : speed_);
    const int steps = std::min(static_cast<int>(owed_), kMostStepsAFrame * std::max(1, speed_ / 2));
    owed_ = owed_ - static_cast<int>(owed_) > 0 ? owed_ - std::floor(owed_) : 0;
    inTick_ = false;
    if (steps > 0) goOn(steps);
}

void Rehearsal::goOn(int steps) {
    if (mode_ == Mode::Settling) {
        for (int i = 0; i < steps; ++i) falling_->step();
        settled_ += steps;
        bool awake = false;
        for (std::size_t i = 0; i < level_->things.size(); ++i) awake = awake || falling_->isAwake(i);
        showThings();
        if (!awake || settled_ > kSettleSeconds * kStepsPerSecond) {
            timer_.stop();
            Q_EMIT changed();
        }
        Q_EMIT advanced();
        return;
    }
    if (run_ == nullptr) return;
    rehearse::Input input = input_;
    if (free_) {  // whoever flies about does not walk
        input.ahead = input.side = input.up = 0;
        input.keys = 0;
    }
    const std::uint8_t held = input.keys;
    input.keys = static_cast<std::uint8_t>(held | (free_ ? 0 : tapped_));
    tapped_ = 0;
    for (int i = 0; i < steps; ++i) {
        run_->step(input);
        input.place.reset();
        input.keys = held;
    }
    input_.place.reset();
    shown_ = run_->steps();
    focus_ = run_->focus();
    showThings();
    Q_EMIT advanced();
}

void Rehearsal::showZones(bool shown) {
    zones_ = shown;
    Q_EMIT changed();
}

void Rehearsal::seeByCameras(bool seen) {
    byCameras_ = seen;
    Q_EMIT changed();
    Q_EMIT advanced();
}

bool Rehearsal::isShownByCamera() const {
    return byCameras_ && !free_ && run_ && shown_ == run_->steps() && run_->shots().view();
}

void Rehearsal::setOff(base::ObjectId object, std::size_t cue) {
    if (!run_ || !isPlayed()) return;
    if (const auto which = run_->cues().set().cueOf(object, cue)) run_->setOff(*which);
    if (mode_ == Mode::Paused) goOn(1);
}

void Rehearsal::putThing(std::size_t thing, const rehearse::Pose& now, bool there, base::Affine motion) {
    if (!isElsewhere(now, shownAt_[thing], kShownMetres, kShownTurn) && there == shownThere_[thing]) return;
    shownAt_[thing] = now;
    shownThere_[thing] = there;
    constexpr double kNothing = 1e-6;
    if (!there) motion.linear *= kNothing;
    for (const Slot slot : level_->things[thing].slots) copy_->put(slot, motion * level_->scene->world(slot));
}

/// What has moved since it was last shown goes there in the copy; what does not exist has no size there.
void Rehearsal::showThings() {
    const rehearse::World* world = run_ ? &run_->world() : falling_.get();
    if (world == nullptr) return;
    for (std::size_t i = 0; i < shownAt_.size(); ++i) {
        if (!world->isMoved(i)) continue;
        const rehearse::Pose now = world->pose(i);
        putThing(i, now, run_ == nullptr || run_->isThere(i), world->motion(i));
    }
    if (run_) return showChanges(run_->steps());
    const edit::SceneDelta moved = copy_->take();
    if (!moved.empty()) editor_.liveMoved(moved);
}

/// What cues and acts have made of things by then: they may look otherwise by it.
void Rehearsal::showChanges(int step) {
    const bool guise = changes_.show(*copy_, *level_->scene, editor_.session(), *trace(), step);
    const edit::SceneDelta moved = copy_->take();
    if (!moved.empty()) editor_.liveMoved(moved);
    if (guise) Q_EMIT editor_.shownChanged();
}

const rehearse::Trace* Rehearsal::trace() const {
    if (looked_) return &*looked_;
    return run_ ? &run_->trace() : nullptr;
}

void Rehearsal::show(int step) {
    const rehearse::Trace* trace = this->trace();
    if (trace == nullptr) return;
    if (mode_ == Mode::Playing) setPaused(true);
    showMoment(std::clamp(step, 0, trace->steps));
}

/// As the trace has it.
void Rehearsal::showMoment(int step) {
    shown_ = step;
    focus_ = {};
    const rehearse::Trace& trace = *this->trace();
    const std::vector<bool> there = rehearse::thereAt(trace, *level_, step);
    for (const rehearse::Track& track : trace.tracks) {
        const Slot slot = level_->scene->find(track.object);
        const std::int32_t index = slot == kNoSlot ? -1 : level_->thingOf[slot];
        if (index < 0) continue;
        const rehearse::Pose now = track.at(step);
        const base::Quat turn = glm::normalize(now.turn * glm::conjugate(track.first.turn));
        putThing(static_cast<std::size_t>(index), now, there[static_cast<std::size_t>(index)],
                 rehearse::toAffine({now.at - turn * track.first.at, turn}));
    }
    showChanges(step);
    Q_EMIT advanced();
}

render::Camera Rehearsal::camera() const {
    if (free_) return freeCamera_;
    render::Camera camera;
    camera.verticalDegrees = 62;
    if (isShownByCamera()) {
        const rehearse::View& view = *run_->shots().view();
        camera = render::Camera::looking(view.eye, view.to);
        camera.verticalDegrees = view.verticalDegrees;
        return camera;
    }
    if (run_ && shown_ == run_->steps()) {
        const rehearse::Player& player = run_->player();
        const double high = level_->inCraft ? player.capsule.height * 0.6
                            : player.ducked ? std::max(level_->walker.duckedHeight - 0.15, 0.2)
                                            : level_->walker.eyeHeight;
        camera.eye = player.footing.feet + base::Vec3(0, high, 0);
        // The look as it is by now, a step ahead of the body: turning feels at once.
        camera.yawDegrees = level_->inCraft ? -player.heading : -rehearse::degrees(input_.yaw);
        camera.pitchDegrees = level_->inCraft ? player.climb : rehearse::degrees(input_.pitch);
        if (level_->inCraft) camera.rollDegrees = -player.bank * 0.6;
        return camera;
    }
    const rehearse::PathPoint at = trace() != nullptr ? trace()->walkerAt(shown_) : rehearse::PathPoint{};
    camera.eye = at.feet + base::Vec3(0, level_ ? level_->walker.eyeHeight : 1.65, 0);
    camera.yawDegrees = -at.yawDegrees;
    camera.pitchDegrees = at.pitchDegrees;
    return camera;
}

// ---- What is kept

void Rehearsal::keepRun() {
    if (!run_ || run_->steps() < kStepsPerSecond / 4) return;  // a slip of the finger
    run_->end();
    kept_.keep(run_->inputs(), run_->trace());
    Q_EMIT keptChanged();
}

void Rehearsal::forget(std::size_t which) {
    kept_.forget(which);
    compared_.reset();
    parting_.reset();
    Q_EMIT keptChanged();
}

void Rehearsal::lookAt(rehearse::Trace trace) {
    run_.reset();
    falling_.reset();
    looked_ = std::move(trace);
    free_ = false;
    focus_ = {};
    input_ = {};
    for (std::size_t i = 0; i < level_->things.size(); ++i)
        for (const rehearse::Track& track : looked_->tracks)
            if (track.object == level_->things[i].id) shownAt_[i] = track.first;
    Q_EMIT changed();
    showMoment(0);
}

void Rehearsal::look(std::size_t which) {
    if (which >= kept_.all().size() || !editor_.isOpen()) return;
    rehearse::Trace trace = kept_.all()[which].trace;
    if (isOn()) end();
    begin(Mode::Looking, levelNow());
    lookAt(std::move(trace));
}

void Rehearsal::replay(std::size_t which) {
    if (which >= kept_.all().size() || !editor_.isOpen()) return;
    if (isOn()) end();
    const rehearse::Inputs inputs = kept_.all()[which].inputs;
    auto level = levelNow();
    rehearse::Trace again;
    if (!onWorker(editor_.workOver(), tr("Playing the run again"),
                  [&](base::Progress& progress) { again = rehearse::replay(level, inputs, 0, &progress); }))
        return;
    begin(Mode::Looking, std::move(level));
    lookAt(std::move(again));
    compareWith(which);
    if (parting_ && parting_->step >= 0) showMoment(parting_->step);
}

void Rehearsal::follow(const rehearse::Plan& plan) {
    if (!editor_.isOpen()) return;
    if (!plan.scene.empty() && plan.scene != editor_.sceneName())
        return editor_.say(tr("That walk is for the scene %1.").arg(toQt(plan.scene)));
    if (isOn()) end();
    auto level = levelNow();
    base::Result<rehearse::Walked> walked = base::fail(base::ErrorCode::Cancelled, "");
    const bool done = onWorker(editor_.workOver(), tr("Following the walk"), [&](base::Progress& progress) {
        auto ground = rehearse::Ground::make(*level, progress);
        if (ground)
            walked = rehearse::follow(level, plan, ground->get(), 600, &progress);
        else
            walked = tl::unexpected(ground.error());
    });
    if (!done) return;
    if (!walked) return editor_.say(toQt(walked.error().message));
    kept_.keep(walked->inputs, walked->trace);
    begin(Mode::Looking, std::move(level));
    lookAt(std::move(walked->trace));
    Q_EMIT keptChanged();
    const rehearse::Entry* failed = nullptr;
    for (const rehearse::Entry& e : looked_->entries)
        if (e.what == rehearse::What::Failed) failed = &e;
    editor_.say(walked->finished    ? tr("The walk was gone to its end.")
                : failed != nullptr ? tr("The walk could not go on: %1").arg(toQt(rehearse::textOf(*failed, *level_)))
                                    : tr("The time of the walk was up."));
}

void Rehearsal::compareWith(const std::optional<std::size_t>& which) {
    compared_ = which && *which < kept_.all().size() ? which : std::nullopt;
    parting_.reset();
    if (compared_ && trace() != nullptr) parting_ = rehearse::compare(kept_.all()[*compared_].trace, *trace());
    Q_EMIT changed();
    Q_EMIT advanced();
}

}  // namespace app
