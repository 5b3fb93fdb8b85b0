#include "app/view/gestures/move_point.h"

#include <algorithm>

#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/stage.h"
#include "model/facets/points.h"
#include "ops/facets.h"
#include "ops/routes.h"

namespace app {

namespace {

constexpr std::size_t kMostGrips = 2000;

/// The only selected object's; null: it has none.
template <class Facet>
const Facet* ofSelected(const ViewContext& view) {
    const Slot slot = onlySelected(view);
    return slot == kNoSlot ? nullptr : view.editor.scene().facet<Facet>(slot);
}

}  // namespace

QString OverSurfaces::hintOf(const QString& point, bool held) {
    return held ? InView::tr("Drag: over surfaces · hold 1 corner, 2 edge, 3 face, 5 route, 6 end: catch · Esc: let go")
                : InView::tr("Drag: move %1 over surfaces · Shift: fine · hold 1 2 3 4 5 6: catch").arg(point);
}

std::optional<base::Vec3> OverSurfaces::target(ViewContext& view, const Grip& grip, const model::Scene&,
                                               base::ObjectId) {
    const auto at = view.caughtOrLanding(view.pointer);
    return at ? at : onPlane(view, view.pointer, grip.at, {0, 1, 0});
}

base::Vec3 OverSurfaces::now(const ViewContext& view, const Grip&, const model::Scene&, base::ObjectId,
                             const base::Vec3& to, const render::Steps& steps) {
    return onLattice(view, to, steps);
}

std::vector<PointGrip> PointGrips::grips(const ViewContext& view) {
    std::vector<Grip> all;
    const auto* set = ofSelected<model::PointSet>(view);
    for (std::size_t i = 0; set != nullptr && i < std::min(set->points.size(), kMostGrips); ++i)
        all.push_back({i, ops::pointInWorld(view.editor.scene(), onlySelected(view), set->points[i])});
    return all;
}

base::Status PointGrips::apply(const ViewContext&, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                               const Now& now) {
    return ops::movePoint(draft, id, grip.index, now);
}

void PointGrips::paint(QPainter& p, const ViewContext& view, const Grip&, const QPointF& at, bool lit) {
    if (!lit) return;  // the points themselves are painted with those of other objects
    p.setPen(QPen(view.editor.theme().text, 2));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, 12, 12);
}

std::vector<PointGrip> RoutePointGrips::grips(const ViewContext& view) {
    std::vector<Grip> all;
    const auto* route = ofSelected<model::Route>(view);
    for (std::size_t i = 0; route != nullptr && i < std::min(route->points.size(), kMostGrips); ++i)
        all.push_back({i, view.editor.scene().world(onlySelected(view)).point(route->points[i].at)});
    return all;
}

base::Status RoutePointGrips::apply(const ViewContext&, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                                    const Now& now) {
    return ops::moveRoutePoint(draft, id, grip.index, now);
}

void RoutePointGrips::paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
    const bool chosen = lit || view.editor.chosenPoint() == grip.index;
    p.setPen(QPen(chosen ? view.editor.theme().text : view.editor.theme().window, 1.5));
    p.setBrush(chosen ? view.editor.theme().honey : view.editor.theme().dim);
    const double r = lit ? 6.5 : 5;
    p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r));
}

std::vector<PointGrip> RouteTangentGrips::grips(const ViewContext& view) {
    const auto* route = ofSelected<model::Route>(view);
    const std::size_t chosen = view.editor.chosenPoint();
    if (route == nullptr || chosen >= route->points.size() || route->points.size() < 2) return {};
    const model::RoutePoint& point = route->points[chosen];
    if (point.bend != model::RoutePoint::Bend::Smooth) return {};
    const base::Affine& world = view.editor.scene().world(onlySelected(view));
    const base::Vec3 at = world.point(point.at);
    base::Vec3 ahead;
    if (point.tangent) {
        ahead = world.direction(*point.tangent);
    } else {  // as it goes by itself
        const shape::Curve& curve = view.stage.routes().of(view.editor.scene(), onlySelected(view)).curve;
        ahead = curve.direction(curve.metresOf(chosen)) * std::min(curve.length() / 8, 2.0);
    }
    return {{0, at + ahead}, {1, at - ahead}};
}

QString RouteTangentGrips::hint(const Grip&, bool held) {
    return held ? InView::tr("Drag: which way it goes through the point, and how widely it bends · Esc: let go")
                : InView::tr("Drag: bend the route at its chosen point");
}

std::optional<base::Vec3> RouteTangentGrips::target(ViewContext& view, const Grip& grip, const model::Scene&,
                                                    base::ObjectId) {
    return onPlane(view, view.pointer, grip.at, {0, 1, 0});
}

base::Status RouteTangentGrips::apply(const ViewContext& view, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                                      const Now& now) {
    return ops::bendRoute(draft, id, view.editor.chosenPoint(), now, grip.index == 1);
}

void RouteTangentGrips::paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
    const auto* route = ofSelected<model::Route>(view);
    if (route == nullptr || view.editor.chosenPoint() >= route->points.size()) return;
    const base::Vec3 point =
        view.editor.scene().world(onlySelected(view)).point(route->points[view.editor.chosenPoint()].at);
    p.setPen(QPen(view.editor.theme().honey, 1.2));
    view.line(p, point, grip.at);
    p.setPen(QPen(lit ? view.editor.theme().text : view.editor.theme().window, 1.5));
    p.setBrush(view.editor.theme().honey);
    const double r = lit ? 5.5 : 4;
    p.drawEllipse(at, r, r);
}

GesturePtr movePoint(ViewContext& view) {
    return std::make_unique<MovePoint>(view);
}
GesturePtr moveRoutePoint(ViewContext& view) {
    return std::make_unique<MoveRoutePoint>(view);
}
GesturePtr bendRoute(ViewContext& view) {
    return std::make_unique<BendRoute>(view);
}

}  // namespace app
