#include "app/view/route_lines.h"

#include <algorithm>
#include <cmath>

#include "app/names.h"
#include "app/view/view_context.h"
#include "query/route.h"

namespace app {

namespace {

/// Everywhere, from point to point.
bool isAsWide(const model::Route& now, const model::Route* before) {
    return before != nullptr && now.width == before->width &&
           std::ranges::equal(now.points, before->points, {}, &model::RoutePoint::width, &model::RoutePoint::width);
}

}  // namespace

const RouteLines::Line& RouteLines::of(const model::Scene& scene, Slot route) {
    constexpr std::size_t kMostKept = 256;
    if (lines_.size() > kMostKept) lines_.clear();  // those of routes that are gone with them
    Line& is = lines_[route];
    if (is.detail == scene.detail(route) && is.world == scene.world(route)) return is;
    const model::Route& facet = *scene.facet<model::Route>(route);
    shape::Curve curve = query::curveOf(facet, scene.world(route), &is.curve);
    // What is as it was, and as wide, stays: a long route is dragged at one end.
    const bool isLike = is.detail && isAsWide(facet, is.detail->get<model::Route>());
    const double end = curve.length();
    const shape::Curve::Same same = isLike ? curve.sameAs(is.curve) : shape::Curve::Same{0, end, is.curve.length()};
    constexpr double kHere = 1e-7;  // metres: what was moved along is as exact as adding is
    const auto placeOf = [&](double metres) {
        return std::ranges::lower_bound(is.metres, metres - kHere) - is.metres.begin();
    };
    const auto from = placeOf(same.until), to = same.now < end ? placeOf(same.then) : std::ssize(is.metres);
    for (auto i = to; i < std::ssize(is.metres); ++i) is.metres[static_cast<std::size_t>(i)] += same.now - same.then;
    is.detail = scene.detail(route);
    is.world = scene.world(route);
    is.curve = std::move(curve);
    const Line fresh = part(is.curve, facet, same.until, same.now);
    const auto put = [&](auto& all, const auto& some) {
        all.erase(all.begin() + from, all.begin() + to);
        all.insert(all.begin() + from, some.begin(), some.end());
    };
    put(is.metres, fresh.metres);
    put(is.way, fresh.way);
    put(is.left, fresh.left);
    put(is.right, fresh.right);
    return is;
}

RouteLines::Line RouteLines::part(const shape::Curve& curve, const model::Route& facet, double from, double to) {
    Line is;
    for (const shape::Curve::Sample& sample : curve.samples(0.03, 1e9, from, to)) {
        is.metres.push_back(sample.metres);
        is.way.push_back(sample.at);
        const double level = std::hypot(sample.way.x, sample.way.z);
        const base::Vec3 right =
            level < 1e-9 ? base::Vec3(-1, 0, 0) : base::Vec3(-sample.way.z, 0, sample.way.x) / level;
        const base::Vec3 half = right * (query::widthAt(facet, curve, sample.metres) / 2);
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
