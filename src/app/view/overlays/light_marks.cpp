// Signs of lights, cameras, notes and other objects without a mesh.
#include <cmath>

#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"
#include "model/facets/sound.h"

namespace app {

namespace {

class LightMarks : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void LightMarks::paint(QPainter& p) {
    const Theme& t = theme();
    for (const ViewContext::Mark& mark : view_.visibleMarks()) {
        const auto& detail = editor_.scene().detail(mark.slot);
        const bool lit = detail && detail->get<model::Light>(), camera = detail && detail->get<model::Camera>(),
                   note = detail && detail->get<model::Note>(), sound = detail && detail->get<model::Sound>();
        const double r = mark.distance < 25 ? 7 : 4.5;
        QColor ink = stage_.tinted().contains(mark.slot) ? t.honey
                     : lit                               ? t.lemon
                     : note                              ? t.lilac
                     : camera                            ? t.text
                     : sound                             ? t.axis[2]
                                                         : t.moss;
        QColor back = t.panel;
        back.setAlpha(200);
        p.setPen(QPen(ink, mark.slot == view_.lit() ? 2.2 : 1.4));
        p.setBrush(back);
        if (lit) {
            p.drawEllipse(mark.at, r * 0.6, r * 0.6);
            for (int i = 0; i < 8; ++i) {
                const double a = i * base::kPi / 4;
                p.drawLine(mark.at + QPointF(std::cos(a), std::sin(a)) * r * 0.85,
                           mark.at + QPointF(std::cos(a), std::sin(a)) * r * 1.15);
            }
        } else if (camera) {
            p.drawRect(QRectF(mark.at.x() - r, mark.at.y() - r * 0.6, r * 1.4, r * 1.2));
            p.drawPolygon(QPolygonF({mark.at + QPointF(r * 0.4, 0), mark.at + QPointF(r * 1.1, -r * 0.6),
                                     mark.at + QPointF(r * 1.1, r * 0.6)}));
        } else if (sound) {
            p.drawPolygon(QPolygonF({mark.at + QPointF(-r, -r * 0.35), mark.at + QPointF(-r * 0.4, -r * 0.35),
                                     mark.at + QPointF(r * 0.2, -r * 0.9), mark.at + QPointF(r * 0.2, r * 0.9),
                                     mark.at + QPointF(-r * 0.4, r * 0.35), mark.at + QPointF(-r, r * 0.35)}));
            p.drawArc(QRectF(mark.at.x() - r * 0.6, mark.at.y() - r * 0.7, r * 1.4, r * 1.4), -45 * 16, 90 * 16);
        } else if (note) {
            p.drawPolygon(QPolygonF({mark.at + QPointF(-r, -r), mark.at + QPointF(r, -r), mark.at + QPointF(r, r * 0.4),
                                     mark.at + QPointF(r * 0.3, r), mark.at + QPointF(-r, r)}));
        } else {
            p.drawPolygon(QPolygonF({mark.at + QPointF(0, -r), mark.at + QPointF(r, 0), mark.at + QPointF(0, r),
                                     mark.at + QPointF(-r, 0)}));
        }
        if (mark.others > 0) {
            setLetters(p, 10, QFont::DemiBold);
            p.drawText(mark.at + QPointF(r + 2, -r * 0.4), QString::number(mark.others + 1));
        }
    }
}

}  // namespace

OverlayPtr lightMarks(ViewContext& view) {
    return std::make_unique<LightMarks>(view);
}

}  // namespace app
