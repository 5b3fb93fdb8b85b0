#include "rehearse/run.h"

#include <fmt/format.h>

#include <algorithm>
#include <bit>
#include <cmath>

#include "rehearse/names.h"

namespace rehearse {
namespace {

constexpr double kFar = 150;    // metres from who walks: what is beyond waits
constexpr double kLeft = 0.05;  // metres: what moved less did not move
constexpr double kFlung = 50;   // metres a second
constexpr double kFell = 1.0;   // metres: less is a step down
constexpr double kStood = 5;    // seconds in one place that are told
constexpr double kStoodMetres = 0.5;
constexpr int kWatch = kStepsPerSecond / 10;
constexpr std::size_t kMostKeys = 1'500'000;  // of all tracks: beyond that every second one is dropped

bool isElsewhere(const Pose& a, const Pose& b, double metres, double turn) {
    return glm::length(a.at - b.at) > metres || std::abs(glm::dot(a.turn, b.turn)) < 1 - turn;
}

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

Run::Run(std::shared_ptr<const Level> level, const Start& start)
    : level_(std::move(level)), world_(*level_), mover_(world_, limitsOf(*level_)) {
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
        states_[i].quiet = states_[i].wanted = world_.pose(i);
        trace_.tracks.push_back({level_->things[i].id, world_.pose(i), {}});
    }
    inZone_.resize(level_->zones.size());
    world_.standWalker(player_.capsule, player_.footing.feet);
    add(What::Began, start.id);
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
    world_.standWalker(player_.capsule, player_.footing.feet);
    world_.step();
    ++trace_.steps;
    beHit();
    if (trace_.steps % kWatch == 0) {
        world_.setNear(player_.footing.feet, kFar);
        watchThings();
        watchZones();
        watchStill();
        watchWalker();
    }
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

/// How far below the surface of water a place is; 0: it is dry.
double Run::waterAbove(const Vec3& feet) const {
    double most = 0;
    for (const ZoneAt& zone : level_->zones)
        if (zone.zone.water && zone.holds(feet + Vec3(0, 0.02, 0))) most = std::max(most, zone.bounds.high.y - feet.y);
    return most;
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

/// Level, up to 1 long.
Vec3 Run::wayOf(const Input& input) const {
    const double yaw = base::radians(player_.yawDegrees);
    const Vec3 way = Vec3(std::sin(yaw), 0, -std::cos(yaw)) * (input.ahead / 100.0) +
                     Vec3(std::cos(yaw), 0, std::sin(yaw)) * (input.side / 100.0);
    return glm::length(way) > 1 ? glm::normalize(way) : way;
}

/// Under what is low it ducks by itself, and rises where there is room.
void Run::duck(const Input& input) {
    const model::Walker& walker = level_->walker;
    const double low = std::max(std::min(walker.duckedHeight, walker.height), 2 * walker.radius);
    if (low >= walker.height - 1e-6) return;
    const Capsule standing{walker.radius, std::max(walker.height, 2 * walker.radius)}, ducked{walker.radius, low};
    const auto becomes = [&](bool down) {
        player_.ducked = down;
        player_.capsule = down ? ducked : standing;
        if (!down || trace_.steps - lastDucked_ < kStepsPerSecond) return;
        lastDucked_ = trace_.steps;
        add(What::Ducked);
    };
    if (player_.ducked) {
        if (!input.has(Input::Duck) && mover_.hasRoom(standing, player_.footing.feet)) {
            // With a little way ahead, or it would bob up and down before what is low.
            if (mover_.hasRoom(standing, player_.footing.feet + wayOf(input) * 0.25)) becomes(false);
        }
        return;
    }
    if (input.has(Input::Duck)) return becomes(true);
    if (!player_.footing.onGround || (input.ahead == 0 && input.side == 0)) return;
    Vec3 way = wayOf(input);
    if (glm::length(way) < 1e-6) return;
    way = glm::normalize(way) * 0.12;
    const Vec3 from = player_.footing.feet + Vec3(0, walker.stepHeight * 0.5, 0);
    const auto met = world_.sweep({walker.radius, walker.height - walker.stepHeight * 0.5}, from, from + way);
    if (!met || met->thing >= 0 || met->point.y < player_.footing.feet.y + low) return;
    if (!world_.sweep({walker.radius, std::max(low - walker.stepHeight * 0.5, 2 * walker.radius)}, from, from + way))
        becomes(true);
}

void Run::onFoot(const Input& input) {
    const model::Walker& walker = level_->walker;
    Footing& at = player_.footing;
    const bool wades = waterAbove(at.feet) > 0.3 * walker.height;
    const double speed = (input.has(Input::Run) && !player_.ducked ? walker.runsPerSecond : walker.metresPerSecond) *
                         (player_.ducked ? 0.5 : 1) * (wades ? 0.6 : 1);
    const Vec3 wanted = wayOf(input) * speed, flat(at.velocity.x, 0, at.velocity.z), apart = wanted - flat;
    const double most = (at.onGround ? 40.0 : 8.0) * kStep;
    const Vec3 now = glm::length(apart) <= most ? wanted : flat + glm::normalize(apart) * most;
    at.velocity.x = now.x;
    at.velocity.z = now.z;
    if (at.onGround && pressed(input, Input::Jump) && walker.jumpHeight > 0) {
        constexpr double kGravity = 9.81;
        // What gravity takes before the first step is given on top.
        at.velocity.y = std::sqrt(2 * kGravity * walker.jumpHeight) + kGravity * kStep / 2;
        at.onGround = false;
        at.on = -1;
        add(What::Jumped);
    }
    if (!at.onGround) {
        highest_ = std::max(highest_, at.feet.y);
        if (const auto speedDown = mover_.fall(at, player_.capsule)) landed(*speedDown);
        return;
    }
    mover_.walk(at, player_.capsule);
    if (mover_.pushed() >= 0 && (mover_.pushed() != lastPushed_ || trace_.steps - lastPush_ > kStepsPerSecond))
        add(What::Pushed, level_->things[static_cast<std::size_t>(mover_.pushed())].id);
    if (mover_.pushed() >= 0) {
        lastPushed_ = mover_.pushed();
        lastPush_ = trace_.steps;
    }
    if (at.onGround) {
        highest_ = at.groundHeight;  // over an edge the feet come down before the fall begins
        if (at.on < 0) firm_ = at.feet;
    }
}

void Run::landed(double) {
    const double metres = highest_ - player_.footing.feet.y;
    if (metres >= kFell) add(What::Fell).amount = metres;
    highest_ = player_.footing.feet.y;
}

void Run::swim(const Input& input) {
    const model::Walker& walker = level_->walker;
    Footing& at = player_.footing;
    at.onGround = false;
    at.on = -1;
    highest_ = at.feet.y;
    const double yaw = base::radians(player_.yawDegrees), pitch = base::radians(player_.pitchDegrees);
    const Vec3 ahead(std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch));
    Vec3 way = ahead * (input.ahead / 100.0) + Vec3(std::cos(yaw), 0, std::sin(yaw)) * (input.side / 100.0);
    if (input.has(Input::Jump)) way.y += 1;
    if (input.has(Input::Duck)) way.y -= 1;
    if (glm::length(way) > 1) way = glm::normalize(way);
    Vec3 wanted = way * (walker.metresPerSecond * 0.6);
    // At rest the eyes come up out of the water.
    const double deep = waterAbove(at.feet);
    if (std::abs(way.y) < 0.2) wanted.y += std::clamp(deep - walker.eyeHeight * 0.9, -0.5, 0.5);
    at.velocity += (wanted - at.velocity) * std::min(1.0, 4 * kStep);
    if (input.has(Input::Jump) && input.ahead > 0 && deep < walker.eyeHeight)
        at.velocity.y = std::max(at.velocity.y, 2.2);
    (void)mover_.drift(at, player_.capsule);
}

void Run::flyOn(const Input& input) {
    const model::Craft& craft = level_->craft;
    Footing& at = player_.footing;
    const double change = craft.gains * kStep, wanted = craft.metresPerSecond * input.ahead / 100.0;
    player_.speed += std::clamp(wanted - player_.speed, -change, change);
    // A craft that stands does not turn about itself.
    const double grip = craft.flies ? 1.0 : std::min(std::abs(player_.speed) / 2, 1.0);
    const double turn = craft.turnDegrees * input.side / 100.0 * grip;
    player_.heading += turn * kStep * (player_.speed < 0 ? -1 : 1);
    if (player_.heading > 180) player_.heading -= 360;
    if (player_.heading < -180) player_.heading += 360;
    const double lean =
        craft.bankDegrees * input.side / 100.0 * std::min(std::abs(player_.speed) / craft.metresPerSecond, 1.0);
    player_.bank += (lean - player_.bank) * std::min(1.0, 4 * kStep);
    const double climb = craft.flies ? craft.climbDegrees * input.up / 100.0 : 0.0;
    player_.climb += (climb - player_.climb) * std::min(1.0, 3 * kStep);
    const double yaw = base::radians(player_.heading), pitch = base::radians(player_.climb);
    const Vec3 ahead(std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch));
    const double down = at.velocity.y;
    at.velocity = ahead * player_.speed;
    std::optional<double> hit;
    if (craft.flies) {
        hit = mover_.drift(at, player_.capsule);
        if (hit)
            player_.speed = std::clamp(glm::dot(at.velocity, ahead), -craft.metresPerSecond, craft.metresPerSecond);
    } else if (at.onGround) {
        const Vec3 from = at.feet;
        mover_.walk(at, player_.capsule);
        const double went = glm::dot(at.feet - from, Vec3(ahead.x, 0, ahead.z)) / kStep;
        if (std::abs(went) < std::abs(player_.speed) - 1) {
            hit = std::abs(player_.speed) - std::abs(went);
            player_.speed = went;
        }
    } else {
        at.velocity.y = down;
        highest_ = std::max(highest_, at.feet.y);
        if (const auto speed = mover_.fall(at, player_.capsule)) landed(*speed);
    }
    if (hit && *hit > 2 && trace_.steps - lastHit_ > kStepsPerSecond / 2) {
        lastHit_ = trace_.steps;
        add(What::Hit).amount = *hit;
    }
    firm_ = at.feet;
}

void Run::act(const Input& input) {
    const bool uses = pressed(input, Input::Use), takes = pressed(input, Input::Take),
               throws = pressed(input, Input::Throw);
    if (!uses && !takes && !throws) return;
    if (player_.holds >= 0 && (takes || throws)) {
        const double mass = world_.massOf(static_cast<std::size_t>(player_.holds));
        return letGo(throws ? level_->walker.throwSpeed / (1 + mass / 20) : 0);
    }
    const Focus seen = focus();
    if (seen.thing < 0) return;
    if (uses && seen.canUse) return use(static_cast<std::size_t>(seen.thing));
    if (takes && seen.canTake) take(static_cast<std::size_t>(seen.thing));
}

Focus Run::focus() const {
    Focus focus;
    if (level_->inCraft) return focus;
    const double yaw = base::radians(player_.yawDegrees), pitch = base::radians(player_.pitchDegrees);
    const Vec3 ahead(std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch));
    const auto met = world_.ray(player_.eye, player_.eye + ahead * level_->walker.reach);
    if (!met) return focus;
    const model::Slot slot = world_.slotOf(*met);
    const std::int32_t index = met->thing >= 0 ? met->thing : slot == model::kNoSlot ? -1 : level_->thingOf[slot];
    if (index < 0) return focus;
    const Thing& thing = level_->things[static_cast<std::size_t>(index)];
    focus.canUse = thing.use.has_value();
    focus.canTake = player_.holds < 0 && thing.isLoose() &&
                    world_.massOf(static_cast<std::size_t>(index)) <= level_->walker.carries &&
                    !(world_.isWaiting(static_cast<std::size_t>(index)) && thing.wakes == model::Body::Wakes::ByCue);
    if (!focus.canUse && !focus.canTake) return focus;
    focus.thing = index;
    focus.name = thing.name;
    if (focus.canUse) focus.words = thing.use->words;
    return focus;
}

