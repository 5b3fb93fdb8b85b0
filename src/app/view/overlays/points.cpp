// Points of objects: where they are, their order, what they look at.
#include <algorithm>
#include <cmath>

#include "app/look/colour.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/points.h"
#include "ops/facets.h"

namespace app {

namespace {

constexpr std::size_t kMostDrawn = 2000;

class Points : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    void paintPoints(QPainter& p, Slot s, bool chosen) const;
};

void Points::paintPoints(QPainter& p, Slot s, bool chosen) const {
    const model::Scene& scene = editor_.scene();
    const model::PointSet& set = *scene.facet<model::PointSet>(s);
    const QColor usual = toColour(set.colour);
    std::vector<base::Vec3> way;
    for (std::size_t i = 0; i < std::min(set.points.size(), kMostDrawn); ++i)
        way.push_back(ops::pointInWorld(scene, s, set.points[i]));
    p.setBrush(Qt::NoBrush);
    if (chosen) {  // their order, and whose they are
        p.setPen(QPen(usual, 1.25, Qt::DotLine));
        view_.path(p, way);
        if (!way.empty() && !set.stays) view_.line(p, scene.world(s).translation, way.front());
    }
    setLetters(p, 10, QFont::DemiBold);
    for (std::size_t i = 0; i < way.size(); ++i) {
        const model::PlacePoint& point = set.points[i];
        const auto at = view_.pixelInside(way[i], 40);
        if (!at) continue;
        const QColor colour = point.colour ? toColour(*point.colour) : usual;
        if (point.radiusMetres > 0) {
            p.setPen(QPen(colour, 1.25));
            view_.ring(p, way[i], {point.radiusMetres, 0, 0}, {0, 0, point.radiusMetres});
        }
        if (point.turnDegrees) {
            const double turn = base::radians(*point.turnDegrees), length = std::max(point.radiusMetres, 0.6);
            const base::Vec3 ahead = way[i] + base::Vec3(std::sin(turn), 0, std::cos(turn)) * length;
            p.setPen(QPen(colour, 2));
            view_.line(p, way[i], ahead);
        }
        const bool lit = chosen && editor_.chosenPoint() == i;
        p.setPen(QPen(lit ? theme().text : theme().window, 1.5));
        p.setBrush(colour);
        const double r = chosen ? 9 : 6;
        p.drawEllipse(*at, r, r);
        p.setBrush(Qt::NoBrush);
        if (!chosen) continue;
        p.setPen(colour.lightnessF() > 0.55 ? QColor(Qt::black) : QColor(Qt::white));
        p.drawText(QRectF(at->x() - 12, at->y() - 8, 24, 16), Qt::AlignCenter, QString::number(i + 1));
        if (!point.name.empty() && (lit || way.size() <= 12))
            view_.note(p, *at + QPointF(12, -8), QString::fromStdString(point.name));
    }
}

void Points::paint(QPainter& p) {
    const model::Scene& scene = editor_.scene();
    for (Slot s : stage_.marked())
        if (scene.alive(s) && scene.facet<model::PointSet>(s) && !editor_.isHidden(s))
            paintPoints(p, s, editor_.isSelected(s));
}

}  // namespace

OverlayPtr points(ViewContext& view) {
    return std::make_unique<Points>(view);
}

}  // namespace app
