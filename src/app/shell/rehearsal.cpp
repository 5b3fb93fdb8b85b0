#include "app/shell/rehearsal.h"

#include <QDateTime>
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/editor.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "base/files.h"
#include "edit/draft.h"
#include "edit/session.h"
#include "io/local_folder.h"
#include "io/rehearsal_file.h"
#include "io/workspace.h"
#include "ops/move.h"

namespace app {
namespace {

namespace fs = std::filesystem;
using rehearse::kStep;
using rehearse::kStepsPerSecond;

constexpr int kFrameMs = 16;
constexpr int kMostStepsAFrame = 40;  // what is owed beyond that is forgotten: it runs slower then
constexpr double kSettleSeconds = 20;
constexpr int kMapAfterMs = 1200;
constexpr std::uint64_t kMostTraceBytes = 16'000'000;  // a larger one is there only until the project is closed
constexpr const char* kInputsEnding = ".inputs";
constexpr const char* kTraceEnding = ".trace.jsonl";

bool isElsewhere(const rehearse::Pose& a, const rehearse::Pose& b) {
    return glm::length(a.at - b.at) > 1e-5 || std::abs(glm::dot(a.turn, b.turn)) < 1 - 1e-9;
}

}  // namespace

Rehearsal::Rehearsal(Editor& editor) : editor_(editor) {
    timer_.setInterval(kFrameMs);
    timer_.setTimerType(Qt::PreciseTimer);
    connect(&timer_, &QTimer::timeout, this, &Rehearsal::tick);
    mapTimer_.setSingleShot(true);
    mapTimer_.setInterval(kMapAfterMs);
    connect(&mapTimer_, &QTimer::timeout, this, &Rehearsal::mapGround);
    connect(&editor_, &Editor::sceneShown, this, [this] {
        reach_.reset();
        seen_.reset();
        readKept();
        if (showsReach_) mapTimer_.start(0);
    });
    connect(&editor_, &Editor::historyChanged, this, [this] {
        if (showsReach_ && editor_.isOpen() && !editor_.showsLive()) mapTimer_.start(kMapAfterMs);
    });
}

Rehearsal::~Rehearsal() {
    if (mapProgress_) mapProgress_->cancel();
    if (mapper_.joinable()) mapper_.join();
}

rehearse::LevelSources Rehearsal::sources() const {
    const model::Project& project = editor_.session().project();
    const model::SceneEntry* entry = project.scene(editor_.sceneName());
    return {editor_.session().library(), editor_.sight().shapes(), project.walker, project.craft,
            entry != nullptr && entry->craft};
}

std::shared_ptr<const rehearse::Level> Rehearsal::levelNow() const {
    return std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(editor_.scene()), sources()));
}

std::vector<rehearse::StartFault> Rehearsal::startFaults() {
    if (!editor_.isOpen() || isOn()) return {};
    const auto level = levelNow();
    const rehearse::World world(*level);
    std::vector<rehearse::StartFault> faults = rehearse::startFaults(*level, world);
    // Of several a selected one is meant.
    const auto& selected = editor_.selection();
    const bool chosen = std::any_of(level->starts.begin(), level->starts.end(), [&](const rehearse::Start& start) {
        return std::find(selected.begin(), selected.end(), start.id) != selected.end();
    });
    if (chosen) std::erase_if(faults, [](const auto& f) { return f.what == rehearse::StartFault::What::Several; });
    return faults;
}

std::optional<base::Vec3> Rehearsal::standNear(const base::Vec3& place) const {
    const auto level = levelNow();
    const rehearse::World world(*level);
    return rehearse::standNear(*level, world, place);
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
    if (mode == Mode::Playing || mode == Mode::Settling) timer_.start();
}

