// Routes: the way they go, which way round, how wide the selected one is; its stops by their numbers, with the volume
// that one passes through and the way it is passed.
#include <cmath>

#include "app/kit/parts.h"
#include "app/look/colour.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "query/route.h"
#include "query/route_network.h"

namespace app {

namespace {

class Routes : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    using Line = RouteLines::Line;
    void paintOne(QPainter& p, Slot s, bool chosen);
    void paintArrows(QPainter& p, const Line& of, const QColor& colour) const;
    void paintForks(QPainter& p, Slot s, const QColor& colour) const;
    void paintStops(QPainter& p, Slot s, const Line& of, const model::Route& route) const;
};

void Routes::paintArrows(QPainter& p, const Line& of, const QColor& colour) const {
    constexpr double kApart = 90;  // pixels
    p.setPen(QPen(colour, 2));
    std::optional<QPointF> last;
    const double step = std::max(of.curve.length() / 400, 0.5);
    for (double m = step / 2; m < of.curve.length(); m += step) {
        const base::Vec3 at = of.curve.at(m), way = of.curve.direction(m);
        const auto here = view_.pixelInside(at, 20), ahead = view_.pixelOf(at + way * 0.4);
        if (!here || !ahead || (last && std::hypot(here->x() - last->x(), here->y() - last->y()) < kApart)) continue;
        const QPointF along = *ahead - *here;
        const double length = std::hypot(along.x(), along.y());
        if (length < 0.5) continue;
        const QPointF unit = along / length, across(-unit.y(), unit.x());
        for (const double side : {1.0, -1.0}) p.drawLine(*here + unit * 5, *here - unit * 3 + across * (side * 5));
        last = here;
    }
}

/// From its point to where the other one is joined, dotted while a goal keeps it shut; with its share.
void Routes::paintForks(QPainter& p, Slot s, const QColor& colour) const {
    const model::Scene& scene = editor_.scene();
    const model::Route& route = *scene.facet<model::Route>(s);
    setLetters(p, 11, QFont::DemiBold);
    for (const query::Branch& branch : query::branchesOf(scene, s)) {
        const base::Vec3 from = scene.world(s).point(route.points[branch.point].at);
        const base::Vec3 to = stage_.routes().of(scene, branch.to).curve.at(branch.metres);
        p.setPen(QPen(colour, 2, branch.goal ? Qt::DotLine : Qt::SolidLine));
        view_.line(p, from, to);
        const auto at = view_.pixelInside(from, 20);
        if (!at) continue;
        p.setBrush(theme().window);
        p.drawPolygon(
            QPolygonF({*at + QPointF(0, -7), *at + QPointF(7, 0), *at + QPointF(0, 7), *at + QPointF(-7, 0)}));
        p.setBrush(Qt::NoBrush);
        p.setPen(theme().text);
        p.drawText(*at + QPointF(10, -6), QString("×%1").arg(fixed(branch.share, 1)));
    }
}

void Routes::paintStops(QPainter& p, Slot s, const Line& of, const model::Route& route) const {
    const auto stops = query::stopsOf(editor_.scene(), s, of.curve);
    setLetters(p, 11, QFont::DemiBold);
    for (std::size_t i = 0; i < stops.size(); ++i) {
        if (stops[i].slot == kNoSlot) continue;
        const base::Transform on = query::poseOn(of.curve, stops[i].metres);
        const model::RouteStop& stop = route.stops[i];
        p.setPen(QPen(toColour(route.colour), 1.2));
        const base::Vec3 half = stop.size / 2.0;
        view_.box(p, base::toAffine(on), {{-half.x, 0, -half.z}, {half.x, stop.size.y, half.z}});
        const base::Vec3 up(0, stop.size.y, 0), ahead = on.rotation * base::Vec3(0, 0, 1);
        p.setPen(QPen(theme().text, 2));
        using Passed = model::RouteStop::Passed;
        for (const double way : {1.0, -1.0}) {
            if ((way > 0 && stop.passed == Passed::Backwards) || (way < 0 && stop.passed == Passed::Forwards)) continue;
            const base::Vec3 from = on.position + up, tip = from + ahead * (way * 1.4);
            view_.line(p, from, tip);
            for (const double side : {0.35, -0.35})
                view_.line(p, tip, tip - ahead * (way * 0.45) + on.rotation * base::Vec3(side, 0, 0));
        }
        const auto at = view_.pixelInside(on.position + up, 30);
        if (!at) continue;
        const QRectF box(at->x() - 11, at->y() - 24, 22, 18);
        p.setPen(QPen(theme().window, 1.5));
        p.setBrush(toColour(route.colour));
        p.drawRoundedRect(box, 5, 5);
        p.setBrush(Qt::NoBrush);
        p.setPen(toColour(route.colour).lightnessF() > 0.55 ? QColor(Qt::black) : QColor(Qt::white));
        p.drawText(box, Qt::AlignCenter, QString::number(i + 1));
    }
}

void Routes::paintOne(QPainter& p, Slot s, bool chosen) {
    const model::Route& route = *editor_.scene().facet<model::Route>(s);
    const Line& of = stage_.routes().of(editor_.scene(), s);
    QColor colour = toColour(route.colour);
    if (!chosen) colour.setAlpha(170);
    p.setBrush(Qt::NoBrush);
    QColor under = theme().window;  // it stands out on ground of its own colour, too
    under.setAlpha(chosen ? 150 : 100);
    p.setPen(QPen(under, chosen ? 5 : 3.5));
    view_.path(p, of.way);
    p.setPen(QPen(colour, chosen ? 2.4 : 1.6));
    view_.path(p, of.way);
    paintArrows(p, of, colour);
    if (!route.forks.empty()) paintForks(p, s, colour);
    if (!chosen) return;
    QColor thin = toColour(route.colour);
    thin.setAlpha(130);
    p.setPen(QPen(thin, 1, Qt::DashLine));
    view_.path(p, of.left);
    view_.path(p, of.right);
    paintStops(p, s, of, route);
}

void Routes::paint(QPainter& p) {
    const model::Scene& scene = editor_.scene();
    for (Slot s : stage_.marked())
        if (scene.alive(s) && scene.facet<model::Route>(s) && !editor_.isHidden(s))
            paintOne(p, s, editor_.isSelected(s));
}

}  // namespace

OverlayPtr routes(ViewContext& view) {
    return std::make_unique<Routes>(view);
}

}  // namespace app
