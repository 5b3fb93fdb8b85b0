// Three short arms from the corner, with what each direction is called.
#include <algorithm>
#include <array>
#include <cmath>

#include "app/names.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class Directions : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void Directions::paint(QPainter& p) {
    const QPointF origin(86, view_.widget.height() - 96);  // above the bar
    const base::Vec3 ways[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, -1}};
    const QString words[] = {tr("right X"), tr("up Y"), tr("forward −Z")};
    std::array<std::pair<double, int>, 3> order;
    for (std::size_t i = 0; i < 3; ++i) order[i] = {-glm::dot(ways[i], view_.camera.forward()), static_cast<int>(i)};
    std::sort(order.begin(), order.end());
    setLetters(p, 10);
    for (const auto& [depth, i] : order) {
        const QPointF end =
            origin + QPointF(glm::dot(ways[i], view_.camera.right()), -glm::dot(ways[i], view_.camera.up())) * 30;
        QColor c = theme().axis[i];
        if (depth < -0.2) c.setAlpha(150);
        p.setPen(QPen(c, 2.2, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(origin, end);
        p.setBrush(c);
        p.setPen(Qt::NoPen);
        if (i == 0) p.drawRect(QRectF(end - QPointF(3, 3), QSizeF(6, 6)));
        if (i == 1) p.drawEllipse(end, 3.4, 3.4);
        if (i == 2) p.drawPolygon(QPolygonF({end + QPointF(0, -4), end + QPointF(4, 3), end + QPointF(-4, 3)}));
    }
    // Their words, the nearest first: each on a ground of its own, and clear of those that stand.
    std::vector<QRectF> taken;
    for (auto it = order.rbegin(); it != order.rend(); ++it) {
        const auto i = static_cast<std::size_t>(it->second);
        QPointF way(glm::dot(ways[i], view_.camera.right()), -glm::dot(ways[i], view_.camera.up()));
        const QPointF end = origin + way * 30;
        const double length = std::hypot(way.x(), way.y());
        way = length > 0.2 ? way / length : QPointF(0, 1);
        const double w = QFontMetricsF(p.font()).horizontalAdvance(words[i]) + 8;
        const QPointF middle = end + QPointF(way.x() * (w / 2 + 6), way.y() * 12);
        QRectF box(std::max(middle.x() - w / 2, 4.0), middle.y() - 8, w, 16);
        auto covered = [&] {
            return std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(box); });
        };
        while (covered()) box.translate(0, way.y() < 0 ? -4 : 4);
        taken.push_back(box);
        paintWords(p, box, words[i], theme(), 170);
    }
}

}  // namespace

OverlayPtr directions(ViewContext& view) {
    return std::make_unique<Directions>(view);
}

}  // namespace app
