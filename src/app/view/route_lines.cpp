#include "app/view/route_lines.h"

#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/view/view_context.h"
#include "query/route.h"

namespace app {

const RouteLines::Line& RouteLines::of(const model::Scene& scene, Slot route) {
    constexpr std::size_t kMostKept = 256;
    if (lines_.size() > kMostKept) lines_.clear();  // those of routes that are gone with them
    Line& is = lines_[route];
    if (is.detail == scene.detail(route) && is.world == scene.world(route)) return is;
    is = {scene.detail(route), scene.world(route), query::curveOf(scene, route), {}, {}, {}, {}};
    const model::Route& facet = *scene.facet<model::Route>(route);
    for (const shape::Curve::Sample& sample : is.curve.samples(0.03)) {
        is.metres.push_back(sample.metres);
        is.way.push_back(sample.at);
        const double level = std::hypot(sample.way.x, sample.way.z);
        const base::Vec3 right =
            level < 1e-9 ? base::Vec3(-1, 0, 0) : base::Vec3(-sample.way.z, 0, sample.way.x) / level;
        const base::Vec3 half = right * (query::widthAt(facet, is.curve, sample.metres) / 2);
        is.left.push_back(sample.at - half);
        is.right.push_back(sample.at + half);
    }
    return is;
}

std::optional<OnRoute> onRoute(const ViewContext& view, Slot route, const QPointF& pixel, double within) {
    if (view.editor.scene().facet<model::Route>(route) == nullptr) return std::nullopt;
    const RouteLines::Line& line = view.stage.routes().of(view.editor.scene(), route);
    std::optional<OnRoute> best;
    double nearest = within;
    std::optional<QPointF> before;
    for (std::size_t i = 0; i < line.way.size(); ++i) {
        const auto at = view.pixelOf(line.way[i]);
        if (before && at) {
            const QPointF way = *at - *before, to = pixel - *before;
            const double length2 = QPointF::dotProduct(way, way);
            const double t = length2 > 0 ? std::clamp(QPointF::dotProduct(to, way) / length2, 0.0, 1.0) : 0;
            const QPointF off = to - way * t;
            if (const double away = std::hypot(off.x(), off.y()); away < nearest) {
                nearest = away;
                best = OnRoute{line.metres[i - 1] + (line.metres[i] - line.metres[i - 1]) * t, away};
            }
        }
        before = at;
    }
    return best;
}

std::pair<Slot, OnRoute> routeNear(const ViewContext& view, const QPointF& pixel, double within,
                                   const std::function<bool(Slot)>& filter) {
    std::pair<Slot, OnRoute> found{kNoSlot, {0, within}};
    for (const Slot s : view.stage.marked())
        if (view.editor.scene().alive(s) && filter(s))
            if (const auto on = onRoute(view, s, pixel, found.second.pixels)) found = {s, *on};
    return found;
}

Slot routeUnder(const ViewContext& view, const QPointF& pixel) {
    constexpr double kReach = 5;
    return routeNear(view, pixel, kReach, [&](Slot s) { return view.editor.isPickable(s); }).first;
}

}  // namespace app
