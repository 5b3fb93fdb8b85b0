#pragma once
#include <string>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "model/facet.h"

namespace model {

/// Where a route goes through, or turns.
struct RoutePoint {
    enum class Bend : std::uint8_t { Smooth, Round, Corner };  // as shape/curve.h has them
    base::Vec3 at{0.0};                                        ///< own axes of the object, metres
    Bend bend = Bend::Smooth;
    double radius = 4;                  ///< of a round one
    std::optional<base::Vec3> tangent;  ///< of a smooth one, own axes; nothing: as its neighbours lie
    bool straight = false;              ///< the leg from here on
    double width = 0, speed = 0;        ///< from here on; 0: the route's
    double waits = 0;                   ///< seconds that a carrier stays here
    Unknown unknown;
    friend bool operator==(const RoutePoint&, const RoutePoint&) = default;
};

/// An object that stands on a route and is passed, in an explicit order.
struct RouteStop {
    enum class Passed : std::uint8_t { Forwards, Backwards, EitherWay };
    base::ObjectId object;
    Passed passed = Passed::Forwards;
    base::Vec3 size{4, 3, 1};  ///< of the volume that one passes through: across, high, along; metres
    Unknown unknown;
    friend bool operator==(const RouteStop&, const RouteStop&) = default;
};

/// Where another route goes on from a point of this one.
struct RouteFork {
    std::int64_t point = 1;  ///< by its number, from 1
    base::ObjectId to;       ///< an object with a route: it is joined where that is nearest
    double share = 1;        ///< how often, against the others of that point and going on
    base::ObjectId goal;     ///< it is open once this one is met; nothing: always
    Unknown unknown;
    friend bool operator==(const RouteFork&, const RouteFork&) = default;
};

/// A course drawn once: what follows it, and what stands along it, takes all from here.
struct Route {
    static constexpr std::size_t kMostPoints = 100'000, kMostStops = 10'000, kMostForks = 1000;
    std::vector<RoutePoint> points;
    std::vector<RouteStop> stops;
    std::vector<RouteFork> forks;
    bool closed = false;
    std::int64_t laps = 1;  ///< of a closed one
    double width = 2, height = 2.5, speed = 1.4;
    double gains = 0;   ///< speed in a second, and loses as much before it stands; 0: at once
    std::string tells;  ///< the property of its stops that in play is "waiting", "next" or "passed"; empty: none
    base::Vec3 colour{0.86, 0.6, 0.2};
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Route&, const Route&) = default;
};

}  // namespace model