void Run::use(std::size_t index) {
    const Thing& thing = level_->things[index];
    if (!thing.use) return;
    const model::Use& use = *thing.use;
    std::string stays;
    for (const std::size_t target : thing.moves) {
        const Thing& moved = level_->things[target];
        if (!moved.isGuided() || !world_.isMoved(target)) {
            if (use.turnDegrees != 0 || use.slide != Vec3(0.0))
                stays +=
                    (stays.empty() ? "" : ", ") + moved.name + (moved.isGuided() ? " has no shape" : " is not guided");
            continue;
        }
        ThingState& state = states_[target];
        const base::Quat turn = glm::angleAxis(base::radians(use.turnDegrees), Vec3(0, 1, 0));
        if (use.back && state.turned) {
            state.wanted = world_.firstPose(target);
            state.turned = false;
        } else {
            state.wanted = {state.wanted.at + state.wanted.turn * use.slide, glm::normalize(state.wanted.turn * turn)};
            state.turned = true;
        }
        due_.push_back({trace_.steps + static_cast<int>(std::lround(use.afterSeconds * kStepsPerSecond)), target,
                        state.wanted, use.seconds});
    }
    Entry& entry = add(What::Used, thing.id);
    entry.note = stays.empty() ? use.words : stays + ": it stays";
    entry.at = world_.isMoved(index) ? world_.pose(index).at : level_->scene->world(thing.slot).translation;
    startDue();
}

