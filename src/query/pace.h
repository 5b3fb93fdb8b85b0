#pragma once
// How fast one goes along a route: never faster than its legs say, gaining and losing speed as the route says, standing
// where it waits and at the ends of an open one. Values; metres, seconds; any thread.
#include <vector>

#include "model/facets/route.h"
#include "shape/curve.h"

namespace query {

class Pace {
  public:
    Pace() = default;
    Pace(const model::Route& route, const shape::Curve& curve);
    /// The most that it may be there.
    double at(double metres) const;
    /// Once along, without waits; of a closed one at the speed that it has when it comes round.
    double seconds() const;
    /// What it takes besides to begin a closed one from standing, and to stand in the end.
    double secondsToStand() const;
    /// Metres along of a point as one goes by it: the first is at the beginning, wherever it is rounded.
    static double placeOf(const shape::Curve& curve, std::size_t point);

  private:
    struct Leg {
        double from, length, speed;
        double first = 0, last = 0;  ///< squares of the speeds at its ends
    };
    void slowDown(std::vector<double>& most, int rounds) const;

    std::vector<Leg> legs_;
    double gains_ = 0;  ///< metres a second, in a second; 0: at once
};

}  // namespace query
