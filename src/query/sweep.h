#pragma once
// How far things can be moved before they touch something, and along what they slide then: by what others bump into.
// One thread; the scene and the index may change meanwhile only as far as the moved things themselves go.
#include <optional>
#include <set>
#include <span>
#include <vector>

#include "query/scene_index.h"

namespace query {

class Sweep {
  public:
    /// As deep as that is still touching, metres.
    static constexpr double kTouch = 1e-4;

    /// `tops` move with all below them, from where they stand now. What they lie in deeper than kTouch does not stop
    /// them as long as they are near it. `filter` says what may.
    Sweep(const model::Scene& scene, const SceneIndex& index, std::span<const model::Slot> tops, SlotFilter filter);
    ~Sweep();
    Sweep(Sweep&&) noexcept;

    struct Stop {
        double share = 1;  ///< of the way
        base::Vec3 normal{0.0};
        model::Slot moved = model::kNoSlot, on = model::kNoSlot;
    };
    /// Where they are stopped first that were moved by `from` and go on by `by`; nothing: nowhere.
    std::optional<Stop> firstStop(const base::Vec3& from, const base::Vec3& by) const;
    /// The same with no end to the way, up to `farthest` metres along a direction of unit length.
    std::optional<Stop> along(const base::Vec3& direction, double farthest) const;
    /// Where they come to from `from` when they should come to `to`: as far as they can, and along what stops them.
    /// `along`: the directions they may go in, as columns (zero for one they may not); nothing: all.
    base::Vec3 go(const base::Vec3& from, const base::Vec3& to, const std::optional<base::Mat3>& along = {});
    /// What stopped them in the last go().
    const std::vector<Stop>& stops() const { return stops_; }
    /// What has a shape of those that move.
    bool empty() const { return parts_.empty(); }

  private:
    void forgetWhatIsLeft(const base::Vec3& at);
    base::Vec3 stretch(const base::Vec3& from, const base::Vec3& by, const std::optional<base::Mat3>& along);

    const model::Scene& scene_;
    const SceneIndex& index_;
    SlotFilter filter_;
    struct Moved {
        model::Slot slot;
        const MeshIndex* mesh;
        base::Affine world, toOwn;
        base::Aabb bounds;
    };
    struct Pair;
    void gather(const base::Vec3& at, double reach) const;

    std::vector<Moved> parts_;
    /// What is near what, as long as they stay within a reach of where that was looked for.
    mutable std::vector<Pair> pairs_;
    mutable base::Vec3 gatheredAt_{0.0};
    mutable double reach_ = -1;
    std::set<std::pair<model::Slot, model::Slot>> within_;  // a part and what it lies in
    std::vector<Stop> stops_;
};

}  // namespace query