void Run::startDue() {
    for (const Due& due : due_)
        if (due.step <= trace_.steps) {
            world_.guide(due.thing, due.to, due.seconds);
            states_[due.thing].moving = true;
            add(What::Moved, level_->things[due.thing].id).at = world_.pose(due.thing).at;
        }
    std::erase_if(due_, [&](const Due& due) { return due.step <= trace_.steps; });
}

void Run::take(std::size_t thing) {
    world_.takeOut(thing);
    player_.holds = static_cast<std::int32_t>(thing);
    add(What::Taken, level_->things[thing].id).at = world_.pose(thing).at;
}

/// What is in the hand is before the eyes, turned as one turns.
void Run::holdOn() {
    if (player_.holds < 0) return;
    const auto thing = static_cast<std::size_t>(player_.holds);
    const double yaw = base::radians(player_.yawDegrees);
    const Vec3 ahead(std::sin(yaw), 0, -std::cos(yaw));
    const Vec3 size = world_.boundsOf(thing).size();
    const double radius = std::max(size.x, size.z) / 2;
    const Vec3 at = player_.eye + ahead * (player_.capsule.radius + 0.15 + radius) - Vec3(0, 0.35 + size.y / 2, 0);
    world_.hold(thing, {at, glm::angleAxis(-yaw, Vec3(0, 1, 0)) * world_.firstPose(thing).turn});
}

