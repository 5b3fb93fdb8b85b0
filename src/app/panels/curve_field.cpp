#include "app/panels/curve_field.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace app {

namespace {
constexpr double kEdge = 7;
}

CurveField::CurveField(const std::function<const Theme&()>& theme, QWidget* parent) : QWidget(parent), theme_(theme) {
    setFixedHeight(74);
    setToolTip(tr("Drag the points; double-click: one more; right-click: one less"));
}

void CurveField::setPoints(const std::vector<QPointF>& points) {
    if (dragged_ >= 0 || points == points_) return;
    points_ = points;
    update();
}

/// What is shown: all points, with room, at least a unit each way.
QRectF CurveField::span() const {
    if (dragged_ >= 0) return held_;
    double low = 0, high = 1, left = 0, right = 1;
    for (const QPointF& p : points_) {
        low = std::min(low, p.y());
        high = std::max(high, p.y());
        left = std::min(left, p.x());
        right = std::max(right, p.x());
    }
    return {left, low, right - left, high - low};
}

QPointF CurveField::toPixel(const QPointF& p) const {
    const QRectF s = span();
    return {kEdge + (p.x() - s.left()) / s.width() * (width() - 2 * kEdge),
            height() - kEdge - (p.y() - s.top()) / s.height() * (height() - 2 * kEdge)};
}

QPointF CurveField::fromPixel(const QPointF& p) const {
    const QRectF s = span();
    auto tidy = [](double v) { return std::round(v * 1000) / 1000; };
    return {tidy(s.left() + (p.x() - kEdge) / (width() - 2 * kEdge) * s.width()),
            tidy(s.top() + (height() - kEdge - p.y()) / (height() - 2 * kEdge) * s.height())};
}

int CurveField::under(const QPointF& pixel) const {
    for (std::size_t i = 0; i < points_.size(); ++i) {
        const QPointF at = toPixel(points_[i]);
        if (std::hypot(at.x() - pixel.x(), at.y() - pixel.y()) < 8) return static_cast<int>(i);
    }
    return -1;
}

void CurveField::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(theme_().line, 1));
    p.setBrush(theme_().window);
    p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    QPolygonF line;
    for (const QPointF& point : points_) line << toPixel(point);
    p.setPen(QPen(theme_().honey, 1.5));
    p.drawPolyline(line);
    p.setBrush(theme_().honey);
    p.setPen(Qt::NoPen);
    for (const QPointF& at : line) p.drawEllipse(at, 3.5, 3.5);
    if (!points_.empty()) return;
    p.setPen(theme_().faint);
    p.drawText(rect(), Qt::AlignCenter, tr("Double-click: a point"));
}

void CurveField::mousePressEvent(QMouseEvent* event) {
    const int at = under(event->position());
    if (event->button() == Qt::RightButton && at >= 0) {
        auto points = points_;
        points.erase(points.begin() + at);
        Q_EMIT changed(points);
        return;
    }
    if (event->button() != Qt::LeftButton || !isEnabled()) return;
    held_ = span();
    dragged_ = at;
}

void CurveField::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_ < 0) return;
    const auto i = static_cast<std::size_t>(dragged_);
    QPointF p = fromPixel(event->position());
    // A point stays between its neighbours.
    constexpr double kBetween = 1e-3;
    if (i > 0) p.setX(std::max(p.x(), points_[i - 1].x() + kBetween));
    if (i + 1 < points_.size()) p.setX(std::min(p.x(), points_[i + 1].x() - kBetween));
    points_[i] = p;
    update();
}

void CurveField::mouseReleaseEvent(QMouseEvent*) {
    if (dragged_ < 0) return;
    dragged_ = -1;
    Q_EMIT changed(points_);
}

void CurveField::mouseDoubleClickEvent(QMouseEvent* event) {
    if (under(event->position()) >= 0 || !isEnabled()) return;
    auto points = points_;
    const QPointF p = fromPixel(event->position());
    points.insert(std::find_if(points.begin(), points.end(), [&](const QPointF& o) { return o.x() > p.x(); }), p);
    for (std::size_t i = 1; i < points.size(); ++i)
        if (points[i].x() <= points[i - 1].x()) return;  // straight above another one
    Q_EMIT changed(points);
}

}  // namespace app
