#pragma once
// A guided thing on its way along a route: straight to where that begins, then along it with the speed and the waits
// that its points say, so many laps, and from forks on to other routes. Values.
#include <functional>
#include <memory>
#include <vector>

#include "query/pace.h"
#include "query/route_network.h"
#include "rehearse/level.h"
#include "shape/curve.h"

namespace rehearse {

/// A route as a level has it, and where it leads on.
struct RouteWay {
    model::Route route;
    shape::Curve curve;
    query::Pace pace;
    std::vector<std::pair<query::Branch, std::size_t>>
        branches;  ///< with the place of what they lead to in the network
};
using Network = std::vector<RouteWay>;  ///< the route that one begins on first
Network networkOf(const model::Scene& scene, model::Slot route);

class Following {
  public:
    /// `from`: where the thing is. It keeps how it is turned against the way. `seed`: with the same it goes the same
    /// ways at forks.
    Following(std::shared_ptr<const Network> ways, const Pose& from, std::uint64_t seed);
    /// Where it is a step later; `isMet` says which goals are. After the last lap it stays, and isOver().
    Pose step(const std::function<bool(base::ObjectId goal)>& isMet);
    bool isOver() const { return over_; }
    /// The route that it is on, by its place in the network.
    std::size_t way() const { return way_; }

  private:
    const RouteWay& on() const { return (*ways_)[way_]; }
    Pose now() const;
    void enter(std::size_t way, double metres, const Pose& from);
    bool passPoint(const std::function<bool(base::ObjectId goal)>& isMet);
    bool turnsOff(std::size_t point, const std::function<bool(base::ObjectId goal)>& isMet);
    bool isLastLap() const;

    std::shared_ptr<const Network> ways_;  // shared with the effect that set it going
    std::size_t way_ = 0;
    Pose from_;
    base::Quat turned_{1, 0, 0, 0};  ///< against the way
    double metres_ = 0;              ///< along it
    double toGo_ = 0;                ///< straight, until it is there
    double speed_ = 0;               ///< now
    double waits_ = 0;               ///< seconds that are left
    std::size_t next_ = 0;           ///< the point that comes next
    std::int64_t lap_ = 1;
    std::uint64_t chance_;
    bool over_ = false;
};

}  // namespace rehearse