/// Before oneself, as far as there is room for it; thrown, along the look.
void Run::letGo(double speed) {
    const auto thing = static_cast<std::size_t>(player_.holds);
    const double yaw = base::radians(player_.yawDegrees), pitch = base::radians(player_.pitchDegrees);
    const Vec3 level(std::sin(yaw), 0, -std::cos(yaw));
    const Vec3 look(level.x * std::cos(pitch), std::sin(pitch), level.z * std::cos(pitch));
    const Vec3 size = world_.boundsOf(thing).size();
    const double radius = glm::length(size) / 2, out = player_.capsule.radius + radius + 0.05;
    const Vec3 from = player_.eye - Vec3(0, std::min(0.35, size.y / 2), 0);
    const auto met = world_.sweepBall(radius * 0.7, from, from + level * out);
    const Vec3 at = from + level * out * (met ? std::max(met->share - 0.02, 0.0) : 1.0);
    Pose pose = world_.pose(thing);
    pose.at = at;
    const Vec3 walks(player_.footing.velocity.x, 0, player_.footing.velocity.z);
    world_.putBack(thing, pose, walks + look * speed);
    // Between a wall and whoever lets go of it there may be no room: then it lies at one's feet.
    for (int i = 0; i < 8; ++i) {
        Vec3 off(0.0);
        for (const Meeting& overlap : world_.overlapsOf(thing)) off += overlap.normal * overlap.depth;
        if (glm::length(off) < 1e-4) break;
        pose.at += off;
        world_.takeOut(thing);
        world_.putBack(thing, pose, walks + look * speed);
    }
    player_.holds = -1;
    states_[thing].moving = true;
    Entry& entry = add(speed > 0 ? What::Thrown : What::PutDown, level_->things[thing].id);
    entry.amount = speed;
    entry.at = pose.at;
}

