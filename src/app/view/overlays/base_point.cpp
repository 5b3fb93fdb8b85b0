// A prefab's base: a ring on the level with a notch towards +X, and what it is.
#include <cmath>

#include "app/names.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class BasePoint : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void BasePoint::paint(QPainter& p) {
    if (!editor_.basePoint()) return;
    const auto centre = view_.pixelOf(*editor_.basePoint());
    if (!centre) return;
    const Theme& t = theme();
    const double reach = view_.metresPerPixel(*editor_.basePoint()) * 26;
    QPolygonF ring;
    for (int i = 0; i <= 48; ++i) {
        const double a = 2 * base::kPi * i / 48, out = i == 0 || i == 48 ? 0.55 : 1;
        const base::Vec3 at = *editor_.basePoint() + base::Vec3(std::cos(a), 0, std::sin(a)) * (reach * out);
        if (const auto pixel = view_.pixelOf(at)) ring << *pixel;
    }
    const QPointF at = *centre;
    for (const auto& [colour, wide] : {std::pair{t.window, 5.0}, {t.honey, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(ring);
    }
    p.setPen(Qt::NoPen);
    p.setBrush(t.honey);
    p.drawEllipse(at, 2, 2);
    view_.note(p, at + QPointF(14, -10), tr("base point"));
}

}  // namespace

OverlayPtr basePoint(ViewContext& view) {
    return std::make_unique<BasePoint>(view);
}

}  // namespace app