void Rehearsal::start(const std::optional<base::Vec3>& at, double yawDegrees) {
    if (!editor_.isOpen()) return;
    if (isOn()) end();
    auto level = levelNow();
    rehearse::Start start;
    if (at) {
        start.feet = *at;
        start.yawDegrees = yawDegrees;
    } else if (!level->starts.empty()) {
        start = level->starts.front();
        for (const rehearse::Start& one : level->starts)
            if (std::find(editor_.selection().begin(), editor_.selection().end(), one.id) != editor_.selection().end())
                start = one;
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
    run_ = std::make_unique<rehearse::Run>(level, start);
    begin(Mode::Playing, std::move(level));
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = run_->world().firstPose(i);
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::again() {
    if (!isPlayed()) return;
    const rehearse::Start start = begunAt_;
    keepRun();
    std::shared_ptr<const rehearse::Level> level = level_;  // the scene is as it was: nothing could change it
    edit::SceneDelta back = copy_->all();
    editor_.showInstead(nullptr, back);
    input_ = {};
    tapped_ = 0;
    input_.yaw = rehearse::hundredths(start.yawDegrees);
    run_ = std::make_unique<rehearse::Run>(level, start);
    begin(Mode::Playing, level);
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = run_->world().firstPose(i);
    Q_EMIT changed();
    Q_EMIT advanced();
}

void Rehearsal::end() {
    if (!isOn()) return;
    timer_.stop();
    if (isPlayed()) keepRun();
    mode_ = Mode::Off;
    const edit::SceneDelta back = copy_->all();
    editor_.showInstead(nullptr, back);
    run_.reset();
    falling_.reset();
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
    mapTimer_.stop();
    if (mapProgress_) mapProgress_->cancel();
    if (mapper_.joinable()) mapper_.join();
    mapping_ = false;
    reach_.reset();
    made_.reset();
    seen_.reset();
    kept_.clear();
    keptOf_.clear();
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

/// What has moved since it was last shown goes there in the copy.
void Rehearsal::showThings() {
    const rehearse::World* world = run_ ? &run_->world() : falling_.get();
    if (world == nullptr) return;
    for (std::size_t i = 0; i < shownAt_.size(); ++i) {
        if (!world->isMoved(i)) continue;
        const rehearse::Pose now = world->pose(i);
        if (!isElsewhere(now, shownAt_[i])) continue;
        shownAt_[i] = now;
        const base::Affine motion = world->motion(i);
        for (const Slot slot : level_->things[i].slots) copy_->put(slot, motion * level_->scene->world(slot));
    }
    const edit::SceneDelta moved = copy_->take();
    if (!moved.moved.empty()) editor_.liveMoved(moved);
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
    for (const rehearse::Track& track : trace.tracks) {
        const Slot slot = level_->scene->find(track.object);
        const std::int32_t index = slot == kNoSlot ? -1 : level_->thingOf[slot];
        if (index < 0) continue;
        const rehearse::Pose now = track.at(step);
        auto& shown = shownAt_[static_cast<std::size_t>(index)];
        if (!isElsewhere(now, shown)) continue;
        shown = now;
        const base::Quat turn = glm::normalize(now.turn * glm::conjugate(track.first.turn));
        const base::Affine motion = rehearse::toAffine({now.at - turn * track.first.at, turn});
        for (const Slot s : level_->things[static_cast<std::size_t>(index)].slots)
            copy_->put(s, motion * level_->scene->world(s));
    }
    const edit::SceneDelta moved = copy_->take();
    if (!moved.moved.empty()) editor_.liveMoved(moved);
    Q_EMIT advanced();
}

render::Camera Rehearsal::camera() const {
    if (free_) return freeCamera_;
    render::Camera camera;
    camera.verticalDegrees = 62;
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

fs::path Rehearsal::folder() const {
    const auto local = io::localFolder(editor_.session().project().folder);
    return local ? *local / "rehearsals" : fs::path();
}

void Rehearsal::keepRun() {
    if (!run_ || run_->steps() < kStepsPerSecond / 4) return;  // a slip of the finger
    run_->end();
    KeptRun kept;
    kept.inputs = run_->inputs();
    kept.trace = run_->trace();
    kept.name = editor_.workspace().session->project().sceneNames.empty()
                    ? QString()
                    : QString("%1 %2").arg(toQt(kept.inputs.scene),
                                           QDateTime::currentDateTime().toString("yyyy-MM-dd HH.mm.ss"));
    kept.inputs.name = kept.name.toStdString();
    const fs::path in = folder();
    std::error_code problem;
    if (!in.empty()) fs::create_directories(in, problem);
    if (!in.empty() && !problem) {
        const std::string name = kept.name.toStdString();
        base::Status written = base::writeFileWhole(in / (name + kInputsEnding), rehearse::toText(kept.inputs));
        const std::string trace = written ? io::formatTrace(kept.trace) : std::string();
        if (written && trace.size() <= kMostTraceBytes)
            written = base::writeFileWhole(in / (name + kTraceEnding), trace);
        if (!written) editor_.say(toQt(written.error().message));
    }
    kept_.insert(kept_.begin(), std::move(kept));
    while (kept_.size() > kMostKept) forget(kept_.size() - 1);
    Q_EMIT keptChanged();
}

void Rehearsal::forget(std::size_t which) {
    if (which >= kept_.size()) return;
    const std::string name = kept_[which].name.toStdString();
    std::error_code problem;
    const fs::path in = folder();
    if (!in.empty() && base::isFileName(name + kInputsEnding)) {
        fs::remove(in / (name + kInputsEnding), problem);
        fs::remove(in / (name + kTraceEnding), problem);
    }
    kept_.erase(kept_.begin() + static_cast<std::ptrdiff_t>(which));
    compared_.reset();
    parting_.reset();
    Q_EMIT keptChanged();
}

/// Those of the scene that is shown; what cannot be read is passed over.
void Rehearsal::readKept() {
    if (keptOf_ == editor_.sceneName()) return;
    keptOf_ = editor_.sceneName();
    kept_.clear();
    const fs::path in = folder();
    std::error_code problem;
    std::vector<fs::path> files;
    for (fs::directory_iterator at(in, problem), none; !problem && at != none; at.increment(problem))
        if (at->path().string().ends_with(kInputsEnding) && at->is_regular_file(problem)) files.push_back(at->path());
    std::sort(files.rbegin(), files.rend());
    for (const fs::path& file : files) {
        if (kept_.size() >= kMostKept) break;
        const auto text = base::readFile(file);
        auto inputs = text ? rehearse::inputsFrom(*text) : base::Result<rehearse::Inputs>(tl::unexpected(text.error()));
        if (!inputs || inputs->scene != keptOf_) continue;
        const fs::path traceFile = in / (file.stem().string() + kTraceEnding);
        const auto traceText = base::readFile(traceFile, kMostTraceBytes);
        auto trace = traceText ? io::parseTrace(*traceText, traceFile.filename().string())
                               : base::Result<rehearse::Trace>(tl::unexpected(traceText.error()));
        if (trace) kept_.push_back({toQt(file.stem().string()), std::move(*inputs), std::move(*trace)});
    }
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
    if (which >= kept_.size() || !editor_.isOpen()) return;
    rehearse::Trace trace = kept_[which].trace;
    if (isOn()) end();
    begin(Mode::Looking, levelNow());
    lookAt(std::move(trace));
}

void Rehearsal::replay(std::size_t which) {
    if (which >= kept_.size() || !editor_.isOpen()) return;
    if (isOn()) end();
    const rehearse::Inputs inputs = kept_[which].inputs;
    auto level = levelNow();
    rehearse::Trace again = rehearse::replay(level, inputs);
    begin(Mode::Looking, std::move(level));
    lookAt(std::move(again));
    compareWith(which);
    if (parting_ && parting_->step >= 0) showMoment(parting_->step);
}

void Rehearsal::compareWith(const std::optional<std::size_t>& which) {
    compared_ = which && *which < kept_.size() ? which : std::nullopt;
    parting_.reset();
    if (compared_ && trace() != nullptr) parting_ = rehearse::compare(kept_[*compared_].trace, *trace());
    Q_EMIT changed();
    Q_EMIT advanced();
}

// ---- Settling

void Rehearsal::settle() {
    if (!editor_.isOpen() || isOn()) return;
    if (editor_.selection().empty()) return editor_.say(tr("Select what is to settle."));
    rehearse::LevelSources from = sources();
    from.falling = editor_.selection();
    std::sort(from.falling->begin(), from.falling->end());
    auto level = std::make_shared<const rehearse::Level>(
        rehearse::levelOf(std::make_shared<const model::Scene>(editor_.scene()), from));
    falling_ = std::make_unique<rehearse::World>(*level);
    bool any = false;
    for (std::size_t i = 0; i < level->things.size(); ++i) any = any || falling_->isMoved(i);
    if (!any) {
        falling_.reset();
        return editor_.say(tr("Nothing of what is selected has a shape that could fall."));
    }
    settled_ = 0;
    begin(Mode::Settling, std::move(level));
    for (std::size_t i = 0; i < shownAt_.size(); ++i) shownAt_[i] = falling_->firstPose(i);
    Q_EMIT changed();
}

void Rehearsal::keepSettled() {
    if (mode_ != Mode::Settling) return;
    std::vector<base::ObjectId> ids;
    std::vector<base::Affine> motions;
    for (std::size_t i = 0; i < level_->things.size(); ++i) {
        if (!falling_->isMoved(i) || !level_->things[i].isLoose()) continue;
        if (!base::isFinite(falling_->pose(i).at)) continue;
        ids.push_back(level_->things[i].id);
        motions.push_back(falling_->motion(i));
    }
    end();
    editor_.run(tr("Settle %1").arg(counted(ids.size(), tr("object"), tr("objects"))).toStdString(),
                [&](edit::Draft& draft) { return ops::moveEach(draft, ids, motions); });
}

std::vector<rehearse::Rest> Rehearsal::wouldMove() {
    if (!editor_.isOpen() || isOn()) return {};
    const auto ids = rehearse::looseOf(editor_.scene());
    base::Progress progress;
    auto rests = rehearse::settle(std::make_shared<const model::Scene>(editor_.scene()), sources(), ids, 6, progress);
    return rests ? *rests : std::vector<rehearse::Rest>{};
}

// ---- The map of the ground

void Rehearsal::showReach(bool on) {
    showsReach_ = on;
    if (on && !reach_) mapGround();
    Q_EMIT reachChanged();
}

void Rehearsal::mapGround() {
    if (!editor_.isOpen() || editor_.showsLive() || !showsReach_) return;
    if (mapping_) {
        mapStale_ = true;
        return;
    }
    if (mapper_.joinable()) mapper_.join();
    const auto level = levelNow();
    if (level->starts.empty()) return editor_.say(tr("There is no start: the map says what can be come to from one."));
    mapping_ = true;
    mapStale_ = false;
    mapProgress_ = std::make_shared<base::Progress>();
    Q_EMIT reachChanged();
    mapper_ = std::thread([this, level, progress = mapProgress_] {
        auto ground = rehearse::Ground::make(*level, *progress);
        std::optional<std::vector<rehearse::Patch>> made;
        if (ground) {
            const rehearse::World world(*level);
            made = (*ground)->reach(level->starts.front().feet, world);
        }
        QMetaObject::invokeMethod(
            this,
            [this, made = std::move(made), why = ground ? std::string() : ground.error().message]() mutable {
                mapping_ = false;
                if (mapper_.joinable()) mapper_.join();
                if (made)
                    reach_ = std::move(made);
                else if (!why.empty() && editor_.isOpen())
                    editor_.say(toQt(why));
                showSeenFrom(seenFrom_);
                Q_EMIT reachChanged();
                if (mapStale_) mapGround();
            },
            Qt::QueuedConnection);
    });
}

void Rehearsal::showSeenFrom(const std::optional<base::Vec3>& eye) {
    seenFrom_ = eye;
    seen_.reset();
    const query::SceneIndex* index = editor_.isOpen() ? editor_.sight().index() : nullptr;
    if (eye && reach_ && index != nullptr)
        seen_ = rehearse::seenFrom(*reach_, *eye, [&](const base::Vec3& a, const base::Vec3& b) {
            const double length = glm::length(b - a);
            if (length < 1e-6) return false;
            const auto hit =
                index->pick(editor_.scene(), {a, (b - a) / length}, [&](Slot s) { return !editor_.isHidden(s); });
            return hit && hit->distance < length - 0.05;
        });
    Q_EMIT reachChanged();
}

}  // namespace app