void Run::beHit() {
    for (const Bump& bump : world_.bumps()) {
        const base::ObjectId id = level_->things[bump.thing].id;
        if (!bump.byWalker) {
            Entry& entry = add(What::Bumped, id,
                               bump.other >= 0               ? level_->things[static_cast<std::size_t>(bump.other)].id
                               : bump.slot != model::kNoSlot ? level_->scene->id(bump.slot)
                                                             : base::ObjectId{});
            entry.amount = bump.speed;
            entry.at = bump.at;
            continue;
        }
        if (bump.speed < 1.5) continue;
        const double mass = world_.massOf(bump.thing);
        Vec3 away = player_.footing.feet + Vec3(0, player_.capsule.height / 2, 0) - world_.pose(bump.thing).at;
        away.y = 0;
        if (glm::length(away) > 1e-6)
            player_.footing.velocity += glm::normalize(away) * std::min(bump.speed * mass / (mass + 80), 6.0);
        Entry& entry = add(What::Hit, id);
        entry.amount = bump.speed;
        entry.at = bump.at;
    }
}

bool Run::goesOutside(const Vec3& at) const {
    const base::Aabb& box = level_->bounds;
    return !base::isFinite(at) || glm::any(glm::lessThan(at, box.low)) || glm::any(glm::greaterThan(at, box.high));
}

void Run::stopThing(std::size_t thing, const std::string& why, double speed) {
    states_[thing].gone = true;
    states_[thing].moving = false;
    Entry& entry = add(What::Stopped, level_->things[thing].id);
    entry.note = why;
    entry.amount = speed;
    entry.at = world_.pose(thing).at;
    world_.takeOut(thing);
}

void Run::watchThings() {
    for (std::size_t i = 0; i < states_.size(); ++i) {
        ThingState& state = states_[i];
        const Thing& thing = level_->things[i];
        if (state.gone || !world_.isMoved(i) || static_cast<std::int32_t>(i) == player_.holds) continue;
        const bool awake = world_.isAwake(i);
        if (!awake && !state.moving) continue;
        const Pose now = world_.pose(i);
        if (thing.isLoose()) {
            const double speed = glm::length(world_.velocity(i));
            if (!(speed <= kFlung)) {
                stopThing(i, fmt::format("flung at {:.0f} m/s", speed), speed);
                continue;
            }
            if (goesOutside(now.at)) {
                const bool below = now.at.y < level_->bounds.low.y;
                stopThing(i, below ? "fell out of the level" : "left the level", speed);
                continue;
            }
        }
        if (!state.moving && awake && isElsewhere(now, state.quiet, kLeft, 4e-3)) {
            state.moving = true;
            add(What::Moved, thing.id).at = now.at;
        } else if (state.moving && !awake) {
            state.moving = false;
            Entry& entry = add(What::Rested, thing.id);
            entry.amount = glm::length(now.at - state.quiet.at);
            entry.at = now.at;
        }
        if (!awake) state.quiet = now;
    }
}

