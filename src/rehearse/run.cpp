#include "rehearse/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>

#include "rehearse/names.h"

namespace rehearse {
namespace {

constexpr double kFar = 150;  // metres from who walks: what is beyond waits
constexpr int kWatch = kStepsPerSecond / 10;

void mix(std::uint64_t& sum, double value) {
    sum = base::mixBits(sum ^ std::bit_cast<std::uint64_t>(value)) + 0x9e3779b97f4a7c15ULL;
}

void mix(std::uint64_t& sum, const Pose& pose) {
    for (int k = 0; k < 3; ++k) mix(sum, pose.at[k]);
    for (const double part : {pose.turn.x, pose.turn.y, pose.turn.z, pose.turn.w}) mix(sum, part);
}

Mover::Limits limitsOf(const Level& level) {
    if (!level.inCraft) return {level.walker.stepHeight, level.walker.slopeDegrees, level.walker.force};
    return {0.35, level.walker.slopeDegrees, level.walker.force * 10};
}

}  // namespace

Run::Run(std::shared_ptr<const Level> level, const Start& start, std::unique_ptr<World> ready)
    : level_(std::move(level)),
      world_(ready ? std::move(ready) : std::make_unique<World>(*level_)),
      mover_(*world_, limitsOf(*level_)) {
    const double radius = level_->inCraft ? level_->craft.radius : level_->walker.radius;
    const double height = level_->inCraft ? 2 * radius : level_->walker.height;
    player_.capsule = {radius, std::max(height, 2 * radius)};
    player_.footing.feet = start.feet + Vec3(0, 2e-3, 0);
    player_.yawDegrees = player_.heading = start.yawDegrees;
    before_.yaw = hundredths(start.yawDegrees);
    inputs_.scene = trace_.scene = level_->scene->name();
    inputs_.start = start;
    firm_ = stoodAt_ = player_.footing.feet;
    highest_ = firm_.y;
    states_.resize(level_->things.size());
    for (std::size_t i = 0; i < states_.size(); ++i) {
        states_[i].quiet = world_->pose(i);
        trace_.tracks.push_back({level_->things[i].id, world_->pose(i), {}});
    }
    inZone_.resize(level_->zones.size());
    zoneIsThere_.assign(level_->zones.size(), true);
    for (const SoundAt& at : level_->sounds) soundSince_.push_back(at.sound.begins ? 0 : -1);
    makeCues();
    makeShots();
    courses_ = std::make_unique<Courses>(*level_->courses);
    world_->standWalker(player_.capsule, player_.footing.feet);
    add(What::Began, start.id);
    for (std::size_t course = 0; course < level_->courses->size(); ++course) tellStops(course);
    watchWalker();
}

Run::~Run() = default;

Entry& Run::add(What what, base::ObjectId object, base::ObjectId other) {
    Entry entry;
    entry.step = trace_.steps;
    entry.what = what;
    entry.object = object;
    entry.other = other;
    entry.at = player_.footing.feet;
    return trace_.entries.emplace_back(std::move(entry));
}

void Run::note(What what, base::ObjectId object, const std::string& text) {
    add(what, object).note = text;
}

bool Run::pressed(const Input& input, Input::Key key) const {
    return input.has(key) && !before_.has(key);
}

void Run::step(const Input& given) {
    if (ended_) return;
    Input input = given;
    for (std::int16_t* share : {&input.ahead, &input.side, &input.up})
        *share = std::clamp<std::int16_t>(*share, -100, 100);
    input.pitch = std::clamp(input.pitch, -8900, 8900);
    inputs_.steps.push_back(input);
    startDue();
    stepFollowing();
    const Vec3 from = player_.footing.feet;
    if (input.place && base::isFinite(*input.place)) {
        player_.footing = {};
        player_.footing.feet = *input.place + Vec3(0, 2e-3, 0);
        firm_ = player_.footing.feet;
        highest_ = firm_.y;
    }
    look(input);
    walkOn(input);
    act(input);
    holdOn();
    world_->standWalker(player_.capsule, player_.footing.feet);
    world_->step();
    ++trace_.steps;
    beHit();
    if (trace_.steps % kWatch == 0) {
        world_->setNear(player_.footing.feet, kFar);
        watchThings();
        watchZones();
        watchStill();
        watchWalker();
    }
    stepCourses(from, input.place.has_value());
    stepCues();
    stepShots();
    keepTracks();
    sumUp();
    before_ = input;
}

void Run::look(const Input& input) {
    player_.yawDegrees = degrees(input.yaw);
    player_.pitchDegrees = degrees(input.pitch);
    const double eye = player_.ducked
                           ? std::max(level_->walker.duckedHeight - (level_->walker.height - level_->walker.eyeHeight),
                                      player_.capsule.radius)
                           : level_->walker.eyeHeight;
    player_.eye = player_.footing.feet + Vec3(0, level_->inCraft ? player_.capsule.height * 0.6 : eye, 0);
}

void Run::walkOn(const Input& input) {
    mover_.ride(player_.footing, player_.capsule);
    if (!mover_.freeItself(player_.footing, player_.capsule) && trace_.steps - lastHit_ > kStepsPerSecond) {
        lastHit_ = trace_.steps;
        add(What::Hit).note = "stuck in something";
    }
    if (level_->inCraft) return flyOn(input);
    duck(input);
    const double deep = waterAbove(player_.footing.feet);
    const bool swam = player_.swims;
    player_.swims = deep > (swam ? 0.55 : 0.65) * level_->walker.height;
    if (player_.swims) return swim(input);
    if (swam) player_.footing.onGround = false;
    onFoot(input);
}

void Run::sumUp() {
    std::uint64_t sum = trace_.sum();
    for (int k = 0; k < 3; ++k) {
        mix(sum, player_.footing.feet[k]);
        mix(sum, player_.footing.velocity[k]);
    }
    for (std::size_t i = 0; i < states_.size(); ++i)
        if (world_->isAwake(i)) mix(sum, world_->pose(i));
    if (toldByCues_ > 0) mix(sum, static_cast<double>(toldByCues_));
    trace_.sums.push_back(sum);
}

Run::Does Run::doesNow(std::size_t thing) const {
    if (player_.holds == static_cast<std::int32_t>(thing)) return Does::IsHeld;
    if (states_[thing].gone || world_->isOut(thing)) return Does::IsGone;
    if (world_->isWaiting(thing)) return Does::Waits;
    if (level_->things[thing].isGuided()) return world_->isUnderWay(thing) ? Does::IsMoved : Does::Rests;
    constexpr double kStill = 0.05;  // metres a second: what leans on something trembles
    const bool isAwake = level_->things[thing].isLoose() && world_->isAwake(thing);
    return isAwake && glm::length(world_->velocity(thing)) > kStill ? Does::Moves : Does::Rests;
}

bool Run::isQuiet() const {
    if (!due_.empty() || !following_.empty() || cues_->isWaiting()) return false;
    for (std::size_t i = 0; i < states_.size(); ++i)
        if (world_->isAwake(i)) return false;
    return true;
}

void Run::end(const std::string& why) {
    if (ended_) return;
    ended_ = true;
    tellStood();
    add(What::Ended).note = why;
}

Trace replay(std::shared_ptr<const Level> level, const Inputs& inputs, double seconds, base::Progress* progress) {
    Run run(std::move(level), inputs.start);
    Input still = inputs.steps.empty() ? Input{} : inputs.steps.back();
    still.ahead = still.side = still.up = 0;
    still.keys = 0;
    still.place.reset();
    const std::size_t more = static_cast<std::size_t>(seconds * kStepsPerSecond), all = inputs.steps.size() + more;
    for (std::size_t i = 0; i < all && (progress == nullptr || !progress->cancelled()); ++i) {
        run.step(i < inputs.steps.size() ? inputs.steps[i] : still);
        if (progress != nullptr) progress->add(1.0 / static_cast<double>(all));
    }
    run.end();
    return run.trace();
}

}  // namespace rehearse
