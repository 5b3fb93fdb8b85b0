// Zones: their outline, and their floor.
#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/rehearsal.h"
#include "app/view/overlays/overlay.h"
#include "model/facets/zone.h"

namespace app {

namespace {

class Zones : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
    bool isInPlay() const override { return editor_.rehearsal().showsZones(); }

  private:
    void paintZone(QPainter& p, Slot s, bool chosen) const;
};

void Zones::paintZone(QPainter& p, Slot s, bool chosen) const {
    const model::Zone& zone = *editor_.scene().facet<model::Zone>(s);
    const base::Affine& world = editor_.scene().world(s);
    const QColor colour = toColour(zone.colour);
    p.setPen(QPen(colour, chosen ? 2 : 1.25, chosen ? Qt::SolidLine : Qt::DashLine));
    const base::Vec3 half = zone.size / 2.0;
    if (zone.shape == model::Zone::Shape::Sphere) {
        const double r = half.x;
        for (int k = 0; k < 3; ++k)
            view_.ring(p, world.translation, world.linear[k] * r, world.linear[(k + 1) % 3] * r);
        return;
    }
    std::vector<base::Vec2> corners = zone.corners;
    if (zone.shape == model::Zone::Shape::Box)
        corners = {{-half.x, -half.z}, {half.x, -half.z}, {half.x, half.z}, {-half.x, half.z}};
    if (corners.empty()) return;
    corners.push_back(corners.front());
    for (const double y : {0.0, zone.size.y}) {
        std::vector<base::Vec3> line;
        for (const base::Vec2& c : corners) line.push_back(world.point({c.x, y, c.y}));
        view_.path(p, line);
    }
    for (std::size_t i = 0; i + 1 < corners.size(); ++i)
        view_.line(p, world.point({corners[i].x, 0, corners[i].y}),
                   world.point({corners[i].x, zone.size.y, corners[i].y}));
    // Its floor is filled faintly, so that one sees which side is inside.
    QPolygonF floor;
    for (const base::Vec2& c : corners) {
        const auto pixel = view_.pixelOf(world.point({c.x, 0, c.y}));
        if (!pixel) return;
        floor << *pixel;
    }
    QColor fill = colour;
    fill.setAlpha(chosen ? 46 : 24);
    p.setPen(Qt::NoPen);
    p.setBrush(fill);
    p.drawPolygon(floor);
    p.setBrush(Qt::NoBrush);
}

void Zones::paint(QPainter& p) {
    const model::Scene& scene = editor_.scene();
    for (Slot s : stage_.marked())
        if (scene.alive(s) && scene.facet<model::Zone>(s) && !editor_.isHidden(s))
            paintZone(p, s, editor_.isSelected(s));
}

}  // namespace

OverlayPtr zones(ViewContext& view) {
    return std::make_unique<Zones>(view);
}

}  // namespace app
