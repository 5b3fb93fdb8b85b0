#pragma once
// Routes as they are drawn, and where the pointer is on them.
#include <functional>
#include <optional>
#include <unordered_map>
#include <utility>
#include <vector>

#include "base/math.h"
#include "model/facets/route.h"
#include "model/scene.h"
#include "shape/curve.h"

class QPointF;

namespace app {

class ViewContext;

/// The lines of a scene's routes: each made anew only when the route is another one, or elsewhere.
class RouteLines {
  public:
    struct Line {
        model::DetailPtr detail;  ///< what it was made from
        base::Affine world;
        shape::Curve curve;
        std::vector<double> metres;           ///< of the places on it
        std::vector<base::Vec3> way;          ///< those places
        std::vector<base::Vec3> left, right;  ///< its edges beside them, as wide as it is there
    };
    /// Of an object with a route. It stays until the next one is asked for.
    const Line& of(const model::Scene& scene, model::Slot route);

  private:
    /// Places between two where pieces of the curve begin.
    static Line part(const shape::Curve& curve, const model::Route& route, double from, double to);
    std::unordered_map<model::Slot, Line> lines_;
};

struct OnRoute {
    double metres = 0, pixels = 0;  ///< along it; from it
};
/// The nearest place of a route's line within so many pixels; nothing: it is not there.
std::optional<OnRoute> onRoute(const ViewContext& view, model::Slot route, const QPointF& pixel, double within);
/// Of all routes that are shown and pass the filter, the one whose line is under a pixel, and where; kNoSlot: none.
std::pair<model::Slot, OnRoute> routeNear(const ViewContext& view, const QPointF& pixel, double within,
                                          const std::function<bool(model::Slot)>& filter);
/// The one that can be picked there.
model::Slot routeUnder(const ViewContext& view, const QPointF& pixel);

}  // namespace app
