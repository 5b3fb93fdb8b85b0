#include "app/view/gestures/move_point.h"

#include <algorithm>

#include "app/names.h"
#include "app/view/gestures/all.h"
#include "model/facets/points.h"
#include "ops/facets.h"

namespace app {

std::vector<PointGrip> PointGrips::grips(const ViewContext& view) {
    constexpr std::size_t kMost = 2000;
    std::vector<Grip> all;
    const model::Scene& scene = view.editor.scene();
    const Slot slot = onlySelected(view);
    const auto* set = slot == kNoSlot ? nullptr : scene.facet<model::PointSet>(slot);
    for (std::size_t i = 0; set != nullptr && i < std::min(set->points.size(), kMost); ++i)
        all.push_back({i, ops::pointInWorld(scene, slot, set->points[i])});
    return all;
}

QString PointGrips::hint(const Grip&, bool held) {
    return held ? InView::tr("Drag: over surfaces · hold 1 corner, 2 edge, 3 face, 6 end: catch · Esc: let go")
                : InView::tr("Drag: move this point over surfaces · Shift: fine · hold 1 2 3 4 6: catch");
}

std::optional<base::Vec3> PointGrips::target(ViewContext& view, const Grip& grip, const model::Scene&, base::ObjectId) {
    const auto at = view.caughtOrLanding(view.pointer);
    return at ? at : onPlane(view, view.pointer, grip.at, {0, 1, 0});
}

base::Vec3 PointGrips::now(const ViewContext& view, const Grip&, const model::Scene&, base::ObjectId,
                           const base::Vec3& to, const render::Steps& steps) {
    return onLattice(view, to, steps);
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

GesturePtr movePoint(ViewContext& view) {
    return std::make_unique<MovePoint>(view);
}

}  // namespace app
