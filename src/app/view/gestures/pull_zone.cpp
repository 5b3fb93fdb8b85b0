// The sides of a zone, pulled by their grips.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "app/view/pixels.h"
#include "base/text.h"
#include "model/facets/zone.h"
#include "ops/facets.h"

namespace app {
namespace {

struct ZoneGrips {
    using Grip = ops::ZoneGrip;
    using Now = ops::PulledZone;
    static constexpr const char* kStep = "Pull zone";
    static constexpr bool kAnew = false;
    static std::vector<Grip> grips(const ViewContext& view) {
        const Slot slot = onlySelected(view);
        return slot == kNoSlot ? std::vector<Grip>{} : ops::zoneGrips(view.editor.scene(), slot);
    }
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) {
        return a.axis == b.axis && a.way == b.way && a.corner == b.corner;
    }
    static QString hint(const Grip&, bool) {
        return InView::tr("Drag: pull this side of the zone · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go");
    }
    /// What is caught; else where the pointer is on the grip's line, or on its level.
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene&, base::ObjectId) {
        if (const auto& caught = view.catcher.look(view.pointer)) return caught->point;
        if (grip.along != base::Vec3(0.0)) return nearestOnLine(view.rayAt(view.pointer), grip.at, grip.along);
        return onPlane(view, view.pointer, grip.at, {0, 1, 0});
    }
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps) {
        return ops::pulledZone(before, before.find(id), grip, to, view.catcher.caught() ? 0 : steps.metres);
    }
    static base::Status apply(const ViewContext&, edit::Draft& draft, const Grip&, base::ObjectId id, const Now& now) {
        if (base::Status moved = draft.setTransforms({&id, 1}, {&now.local, 1}); !moved) return moved;
        return ops::setZone(draft, {&id, 1}, now.zone);
    }
    static void paint(QPainter& p, const ViewContext& view, const Grip&, const QPointF& at, bool lit) {
        p.setPen(QPen(lit ? view.editor.theme().text : view.editor.theme().window, 1.5));
        p.setBrush(view.editor.theme().honey);
        const double r = lit ? 7 : 5.5;
        p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r));
    }
    static void paintPull(QPainter& p, const ViewContext& view, const Grip&, base::ObjectId id) {
        const model::Scene& scene = view.editor.scene();
        const Slot slot = scene.find(id);
        const model::Zone* zone = slot == kNoSlot ? nullptr : scene.facet<model::Zone>(slot);
        if (zone == nullptr) return;
        const QString x = view.editor.length(zone->size.x);
        view.note(p, view.pointer + QPointF(16, -14),
                  zone->shape == model::Zone::Shape::Sphere
                      ? InView::tr("%1 across").arg(x)
                      : InView::tr("%1 × %2 × %3")
                            .arg(x, view.editor.length(zone->size.y), view.editor.length(zone->size.z)));
    }
};

}  // namespace

GesturePtr pullZone(ViewContext& view) {
    return std::make_unique<GripGesture<ZoneGrips>>(view);
}

}  // namespace app
