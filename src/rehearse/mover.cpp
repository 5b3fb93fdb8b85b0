#include "rehearse/mover.h"

#include <algorithm>
#include <cmath>

#include "rehearse/names.h"

namespace rehearse {
namespace {
constexpr double kKept = 5e-4;       // metres that are kept from what is met
constexpr double kSnap = 1e-3;       // metres: so much higher than a step is the same step
constexpr double kPushedMost = 2.0;  // metres a second that what is loose is pushed on with, at most

Vec3 flat(const Vec3& v) {
    return {v.x, 0, v.z};
}

}  // namespace

Mover::Went Mover::go(const Capsule& capsule, const Vec3& from, const Vec3& by) const {
    const double length = glm::length(by);
    if (length < 1e-9) return {from, std::nullopt};
    auto met = world_.sweep(capsule, from, from + by * ((length + kKept) / length));
    if (!met) return {from + by, std::nullopt};
    const double share = std::max(met->share * (length + kKept) - kKept, 0.0) / length;
    met->share = std::min(share, 1.0);
    return {from + by * met->share, met};
}

void Mover::push(const Meeting& met, const Vec3& velocity) {
    if (met.thing < 0) return;
    const auto thing = static_cast<std::size_t>(met.thing);
    const Vec3 way = -flat(met.normal);
    const double mass = world_.massOf(thing);
    if (mass <= 0 || glm::length(way) < 1e-6) return;
    const Vec3 towards = glm::normalize(way);
    const double wanted =
        std::min(glm::dot(velocity, towards), kPushedMost) - glm::dot(world_.velocity(thing), towards);
    if (wanted <= 0) return;
    pushed_ = met.thing;
    world_.push(thing, towards * std::min(mass * wanted, limits_.force * kStep), met.point);
}

/// Level, along walls; nothing of it leads upwards.
Vec3 Mover::slideFlat(const Capsule& capsule, const Vec3& from, Vec3 by, const Vec3& velocity) {
    Vec3 at = from;
    const Vec3 wanted = by;
    for (int i = 0; i < 4 && glm::length(by) > 1e-7; ++i) {
        const Went went = go(capsule, at, by);
        at = went.feet;
        if (!went.met) break;
        push(*went.met, velocity);
        const Vec3 wall = flat(went.met->normal);
        if (glm::length(wall) < 1e-4) break;
        const Vec3 out = glm::normalize(wall);
        by *= 1 - went.met->share;
        by -= out * std::min(glm::dot(by, out), 0.0);
        if (glm::dot(by, wanted) <= 0) break;  // a corner: it would go back
    }
    return at;
}

/// Flat enough to stand on; of an edge, the surface that ends there.
bool Mover::isGround(const Meeting& met, const Vec3& feet) const {
    const double least = std::cos(base::radians(limits_.slopeDegrees)) - 1e-6;
    if (met.normal.y >= least) return true;
    if (met.normal.y < 0.05) return false;
    const Vec3 out = flat(met.point - feet);
    if (glm::length(out) < 1e-6) return false;
    const Vec3 above = met.point + glm::normalize(out) * 0.01 + Vec3(0, 0.03, 0);
    const auto surface = world_.ray(above, above - Vec3(0, 0.06, 0));
    return surface && surface->normal.y >= least;
}

/// Down onto ground that is no higher than that.
bool Mover::land(Footing& at, const Capsule& capsule, const Vec3& from, double down, double highest) const {
    const Went went = go(capsule, from, {0, -down, 0});
    if (!went.met || went.met->point.y > highest || !isGround(*went.met, went.feet)) return false;
    at.feet = went.feet;
    at.onGround = true;
    at.on = went.met->thing;
    at.groundHeight = went.met->point.y;
    at.velocity.y = 0;
    return true;
}

void Mover::ride(Footing& at, const Capsule& capsule) {
    if (!at.onGround || at.on < 0) return;
    const Vec3 by = world_.carriedBy(static_cast<std::size_t>(at.on), at.feet);
    if (glm::length(by) < 1e-12) return;
    // Up and down with it whatever happens; sideways as far as there is room.
    at.feet.y += by.y;
    at.groundHeight += by.y;
    at.feet = go(capsule, at.feet + Vec3(0, 2 * kKept, 0), flat(by)).feet - Vec3(0, 2 * kKept, 0);
}

bool Mover::freeItself(Footing& at, const Capsule& capsule) {
    for (int i = 0; i < 6; ++i) {
        Vec3 out(0.0);
        double deepest = 0;
        for (const Meeting& met : world_.overlaps(capsule, at.feet)) {
            if (met.depth < 1e-6) continue;
            deepest = std::max(deepest, met.depth);
            out += met.normal * met.depth;
        }
        if (deepest < 1e-6) return true;
        at.feet += out + (glm::length(out) > 1e-12 ? glm::normalize(out) * kKept : Vec3(0.0));
    }
    const auto left = world_.overlaps(capsule, at.feet);
    return std::all_of(left.begin(), left.end(), [](const Meeting& met) { return met.depth < 0.02; });
}

void Mover::walk(Footing& at, const Capsule& capsule) {
    pushed_ = -1;
    const Vec3 by = flat(at.velocity) * kStep, before = at.feet;
    const double highest = at.groundHeight + limits_.stepHeight + kSnap, floor = at.groundHeight;
    // Up as high as a step, on, and down again.
    const Vec3 raised = go(capsule, before, {0, limits_.stepHeight, 0}).feet;
    const double up = raised.y - before.y;
    const Vec3 over = slideFlat(capsule, raised, by, at.velocity);
    const double wanted = glm::length(by);
    const auto gained = [&](const Vec3& to) { return wanted > 1e-9 ? glm::dot(flat(to - before), by) / wanted : 0.0; };
    Footing stepped = at;
    const bool lands = land(stepped, capsule, over, up + limits_.stepHeight, highest);
    if (lands && gained(over) > wanted * 0.99) {
        at = stepped;
        return;
    }
    // What is there is too high, too steep, or too low overhead for a step: along it, then, on the level.
    const Vec3 along = slideFlat(capsule, before + Vec3(0, kKept, 0), by, at.velocity);
    Footing level = at;
    const bool stays = land(level, capsule, along, limits_.stepHeight + kKept, floor + limits_.stepHeight + kSnap);
    if (lands || stays) {
        at = lands && (!stays || gained(over) >= gained(along)) ? stepped : level;
        return;
    }
    if (glm::length(along - before) < 2 * kKept) {  // it cannot go there, and stays
        at.velocity = Vec3(0.0);
        return;
    }
    at.feet = along;
    at.onGround = false;
    at.on = -1;
    at.velocity = {(along.x - before.x) / kStep, 0, (along.z - before.z) / kStep};
}

std::optional<double> Mover::fall(Footing& at, const Capsule& capsule) {
    pushed_ = -1;
    at.velocity.y -= kGravity * kStep;
    const Vec3 before = at.feet;
    at.feet = slideFlat(capsule, at.feet, flat(at.velocity) * kStep, at.velocity);
    const double down = at.velocity.y * kStep;
    const Went went = go(capsule, at.feet, {0, down, 0});
    at.feet = went.feet;
    const Vec3 flatWent = flat(at.feet - before) / kStep;
    if (went.met && down < 0) {
        if (isGround(*went.met, at.feet)) {
            const double speed = -at.velocity.y;
            at.velocity = {flatWent.x, 0, flatWent.z};
            at.onGround = true;
            at.on = went.met->thing;
            at.groundHeight = went.met->point.y;
            return speed;
        }
        // Down along what is too steep; at its foot it may stand in a groove.
        const Vec3 n = went.met->normal, left(0, down * (1 - went.met->share), 0);
        const Went slid = go(capsule, at.feet, left - n * glm::dot(left, n));
        at.feet = slid.feet;
        if (glm::length(slid.feet - went.feet) < 1e-5 && slid.met) {
            at.onGround = true;
            at.on = went.met->thing;
            at.groundHeight = went.met->point.y;
            const double speed = -at.velocity.y;
            at.velocity.y = 0;
            return speed;
        }
        // It glides down, and goes no further into it; nothing of its way ahead leads up.
        const Vec3 wall = glm::length(flat(n)) > 1e-6 ? glm::normalize(flat(n)) : Vec3(0.0);
        const Vec3 ahead = flatWent - wall * std::min(glm::dot(flatWent, wall), 0.0), sinks(0, at.velocity.y, 0);
        at.velocity = ahead + sinks - n * std::min(glm::dot(sinks, n), 0.0);
    } else if (went.met) {
        at.velocity.y = std::min(at.velocity.y, 0.0);
    }
    return std::nullopt;
}

std::optional<double> Mover::drift(Footing& at, const Capsule& capsule) {
    pushed_ = -1;
    std::optional<double> hit;
    Vec3 by = at.velocity * kStep;
    for (int i = 0; i < 4 && glm::length(by) > 1e-7; ++i) {
        const Went went = go(capsule, at.feet, by);
        at.feet = went.feet;
        if (!went.met) break;
        push(*went.met, at.velocity);
        const Vec3 n = went.met->normal;
        hit = std::max(hit.value_or(0.0), -glm::dot(at.velocity, n));
        by *= 1 - went.met->share;
        by -= n * std::min(glm::dot(by, n), 0.0);
        at.velocity -= n * std::min(glm::dot(at.velocity, n), 0.0);
    }
    return hit;
}

bool Mover::hasRoom(const Capsule& capsule, const Vec3& feet) const {
    const auto all = world_.overlaps(capsule, feet + Vec3(0, 2 * kKept, 0));
    return std::none_of(all.begin(), all.end(), [](const Meeting& met) { return met.depth > 1e-4; });
}

}  // namespace rehearse
