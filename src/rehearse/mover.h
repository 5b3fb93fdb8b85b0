#pragma once
// How an upright body goes: over ground, up steps and down slopes, along walls, through air and water. Three sweeps a
// step, with rules of our own on what is ground.
// One thread. The world outlives it.
#include "rehearse/world.h"

namespace rehearse {

/// Where it is, and what it stands on.
struct Footing {
    base::Vec3 feet{0.0};
    base::Vec3 velocity{0.0};  ///< metres a second
    bool onGround = false;
    std::int32_t on = -1;     ///< the thing that it stands on; below 0: what stands
    double groundHeight = 0;  ///< of the place that carries it; an edge may be higher than its feet
};

class Mover {
  public:
    struct Limits {
        double stepHeight = 0.4, slopeDegrees = 45;
        double force = 350;  ///< newtons against what is loose
    };
    Mover(World& world, const Limits& limits) : world_(world), limits_(limits) {}

    /// Along with what it stands on.
    void ride(Footing& at, const Capsule& capsule);
    /// Out of what has come into it. False: there is no way out.
    bool freeItself(Footing& at, const Capsule& capsule);
    /// One step over ground with its velocity; off an edge it falls from then on. What is loose is pushed.
    void walk(Footing& at, const Capsule& capsule);
    /// One step through the air. How fast it came down, when it lands.
    std::optional<double> fall(Footing& at, const Capsule& capsule);
    /// One step any way it likes, along what is in the way. How fast it met something, when it did.
    std::optional<double> drift(Footing& at, const Capsule& capsule);
    bool hasRoom(const Capsule& capsule, const base::Vec3& feet) const;
    /// What was pushed in the last step; below 0: nothing.
    std::int32_t pushed() const { return pushed_; }

  private:
    struct Went {
        base::Vec3 feet;
        std::optional<Meeting> met;
    };
    Went go(const Capsule& capsule, const base::Vec3& from, const base::Vec3& by) const;
    base::Vec3 slideFlat(const Capsule& capsule, const base::Vec3& from, base::Vec3 by, const base::Vec3& velocity);
    void push(const Meeting& met, const base::Vec3& velocity);
    bool isGround(const Meeting& met, const base::Vec3& feet) const;
    bool land(Footing& at, const Capsule& capsule, const base::Vec3& from, double down, double highest) const;

    World& world_;
    Limits limits_;
    std::int32_t pushed_ = -1;
};

}  // namespace rehearse
