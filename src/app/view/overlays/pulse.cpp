#include "app/view/overlays/pulse.h"
#include "app/names.h"

#include <algorithm>
#include <cmath>

namespace app {

namespace {

constexpr int kPulseMs = 900;

}  // namespace

Pulse::Pulse(ViewContext& view) : Overlay(view) {
    timer_.setInterval(30);
    QObject::connect(&timer_, &QTimer::timeout, &timer_, [this] {
        if (since_.elapsed() > kPulseMs) timer_.stop();
        view_.update();
    });
}

void Pulse::start() {
    since_.start();
    timer_.start();
    view_.update();
}

void Pulse::paint(QPainter& p) {
    if (!timer_.isActive()) return;
    const double t = std::min(static_cast<double>(since_.elapsed()) / kPulseMs, 1.0);
    constexpr std::size_t kMost = 100;
    QColor ink = theme().honey;
    ink.setAlphaF(static_cast<float>(1 - t * t));
    p.setPen(QPen(ink, 3));
    p.setBrush(Qt::NoBrush);
    const QRectF inside = QRectF(view_.widget.rect()).adjusted(30, 30, -30, -30);
    for (std::size_t i = 0; i < std::min(editor_.selection().size(), kMost); ++i) {
        const Slot s = editor_.scene().find(editor_.selection()[i]);
        if (s == kNoSlot) continue;
        base::Aabb box = editor_.scene().subtreeBounds(s);
        const base::Vec3 at = box.empty() ? editor_.scene().world(s).translation : box.centre();
        const auto pixel = view_.pixelOf(at);
        if (pixel && inside.contains(*pixel)) {
            p.drawEllipse(*pixel, 12 + 40 * (1 - t), 12 + 40 * (1 - t));
            continue;
        }
        const base::Vec3 way = at - view_.camera.eye;
        QPointF d(glm::dot(way, view_.camera.right()), -glm::dot(way, view_.camera.up()));
        const double length = std::max(std::hypot(d.x(), d.y()), 1e-9);
        d /= length;
        const QPointF middle = inside.center();
        const double reach = std::min(inside.width() / 2 / std::max(std::abs(d.x()), 1e-6),
                                      inside.height() / 2 / std::max(std::abs(d.y()), 1e-6));
        const QPointF end = middle + d * reach, side(-d.y(), d.x());
        p.drawPolyline(QPolygonF({end - d * 12 + side * 8, end, end - d * 12 - side * 8}));
    }
}

}  // namespace app
