// What is told of a run: who moved, rested, went in and out, stood long, was lost; and where all were when.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {
namespace {

constexpr double kLeft = 0.05;  // metres: what moved less did not move
constexpr double kStood = 5;    // seconds in one place that are told
constexpr double kStoodMetres = 0.5;
constexpr std::size_t kMostKeys = 1'500'000;  // of all tracks: beyond that every second one is dropped

}  // namespace

void Run::stopThing(std::size_t thing, const std::string& why, double speed) {
    states_[thing].gone = true;
    states_[thing].moving = false;
    Entry& entry = add(What::Stopped, level_->things[thing].id);
    entry.note = why;
    entry.amount = speed;
    entry.at = world_->pose(thing).at;
    world_->takeOut(thing);
}

void Run::watchThings() {
    for (std::size_t i = 0; i < states_.size(); ++i) {
        ThingState& state = states_[i];
        const Thing& thing = level_->things[i];
        if (state.gone || !world_->isMoved(i) || static_cast<std::int32_t>(i) == player_.holds) continue;
        const bool awake = world_->isAwake(i);
        if (!awake && !state.moving) continue;
        const Pose now = world_->pose(i);
        if (thing.isLoose()) {
            const double speed = glm::length(world_->velocity(i));
            if (!(speed <= kFlung)) {
                stopThing(i, fmt::format("flung at {:.0f} m/s", speed), speed);
                continue;
            }
            if (!level_->holds(now.at)) {
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

/// Where a thing counts as being: its middle; in water its foot, since what floats has its middle above.
Vec3 Run::placeIn(const ZoneAt& zone, std::size_t thing) const {
    Vec3 at = world_->pose(thing).at;
    if (zone.zone.water) at.y = world_->boundsOf(thing).low.y;
    return at;
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
        const std::int32_t of = level_->zones[z].thing;
        const bool there = of < 0 || states_[static_cast<std::size_t>(of)].there;
        const bool came = there && !zoneIsThere_[z];
        zoneIsThere_[z] = there;
        if (!there) {
            for (const std::int32_t who : std::exchange(inZone_[z], {}))
                add(What::Left, level_->zones[z].id,
                    who < 0 ? base::ObjectId{} : level_->things[static_cast<std::size_t>(who)].id);
            continue;
        }
        look(z, -1, walker);
        for (std::size_t i = 0; i < states_.size(); ++i)
            if (!states_[i].gone && world_->isMoved(i) && (came || states_[i].moving || world_->isAwake(i)))
                look(z, static_cast<std::int32_t>(i), placeIn(level_->zones[z], i));
    }
}

/// What falls out of the level is put back where it last stood.
void Run::watchWalker() {
    trace_.path.push_back({trace_.steps, player_.footing.feet, player_.yawDegrees, player_.pitchDegrees});
    const double speed = glm::length(player_.footing.velocity);
    const bool outside = !level_->holds(player_.footing.feet);
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

void Run::tellStood() {
    const double seconds = (trace_.steps - stoodSince_) * kStep;
    if (seconds < kStood) return;
    Entry& entry = add(What::Stood);
    entry.amount = seconds;
    entry.at = stoodAt_;
}

void Run::watchStill() {
    if (glm::length(player_.footing.feet - stoodAt_) <= kStoodMetres) return;
    tellStood();
    stoodAt_ = player_.footing.feet;
    stoodSince_ = trace_.steps;
}

void Run::keepTracks() {
    if (trace_.steps % keyEvery_ != 0) return;
    for (std::size_t i = 0; i < states_.size(); ++i) {
        if (!world_->isMoved(i)) continue;
        Track& track = trace_.tracks[i];
        const Pose now = world_->pose(i), &last = track.keys.empty() ? track.first : track.keys.back().pose;
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

}  // namespace rehearse
