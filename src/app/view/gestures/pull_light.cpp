// A light’s reach and the cones of a spot, pulled by their grips.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"
#include "app/view/pixels.h"
#include "ops/lights.h"

namespace app {
namespace {

struct LightGrips {
    using Grip = ops::LightGrip;
    using Now = model::Light;
    static constexpr const char* kStep = "Pull light";
    static constexpr bool kAnew = false;
    static std::vector<Grip> grips(const ViewContext& view) {
        const Slot slot = onlySelected(view);
        return slot == kNoSlot ? std::vector<Grip>{} : ops::lightGrips(view.editor.scene(), slot);
    }
    static base::Vec3 place(const Grip& grip) { return grip.at; }
    static bool isSame(const Grip& a, const Grip& b) { return a.pulls == b.pulls; }
    static QString hint(const Grip& grip, bool) {
        return grip.pulls == Grip::Pulls::Reach
                   ? InView::tr("Drag: how far the light reaches · Shift: fine · G: off the steps · Esc: let go")
                   : InView::tr("Drag: how wide the cone is · Shift: fine · G: off the steps · Esc: let go");
    }
    static std::optional<base::Vec3> target(ViewContext& view, const Grip& grip, const model::Scene& before,
                                            base::ObjectId id) {
        const base::Vec3 centre = before.world(before.find(id)).translation;
        if (grip.pulls == Grip::Pulls::Reach) return nearestOnLine(view.rayAt(view.pointer), centre, grip.along);
        return onPlane(view, view.pointer, centre, grip.along);
    }
    static Now now(const ViewContext& view, const Grip& grip, const model::Scene& before, base::ObjectId id,
                   const base::Vec3& to, const render::Steps& steps) {
        (void)view;
        return ops::pulledLight(before, before.find(id), grip, to, steps.metres, steps.degrees);
    }
    static base::Status apply(const ViewContext&, edit::Draft& draft, const Grip&, base::ObjectId id, const Now& now) {
        return ops::setLight(draft, id, now);
    }
    static void paint(QPainter& p, const ViewContext& view, const Grip& grip, const QPointF& at, bool lit) {
        const Theme& theme = view.editor.theme();
        p.setPen(QPen(lit ? theme.text : theme.window, 1.5));
        p.setBrush(theme.lemon);
        const double r = lit ? 7 : 5.5;
        if (grip.pulls == Grip::Pulls::Reach)
            p.drawEllipse(at, r, r);
        else
            p.drawPolygon(QPolygonF{{at.x(), at.y() - r}, {at.x() + r, at.y() + r}, {at.x() - r, at.y() + r}});
    }
    static void paintPull(QPainter& p, const ViewContext& view, const Grip& grip, base::ObjectId id) {
        const model::Scene& scene = view.editor.scene();
        const Slot slot = scene.find(id);
        const auto* light = slot == kNoSlot ? nullptr : scene.facet<model::Light>(slot);
        if (light == nullptr) return;
        const QString says =
            grip.pulls == Grip::Pulls::Reach   ? InView::tr("reaches %1").arg(view.editor.length(light->reachMetres))
            : grip.pulls == Grip::Pulls::Outer ? InView::tr("ends at %1°").arg(fixed(light->outerDegrees, 1))
                                               : InView::tr("full to %1°").arg(fixed(light->innerDegrees, 1));
        view.note(p, view.pointer + QPointF(16, -14), says);
    }
};

}  // namespace

GesturePtr pullLight(ViewContext& view) {
    return std::make_unique<GripGesture<LightGrips>>(view);
}

}  // namespace app
