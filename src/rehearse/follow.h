#pragma once
// A guided thing on its way along a route: straight to where that begins, then along it with the speed and the waits
// that its points say, so many laps. Values.
#include <memory>

#include "model/facets/route.h"
#include "rehearse/level.h"
#include "shape/curve.h"

namespace rehearse {

/// A route as a level has it.
struct RouteWay {
    model::Route route;
    shape::Curve curve;
};

class Following {
  public:
    /// `from`: where the thing is. It keeps how it is turned against the way.
    Following(std::shared_ptr<const RouteWay> way, const Pose& from);
    /// Where it is a step later. After the last lap it stays, and isOver().
    Pose step();
    bool isOver() const { return over_; }

  private:
    Pose now() const;

    std::shared_ptr<const RouteWay> way_;  // shared with the effect that set it going
    Pose from_;
    base::Quat turned_{1, 0, 0, 0};  ///< against the way
    double metres_ = 0;              ///< below 0: so far from the beginning yet
    double waits_ = 0;               ///< seconds that are left
    std::size_t next_ = 0;           ///< the point that comes next
    std::int64_t lap_ = 1;
    bool over_ = false;
};

}  // namespace rehearse
