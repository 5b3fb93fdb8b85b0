// Which camera shows a run, and from where.
#include "rehearse/names.h"
#include "rehearse/run.h"

namespace rehearse {

class Run::Lens : public ShotStage {
  public:
    explicit Lens(const Run& run) : run_(run) {}
    bool isPlayerIn(std::int32_t zone) const override {
        // Not as zones were looked at last: in the first step they were not yet.
        const ZoneAt& at = run_.level_->zones[static_cast<std::size_t>(zone)];
        const bool there = at.thing < 0 || run_.states_[static_cast<std::size_t>(at.thing)].there;
        return there && at.holds(run_.player_.footing.feet + Vec3(0, run_.player_.capsule.height / 2, 0));
    }
    Stand player() const override {
        return {run_.player_.footing.feet, run_.level_->inCraft ? run_.player_.heading : run_.player_.yawDegrees};
    }
    base::Affine motion(std::int32_t thing) const override {
        const auto i = static_cast<std::size_t>(thing);
        return run_.world_->isMoved(i) ? run_.world_->motion(i) : base::Affine{};
    }
    bool isThere(std::int32_t thing) const override { return run_.states_[static_cast<std::size_t>(thing)].there; }
    std::optional<double> blocked(const Vec3& from, const Vec3& to) const override {
        const auto met = run_.world_->ray(from, to);
        return met ? std::optional(met->share * glm::length(to - from)) : std::nullopt;
    }

  private:
    const Run& run_;
};

void Run::makeShots() {
    lens_ = std::make_unique<Lens>(*this);
    shots_ = std::make_unique<Shots>(*level_->shots, *lens_);
}

void Run::stepShots() {
    if (level_->shots->empty() || !shots_->step()) return;
    const std::int32_t now = shots_->showing();
    add(What::Shown, now >= 0 ? (*level_->shots)[static_cast<std::size_t>(now)].camera : base::ObjectId{});
}

}  // namespace rehearse
