#pragma once
// Bodies that fall, slide, are moved and pushed: physics at a fixed 120 steps a second. The same level and the same
// calls give the same places, bit for bit.
// One thread. The level outlives it.
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "rehearse/level.h"

namespace rehearse {

/// An upright capsule by the place it stands on.
struct Capsule {
    double radius = 0.3, height = 1.8;  ///< metres; at least two radii high
};

/// What a thing, or who walks, has met.
struct Meeting {
    double share = 1;  ///< of the way, 0..1
    base::Vec3 point{0.0}, normal{0.0};
    std::int32_t thing = -1;            ///< of the level; -1: something that stands
    model::Slot slot = model::kNoSlot;  ///< of what stands, where that was asked for
    double depth = 0;                   ///< of an overlap, metres
};

/// Two met with a speed worth telling, in the last step.
struct Bump {
    std::size_t thing = 0;
    std::int32_t other = -1;  ///< another thing; -1: what stands, or the walker
    bool byWalker = false;
    model::Slot slot = model::kNoSlot;  ///< of what stands
    double speed = 0;                   ///< metres a second, at which they met
    base::Vec3 at{0.0};
};

class World {
  public:
    explicit World(const Level& level);
    ~World();
    World(const World&) = delete;
    World& operator=(const World&) = delete;

    /// One 120th of a second.
    void step();

    /// Has it a shape, so that it falls or is moved?
    bool isMoved(std::size_t thing) const;
    /// Of its middle of mass, or of the origin of what is guided.
    Pose pose(std::size_t thing) const;
    Pose firstPose(std::size_t thing) const;
    /// Where it will be once it has gone its way; and where it stood, had it only been carried.
    Pose aim(std::size_t thing) const;
    Pose home(std::size_t thing) const;
    /// From where it stood at the beginning to where it is.
    base::Affine motion(std::size_t thing) const;
    base::Vec3 velocity(std::size_t thing) const;
    double massOf(std::size_t thing) const;  ///< kilograms
    base::Aabb boundsOf(std::size_t thing) const;
    bool isAwake(std::size_t thing) const;
    /// Sleeps until it is bumped or told.
    bool isWaiting(std::size_t thing) const;
    void wake(std::size_t thing);
    /// As if it had come to rest: until it is bumped.
    void sleep(std::size_t thing);
    /// Newton seconds at a place.
    void push(std::size_t thing, const base::Vec3& impulse, const base::Vec3& at);
    /// Moves what is guided from where it is to `to`, slow at both ends or not; with what stands on it.
    void guide(std::size_t thing, const Pose& to, double seconds, bool steady = false);
    bool isUnderWay(std::size_t thing) const;
    /// How a guided thing takes along what is at a place, in one step.
    base::Vec3 carriedBy(std::size_t thing, const base::Vec3& at) const;
    /// Nothing meets it any more: it is in the hand, or was stopped.
    void takeOut(std::size_t thing);
    bool isOut(std::size_t thing) const;
    /// Where a thing in the hand is; also for what is shown of it.
    void hold(std::size_t thing, const Pose& at);
    void putBack(std::size_t thing, const Pose& at, const base::Vec3& velocity);
    const std::vector<Bump>& bumps() const { return bumps_; }
    /// How much of a thing is below water, 0..1.
    double wetShare(std::size_t thing) const;

    /// Who walks: others bump into it, and it moves only by this.
    void standWalker(const Capsule& capsule, const base::Vec3& feet);
    /// The first that such a body meets on its way; what it touches and leaves does not stop it.
    std::optional<Meeting> sweep(const Capsule& capsule, const base::Vec3& from, const base::Vec3& to) const;
    std::optional<Meeting> sweepBall(double radius, const base::Vec3& from, const base::Vec3& to) const;
    /// Everything that it overlaps there; normals lead out.
    std::vector<Meeting> overlaps(const Capsule& capsule, const base::Vec3& feet) const;
    /// The same of a thing where it is now, with all but itself.
    std::vector<Meeting> overlapsOf(std::size_t thing) const;
    std::optional<Meeting> ray(const base::Vec3& from, const base::Vec3& to) const;
    /// Which object something that stands belongs to.
    model::Slot slotOf(const Meeting& meeting) const;

    /// Nothing farther than this from `centre` is reckoned: it waits until one comes near.
    void setNear(const base::Vec3& centre, double metres);

  private:
    struct Own;
    std::unique_ptr<Own> own_;
    std::vector<Bump> bumps_;
};

}  // namespace rehearse
