#pragma once
// A carrier on its way along points: a look ahead at its movement, before anything is set in play. Values; any thread.
#include <optional>
#include <vector>

#include "model/scene.h"

namespace rehearse {

class Ride {
  public:
    /// From where `carrier` stands to each of the points of `path`, which may be itself, in their order. Errors by
    /// hasWay().
    Ride(const model::Scene& scene, model::Slot carrier, model::Slot path);
    bool hasWay() const { return metres_ > 0; }
    double metres() const { return metres_; }
    /// In the world, from where it stands to where it is after so many metres: gone along, and turned about up as its
    /// way has turned since it set out.
    base::Affine motionAt(double metres) const;

  private:
    base::Vec3 at(double metres) const;
    double headingAt(double metres) const;  // radians about up

    std::vector<base::Vec3> way_;
    std::vector<double> until_;  // metres from the first to each
    double metres_ = 0;
};

}  // namespace rehearse
