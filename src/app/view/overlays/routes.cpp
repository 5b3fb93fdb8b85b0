// Routes: the way they go, which way round, how wide the selected one is; its stops by their numbers, with the volume
// that one passes through and the way it is passed.
#include <cmath>
#include <map>

#include "app/look/colour.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"
#include "query/route.h"

namespace app {

namespace {

constexpr std::size_t kMostLegs = 20'000;

class Routes : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
    bool isInPlay() const override { return false; }

  private:
    struct Drawn {
        model::DetailPtr detail;  // what it was made from
        base::Affine world;
        shape::Curve curve;
        std::vector<base::Vec3> way;
    };
    const Drawn& drawn(Slot s);
    void paintOne(QPainter& p, Slot s, bool chosen);
    void paintArrows(QPainter& p, const Drawn& of, const QColor& colour) const;
    void paintEdges(QPainter& p, const Drawn& of, const model::Route& route) const;
    void paintStops(QPainter& p, Slot s, const Drawn& of, const model::Route& route) const;
    void paintVolume(QPainter& p, const base::Transform& on, const model::RouteStop& stop) const;

    std::map<Slot, Drawn> drawn_;
};

/// Made anew only when the route is another one, or elsewhere.
const Routes::Drawn& Routes::drawn(Slot s) {
    const model::Scene& scene = editor_.scene();
    Drawn& is = drawn_[s];
    if (is.detail == scene.detail(s) && is.world == scene.world(s)) return is;
    is.detail = scene.detail(s);
    is.world = scene.world(s);
    is.curve = query::curveOf(scene, s);
    is.way.clear();
    std::vector<double> corners = is.curve.corners(0.03);
    if (corners.size() > kMostLegs) corners = is.curve.corners(1);
    for (std::size_t i = 0; i < corners.size(); ++i)
        is.way.push_back(is.curve.at(is.curve.isClosed() && i + 1 == corners.size() ? 0 : corners[i]));
    return is;
}

void Routes::paintArrows(QPainter& p, const Drawn& of, const QColor& colour) const {
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

void Routes::paintEdges(QPainter& p, const Drawn& of, const model::Route& route) const {
    std::vector<base::Vec3> left, right;
    for (const double m : of.curve.corners(0.1)) {
        const double half = query::widthAt(route, of.curve, m) / 2;
        left.push_back(query::poseOn(of.curve, m, -half).position);
        right.push_back(query::poseOn(of.curve, m, half).position);
        if (left.size() > kMostLegs) return;
    }
    QColor thin = toColour(route.colour);
    thin.setAlpha(130);
    p.setPen(QPen(thin, 1, Qt::DashLine));
    view_.path(p, left);
    view_.path(p, right);
}

void Routes::paintVolume(QPainter& p, const base::Transform& on, const model::RouteStop& stop) const {
    const base::Affine at = base::toAffine(on);
    const auto corner = [&](int i) {
        return at.point({((i & 1) != 0 ? 0.5 : -0.5) * stop.size.x, (i & 2) != 0 ? stop.size.y : 0,
                         ((i & 4) != 0 ? 0.5 : -0.5) * stop.size.z});
    };
    for (int i = 0; i < 8; ++i)
        for (const int bit : {1, 2, 4})
            if ((i & bit) == 0) view_.line(p, corner(i), corner(i | bit));
}

void Routes::paintStops(QPainter& p, Slot s, const Drawn& of, const model::Route& route) const {
    const auto stops = query::stopsOf(editor_.scene(), s, of.curve);
    setLetters(p, 11, QFont::DemiBold);
    for (std::size_t i = 0; i < stops.size(); ++i) {
        if (stops[i].slot == kNoSlot) continue;
        const base::Transform on = query::poseOn(of.curve, stops[i].metres);
        const model::RouteStop& stop = route.stops[i];
        p.setPen(QPen(toColour(route.colour), 1.2));
        paintVolume(p, on, stop);
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
    const Drawn& of = drawn(s);
    QColor colour = toColour(route.colour);
    if (!chosen) colour.setAlpha(170);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, chosen ? 2.4 : 1.6));
    view_.path(p, of.way);
    paintArrows(p, of, colour);
    if (!chosen) return;
    paintEdges(p, of, route);
    paintStops(p, s, of, route);
}

void Routes::paint(QPainter& p) {
    const model::Scene& scene = editor_.scene();
    std::erase_if(drawn_, [&](const auto& one) { return !scene.alive(one.first); });
    for (Slot s : stage_.marked())
        if (scene.alive(s) && scene.facet<model::Route>(s) && !editor_.isHidden(s))
            paintOne(p, s, editor_.isSelected(s));
}

}  // namespace

OverlayPtr routes(ViewContext& view) {
    return std::make_unique<Routes>(view);
}

}  // namespace app