void Run::watchZones() {
    const auto look = [&](std::size_t zone, std::int32_t who, const Vec3& at) {
        auto& in = inZone_[zone];
        const auto place = std::find(in.begin(), in.end(), who);
        const bool was = place != in.end(), is = level_->zones[zone].holds(at);
        if (was == is) return;
        const base::ObjectId id = who < 0 ? base::ObjectId{} : level_->things[static_cast<std::size_t>(who)].id;
        add(is ? What::Entered : What::Left, level_->zones[zone].id, id).at = at;
        if (is)
            in.push_back(who);
        else
            in.erase(place);
    };
    const Vec3 walker = player_.footing.feet + Vec3(0, player_.capsule.height / 2, 0);
    for (std::size_t z = 0; z < inZone_.size(); ++z) {
        look(z, -1, walker);
        for (std::size_t i = 0; i < states_.size(); ++i)
            if (!states_[i].gone && world_.isMoved(i) && (states_[i].moving || world_.isAwake(i)))
                look(z, static_cast<std::int32_t>(i), world_.pose(i).at);
    }
}

/// What falls out of the level is put back where it last stood.
void Run::watchWalker() {
    trace_.path.push_back({trace_.steps, player_.footing.feet, player_.yawDegrees, player_.pitchDegrees});
    const double speed = glm::length(player_.footing.velocity);
    const bool outside = goesOutside(player_.footing.feet);
    if (!outside && speed <= kFlung) return;
    Entry& entry = add(What::Stopped);
    entry.amount = speed;
    entry.note = outside ? (player_.footing.feet.y < level_->bounds.low.y ? "fell out of the level" : "left the level")
                         : fmt::format("flung at {:.0f} m/s", speed);
    player_.footing = {};
    player_.footing.feet = firm_;
    player_.speed = 0;
    highest_ = firm_.y;
}

void Run::watchStill() {
    if (glm::length(player_.footing.feet - stoodAt_) <= kStoodMetres) return;
    const double seconds = (trace_.steps - stoodSince_) * kStep;
    if (seconds >= kStood) {
        Entry& entry = add(What::Stood);
        entry.amount = seconds;
        entry.at = stoodAt_;
    }
    stoodAt_ = player_.footing.feet;
    stoodSince_ = trace_.steps;
}

void Run::keepTracks() {
    if (trace_.steps % keyEvery_ != 0) return;
    for (std::size_t i = 0; i < states_.size(); ++i) {
        if (!world_.isMoved(i)) continue;
        Track& track = trace_.tracks[i];
        const Pose now = world_.pose(i), &last = track.keys.empty() ? track.first : track.keys.back().pose;
        if (!isElsewhere(now, last, 1e-4, 1e-7)) continue;
        // It stood until now: else it would seem to creep there all the time.
        const int before = trace_.steps - keyEvery_;
        if (before > 0 && (track.keys.empty() || track.keys.back().step < before)) {
            track.keys.push_back({before, last});
            ++keyCount_;
        }
        track.keys.push_back({trace_.steps, now});
        ++keyCount_;
    }
    if (keyCount_ < kMostKeys) return;
    keyCount_ = 0;
    keyEvery_ *= 2;
    for (Track& track : trace_.tracks) {
        std::size_t kept = 0;
        for (std::size_t k = 0; k < track.keys.size(); k += 2) track.keys[kept++] = track.keys[k];
        track.keys.resize(kept);
        keyCount_ += kept;
    }
}

void Run::sumUp() {
    std::uint64_t sum = trace_.sum();
    for (int k = 0; k < 3; ++k) {
        mix(sum, player_.footing.feet[k]);
        mix(sum, player_.footing.velocity[k]);
    }
    for (std::size_t i = 0; i < states_.size(); ++i)
        if (world_.isAwake(i)) mix(sum, world_.pose(i));
    trace_.sums.push_back(sum);
}

bool Run::isQuiet() const {
    if (!due_.empty()) return false;
    for (std::size_t i = 0; i < states_.size(); ++i)
        if (world_.isAwake(i)) return false;
    return true;
}

void Run::end(const std::string& why) {
    if (ended_) return;
    ended_ = true;
    const double seconds = (trace_.steps - stoodSince_) * kStep;
    if (seconds >= kStood) {
        Entry& entry = add(What::Stood);
        entry.amount = seconds;
        entry.at = stoodAt_;
    }
    add(What::Ended).note = why;
}

