// How whoever walks goes: on foot, ducked, in water, in the craft.
#include <algorithm>
#include <cmath>

#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {
namespace {

constexpr double kFell = 1.0;  // metres: less is a step down

}  // namespace

/// How far below the surface of water a place is; 0: it is dry.
double Run::waterAbove(const Vec3& feet) const {
    double most = 0;
    for (const ZoneAt& zone : level_->zones)
        if (zone.zone.water && zone.holds(feet + Vec3(0, 0.02, 0))) most = std::max(most, zone.bounds.high.y - feet.y);
    return most;
}

/// Level, up to 1 long.
Vec3 Run::wayOf(const Input& input) const {
    const Vec3 way = directionOf(player_.yawDegrees) * (input.ahead / 100.0) +
                     directionOf(player_.yawDegrees + 90) * (input.side / 100.0);
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
    const auto met = world_->sweep({walker.radius, walker.height - walker.stepHeight * 0.5}, from, from + way);
    if (!met || met->thing >= 0 || met->point.y < player_.footing.feet.y + low) return;
    if (!world_->sweep({walker.radius, std::max(low - walker.stepHeight * 0.5, 2 * walker.radius)}, from, from + way))
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
        // What gravity takes before the first step is given on top.
        at.velocity.y = std::sqrt(2 * kGravity * walker.jumpHeight) + kGravity * kStep / 2;
        at.onGround = false;
        at.on = -1;
        add(What::Jumped);
    }
    if (!at.onGround) {
        highest_ = std::max(highest_, at.feet.y);
        if (mover_.fall(at, player_.capsule)) landed();
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

void Run::landed() {
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
    Vec3 way = directionOf(player_.yawDegrees, player_.pitchDegrees) * (input.ahead / 100.0) +
               directionOf(player_.yawDegrees + 90) * (input.side / 100.0);
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
    const Vec3 ahead = directionOf(player_.heading, player_.climb);
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
        if (mover_.fall(at, player_.capsule)) landed();
    }
    if (hit && *hit > 2 && trace_.steps - lastHit_ > kStepsPerSecond / 2) {
        lastHit_ = trace_.steps;
        add(What::Hit).amount = *hit;
    }
    firm_ = at.feet;
}

}  // namespace rehearse
