// What whoever walks does with things: look at, use, take, put down, throw; and what they do to them.
#include <algorithm>
#include <cmath>

#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {

void Run::act(const Input& input) {
    const bool uses = pressed(input, Input::Use), takes = pressed(input, Input::Take),
               throws = pressed(input, Input::Throw);
    if (!uses && !takes && !throws) return;
    if (player_.holds >= 0 && (takes || throws)) {
        const double mass = world_->massOf(static_cast<std::size_t>(player_.holds));
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
    const Vec3 ahead = directionOf(player_.yawDegrees, player_.pitchDegrees);
    const auto met = world_->ray(player_.eye, player_.eye + ahead * level_->walker.reach);
    if (!met) return focus;
    const model::Slot slot = world_->slotOf(*met);
    const std::int32_t index = met->thing >= 0 ? met->thing : slot == model::kNoSlot ? -1 : level_->thingOf[slot];
    if (index < 0) return focus;
    const Thing& thing = level_->things[static_cast<std::size_t>(index)];
    focus.canUse = thing.use.has_value();
    focus.canTake = player_.holds < 0 && thing.isLoose() &&
                    world_->massOf(static_cast<std::size_t>(index)) <= level_->walker.carries &&
                    !(world_->isWaiting(static_cast<std::size_t>(index)) && thing.wakes == model::Body::Wakes::ByCue);
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
    const bool moves = use.turnDegrees != 0 || use.slide != Vec3(0.0);
    for (const std::size_t target : thing.moves) {
        if (!moves) break;
        const Thing& moved = level_->things[target];
        if (!moved.isGuided() || !world_->isMoved(target)) {
            stays += (stays.empty() ? "" : ", ") + moved.name + (moved.isGuided() ? " has no shape" : " is not guided");
            continue;
        }
        ThingState& state = states_[target];
        const bool back = use.back && state.turned;
        state.turned = !back;
        due_.push_back({trace_.steps + static_cast<int>(std::lround(use.afterSeconds * kStepsPerSecond)), target, back,
                        use.slide, use.turnDegrees, use.seconds});
    }
    Entry& entry = add(What::Used, thing.id);
    entry.note = stays.empty() ? use.words : stays + ": it stays";
    entry.at = world_->isMoved(index) ? world_->pose(index).at : level_->scene->world(thing.slot).translation;
    startDue();
}

/// From where it goes, along its own axes and about its own up.
Pose Run::moved(std::size_t thing, const Vec3& slide, double turnDegrees) const {
    const Pose from = world_->aim(thing);
    return {from.at + from.turn * slide,
            glm::normalize(from.turn * glm::angleAxis(base::radians(turnDegrees), Vec3(0, 1, 0)))};
}

void Run::startDue() {
    for (const Due& due : due_)
        if (due.step <= trace_.steps) {
            world_->guide(due.thing, due.back ? world_->home(due.thing) : moved(due.thing, due.slide, due.turnDegrees),
                          due.seconds);
            states_[due.thing].moving = true;
            add(What::Moved, level_->things[due.thing].id).at = world_->pose(due.thing).at;
        }
    std::erase_if(due_, [&](const Due& due) { return due.step <= trace_.steps; });
}

void Run::take(std::size_t thing) {
    world_->takeOut(thing);
    player_.holds = static_cast<std::int32_t>(thing);
    add(What::Taken, level_->things[thing].id).at = world_->pose(thing).at;
}

/// What is in the hand is before the eyes, turned as one turns.
void Run::holdOn() {
    if (player_.holds < 0) return;
    const auto thing = static_cast<std::size_t>(player_.holds);
    const Vec3 ahead = directionOf(player_.yawDegrees);
    const Vec3 size = world_->boundsOf(thing).size();
    const double radius = std::max(size.x, size.z) / 2;
    const Vec3 at = player_.eye + ahead * (player_.capsule.radius + 0.15 + radius) - Vec3(0, 0.35 + size.y / 2, 0);
    world_->hold(
        thing, {at, glm::angleAxis(-base::radians(player_.yawDegrees), Vec3(0, 1, 0)) * world_->firstPose(thing).turn});
}

/// Before oneself, as far as there is room for it; thrown, along the look.
void Run::letGo(double speed) {
    const auto thing = static_cast<std::size_t>(player_.holds);
    const Vec3 level = directionOf(player_.yawDegrees);
    const Vec3 look = directionOf(player_.yawDegrees, player_.pitchDegrees);
    const Vec3 size = world_->boundsOf(thing).size();
    const double radius = glm::length(size) / 2, out = player_.capsule.radius + radius + 0.05;
    const Vec3 from = player_.eye - Vec3(0, std::min(0.35, size.y / 2), 0);
    const auto met = world_->sweepBall(radius * 0.7, from, from + level * out);
    const Vec3 at = from + level * out * (met ? std::max(met->share - 0.02, 0.0) : 1.0);
    Pose pose = world_->pose(thing);
    pose.at = at;
    const Vec3 walks(player_.footing.velocity.x, 0, player_.footing.velocity.z);
    world_->putBack(thing, pose, walks + look * speed);
    // Between a wall and whoever lets go of it there may be no room: then it lies at one's feet.
    for (int i = 0; i < 8; ++i) {
        Vec3 off(0.0);
        for (const Meeting& overlap : world_->overlapsOf(thing)) off += overlap.normal * overlap.depth;
        if (glm::length(off) < 1e-4) break;
        pose.at += off;
        world_->takeOut(thing);
        world_->putBack(thing, pose, walks + look * speed);
    }
    player_.holds = -1;
    states_[thing].moving = true;
    Entry& entry = add(speed > 0 ? What::Thrown : What::PutDown, level_->things[thing].id);
    entry.amount = speed;
    entry.at = pose.at;
}

void Run::beHit() {
    for (const Bump& bump : world_->bumps()) {
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
        const double mass = world_->massOf(bump.thing);
        Vec3 away = player_.footing.feet + Vec3(0, player_.capsule.height / 2, 0) - world_->pose(bump.thing).at;
        away.y = 0;
        if (glm::length(away) > 1e-6)
            player_.footing.velocity += glm::normalize(away) * std::min(bump.speed * mass / (mass + 80), 6.0);
        Entry& entry = add(What::Hit, id);
        entry.amount = bump.speed;
        entry.at = bump.at;
    }
}

}  // namespace rehearse
