#include "app/view/route_lines.h"

#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "query/route.h"

namespace app {

std::optional<OnRoute> onRoute(const ViewContext& view, Slot route, const QPointF& pixel, double within) {
    constexpr std::size_t kMostPoints = 2000;
    const auto* is = view.editor.scene().detail(route) ? view.editor.scene().facet<model::Route>(route) : nullptr;
    if (is == nullptr || is->points.size() > kMostPoints) return std::nullopt;
    const shape::Curve curve = query::curveOf(view.editor.scene(), route);
    std::optional<OnRoute> best;
    double nearest = within;
    const std::vector<double> corners = curve.corners(0.05);
    std::optional<QPointF> before;
    for (std::size_t i = 0; i < corners.size(); ++i) {
        const bool isBack = curve.isClosed() && i + 1 == corners.size();
        const auto at = view.pixelOf(curve.at(isBack ? 0 : corners[i]));
        if (before && at) {
            const QPointF way = *at - *before, to = pixel - *before;
            const double length2 = QPointF::dotProduct(way, way);
            const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(to, way) / length2, 0.0, 1.0) : 0;
            const QPointF off = to - way * t;
            if (const double away = std::hypot(off.x(), off.y()); away < nearest) {
                nearest = away;
                best = OnRoute{corners[i - 1] + (corners[i] - corners[i - 1]) * t, away};
            }
        }
        before = at;
    }
    return best;
}

Slot routeUnder(const ViewContext& view, const QPointF& pixel) {
    constexpr double kReach = 5;
    Slot found = kNoSlot;
    double nearest = kReach;
    for (const Slot s : view.stage.marked()) {
        if (!view.editor.scene().alive(s) || !view.editor.isPickable(s)) continue;
        if (const auto on = onRoute(view, s, pixel, nearest)) nearest = on->pixels, found = s;
    }
    return found;
}

}  // namespace app
