#include "app/view/gestures/route_point.h"

#include <algorithm>

#include "app/names.h"
#include "app/view/gestures/all.h"
#include "ops/routes.h"

namespace app {

std::vector<RoutePointGrip> RoutePointGrips::grips(const ViewContext& view) {
    constexpr std::size_t kMost = 2000;
    std::vector<Grip> all;
    const model::Scene& scene = view.editor.scene();
    const Slot slot = onlySelected(view);
    const auto* route = slot == kNoSlot || !scene.detail(slot) ? nullptr : scene.facet<model::Route>(slot);
    for (std::size_t i = 0; route != nullptr && i < std::min(route->points.size(), kMost); ++i)
        all.push_back({i, scene.world(slot).point(route->points[i].at)});
    return all;
}

QString RoutePointGrips::hint(const Grip&, bool held) {
    return held ? InView::tr("Drag: over surfaces · hold 1 corner, 2 edge, 3 face, 6 end: catch · Esc: let go")
                : InView::tr("Drag: move this point of the route · Shift: fine · hold 1 2 3 4 6: catch");
}

std::optional<base::Vec3> RoutePointGrips::target(ViewContext& view, const Grip& grip, const model::Scene&,
                                                  base::ObjectId) {
    const auto at = view.caughtOrLanding(view.pointer);
    return at ? at : onPlane(view, view.pointer, grip.at, {0, 1, 0});
}

base::Vec3 RoutePointGrips::now(const ViewContext& view, const Grip&, const model::Scene&, base::ObjectId,
                                const base::Vec3& to, const render::Steps& steps) {
    return onLattice(view, to, steps);
}

base::Status RoutePointGrips::apply(const ViewContext&, edit::Draft& draft, const Grip& grip, base::ObjectId id,
                                    const Now& now) {
    return ops::moveRoutePoint(draft, id, grip.index, now);
}

void RoutePointGrips::paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
    const bool chosen = view.editor.chosenPoint() == grip.index;
    p.setPen(QPen(lit || chosen ? view.editor.theme().text : view.editor.theme().window, 1.5));
    p.setBrush(lit || chosen ? view.editor.theme().honey : view.editor.theme().dim);
    const double r = lit ? 6.5 : 5;
    p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r));
}

GesturePtr moveRoutePoint(ViewContext& view) {
    return std::make_unique<MoveRoutePoint>(view);
}

}  // namespace app
