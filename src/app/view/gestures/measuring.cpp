#include "app/view/gestures/measuring.h"

#include <cmath>

#include "app/kit/parts.h"
#include "app/view/gestures/all.h"
#include "base/text.h"

namespace app {

namespace {

/// To a millimetre.
QString length(const ViewContext& view, double metres) {
    return view.editor.length(metres, 3);
}

}  // namespace

Measuring::Measuring(ViewContext& view) : PlaceTool(view) {}

bool Measuring::point(const QPointF& pixel) {
    next_ = view_.caughtOrLanding(pixel);
    view_.update();
    return next_.has_value();
}

void Measuring::withdraw() {
    next_.reset();
    PlaceTool::withdraw();
}

std::unique_ptr<Hold> Measuring::begin(Qt::KeyboardModifiers) {
    point(view_.pointer);
    if (next_) measure_.points.push_back(*next_);
    return nullptr;
}

bool Measuring::putAway() {
    if (measure_.points.empty()) return false;
    measure_ = {};
    return true;
}

QString Measuring::hint() const {
    return tr("Click: measure from point to point · hold 1 corner, 2 edge, 4 centre, 6 end: catch · Esc: anew");
}

QString Measuring::text() const {
    QStringList lines;
    for (std::size_t i = 0; i + 1 < measure_.points.size(); ++i) {
        const base::Vec3 d = measure_.span(i);
        lines << tr("%1   X %2   Y %3   Z %4   slope %5°")
                     .arg(length(view_, measure_.length(i)), length(view_, d.x), length(view_, d.y), length(view_, d.z),
                          fixed(measure_.slopeDegrees(i), 1));
        if (i > 0) lines << tr("angle %1°").arg(fixed(measure_.degreesAt(i), 1));
    }
    if (measure_.points.size() > 2) lines << tr("all together %1").arg(length(view_, measure_.total()));
    return lines.join('\n');
}

void Measuring::paint(QPainter& p) const {
    query::Measure shown = measure_;
    if (next_ && view_.widget.underMouse()) shown.points.push_back(*next_);
    p.setPen(QPen(theme().honey, 1.8));
    for (std::size_t i = 0; i + 1 < shown.points.size(); ++i) view_.line(p, shown.points[i], shown.points[i + 1]);
    for (std::size_t i = 0; i < shown.points.size(); ++i) {
        const auto at = view_.pixelOf(shown.points[i]);
        if (!at) continue;
        p.setPen(QPen(theme().window, 1.5));
        p.setBrush(theme().honey);
        p.drawEllipse(*at, 4, 4);
        if (i > 0 && i + 1 < shown.points.size())
            view_.note(p, *at + QPointF(8, 18), fixed(shown.degreesAt(i), 1) + QStringLiteral("°"));
        if (i + 1 >= shown.points.size()) continue;
        const base::Vec3 middle = (shown.points[i] + shown.points[i + 1]) / 2.0;
        if (const auto between = view_.pixelOf(middle)) {
            const double rise = shown.span(i).y;
            QString text = length(view_, shown.length(i));
            if (std::abs(rise) > 5e-4)
                text += tr(" · %1 %2").arg(length(view_, std::abs(rise)), rise > 0 ? tr("up") : tr("down"));
            view_.note(p, *between + QPointF(8, -4), text);
        }
    }
}

GesturePtr measuring(ViewContext& view) {
    return std::make_unique<Measuring>(view);
}

}  // namespace app