std::optional<Vec3> standNear(const Level& level, const World& world, const Vec3& feet) {
    const Capsule capsule{level.walker.radius, std::max(level.walker.height, 2 * level.walker.radius)};
    const double least = std::cos(base::radians(level.walker.slopeDegrees)) - 1e-6;
    const auto standAt = [&](const Vec3& from) -> std::optional<Vec3> {
        const auto ground = world.ray(from, from - Vec3(0, 60, 0));
        if (!ground || ground->normal.y < least) return std::nullopt;
        const Vec3 at = ground->point + Vec3(0, 3e-3 + capsule.radius * (1 / ground->normal.y - 1), 0);
        const auto all = world.overlaps(capsule, at);
        const bool room = std::none_of(all.begin(), all.end(), [](const Meeting& met) { return met.depth > 5e-3; });
        return room ? std::optional(at) : std::nullopt;
    };
    for (const double up : {0.1, level.walker.stepHeight + 0.1, 2.5})
        if (const auto at = standAt(feet + Vec3(0, up, 0))) return at;
    for (double away = 0.5; away <= 8; away += 0.5)
        for (int way = 0; way < 12; ++way) {
            const double angle = 2 * base::kPi * way / 12;
            for (const double up : {0.3, 2.5})
                if (const auto at = standAt(feet + Vec3(std::cos(angle) * away, up, std::sin(angle) * away))) return at;
        }
    return std::nullopt;
}

std::vector<StartFault> startFaults(const Level& level, const World& world) {
    std::vector<StartFault> faults;
    if (level.starts.empty()) {
        StartFault fault;
        fault.text = "There is no start: place one, or begin at the pointer.";
        return {fault};
    }
    const Start& start = level.starts.front();
    const std::string name = level.nameOf(start.id);
    StartFault fault;
    fault.object = start.id;
    if (level.starts.size() > 1) {
        fault.what = StartFault::What::Several;
        fault.other = level.starts[1].id;
        fault.text = fmt::format("There are {} starts; it would begin at “{}”.", level.starts.size(), name);
        faults.push_back(fault);
    }
    fault.other = {};
    fault.mended = standNear(level, world, start.feet);
    const Capsule capsule{level.walker.radius, std::max(level.walker.height, 2 * level.walker.radius)};
    constexpr double kLow = 0.05, kInside = 0.03, kHigh = 0.5;  // metres
    for (const Meeting& met : world.overlaps(capsule, start.feet + Vec3(0, kLow, 0)))
        if (met.depth > kInside) {
            const model::Slot slot = world.slotOf(met);
            fault.what = StartFault::What::InsideSomething;
            if (slot != model::kNoSlot) fault.other = level.scene->id(slot);
            fault.text = fmt::format(
                "“{}” is inside {}.", name,
                slot == model::kNoSlot ? std::string("something") : fmt::format("“{}”", level.scene->nameText(slot)));
            faults.push_back(fault);
            return faults;
        }
    const auto ground = world.ray(start.feet + Vec3(0, 0.1, 0), start.feet - Vec3(0, 1000, 0));
    const double gap = ground ? ground->share * 1000.1 - 0.1 : 1000;
    if (gap <= kHigh || (level.inCraft && level.craft.flies)) return faults;
    fault.what = StartFault::What::InTheAir;
    fault.text = ground ? fmt::format("“{}” is {:.2f} m above the ground.", name, gap)
                        : fmt::format("Nothing is below “{}”.", name);
    faults.push_back(fault);
    return faults;
}

Trace replay(std::shared_ptr<const Level> level, const Inputs& inputs, double seconds) {
    Run run(std::move(level), inputs.start);
    for (const Input& input : inputs.steps) run.step(input);
    Input still = inputs.steps.empty() ? Input{} : inputs.steps.back();
    still.ahead = still.side = still.up = 0;
    still.keys = 0;
    still.place.reset();
    for (int i = 0; i < static_cast<int>(seconds * kStepsPerSecond); ++i) run.step(still);
    run.end();
    return run.trace();
}

}  // namespace rehearse
