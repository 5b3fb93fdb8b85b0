// Measuring: points picked one after the other, with the distances, angles and heights between them.
#include <QPainter>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"

namespace app {

/// Where the next point would be: on what is caught, else on the surface.
std::optional<base::Vec3> ViewWidget::measurePoint(const QPointF& pixel) const {
    if (caught_) return caught_->point;
    return landingUnder(pixel);
}

void ViewWidget::measureHover(const QPointF& pixel) {
    caught_ = catchUnder(pixel);
    measureNext_ = measurePoint(pixel);
    update();
}

void ViewWidget::addMeasurePoint(const QPointF& pixel) {
    measureHover(pixel);
    if (const auto at = measurePoint(pixel)) measure_.points.push_back(*at);
    update();
}

QString ViewWidget::measureText() const {
    QStringList lines;
    for (std::size_t i = 0; i + 1 < measure_.points.size(); ++i) {
        const base::Vec3 d = measure_.span(i);
        lines << tr("%1 m   X %2   Y %3   Z %4   slope %5°")
                     .arg(fixed(measure_.length(i), 3), fixed(d.x, 3), fixed(d.y, 3), fixed(d.z, 3),
                          fixed(measure_.slopeDegrees(i), 1));
        if (i > 0) lines << tr("angle %1°").arg(fixed(measure_.degreesAt(i), 1));
    }
    if (measure_.points.size() > 2) lines << tr("all together %1 m").arg(fixed(measure_.total(), 3));
    return lines.join('\n');
}

void ViewWidget::paintMeasure(QPainter& p) const {
    if (editor_.tool() != Tool::Measure) return;
    query::Measure shown = measure_;
    if (measureNext_ && underMouse()) shown.points.push_back(*measureNext_);
    p.setPen(QPen(editor_.theme().honey, 1.8));
    for (std::size_t i = 0; i + 1 < shown.points.size(); ++i) worldLine(p, shown.points[i], shown.points[i + 1]);
    for (std::size_t i = 0; i < shown.points.size(); ++i) {
        const auto at = camera_.project(shown.points[i], viewport());
        if (!at) continue;
        p.setPen(QPen(editor_.theme().window, 1.5));
        p.setBrush(editor_.theme().honey);
        p.drawEllipse(toQt(*at), 4, 4);
        if (i > 0 && i + 1 < shown.points.size())
            paintNote(p, toQt(*at) + QPointF(8, 18), fixed(shown.degreesAt(i), 1) + QStringLiteral("°"));
        if (i + 1 >= shown.points.size()) continue;
        const base::Vec3 middle = (shown.points[i] + shown.points[i + 1]) / 2.0;
        if (const auto between = camera_.project(middle, viewport())) {
            const double rise = shown.span(i).y;
            QString text = fixed(shown.length(i), 3) + " m";
            if (std::abs(rise) > 5e-4)
                text += tr(" · %1 m %2").arg(fixed(std::abs(rise), 3), rise > 0 ? tr("up") : tr("down"));
            paintNote(p, toQt(*between) + QPointF(8, -4), text);
        }
    }
}

/// How far the selection would fall, by what one sees and, where that differs, by what one bumps into.
void ViewWidget::paintDrops(QPainter& p) {
    constexpr std::size_t kMost = 60;
    if (!editor_.looks().drops || editor_.index() == nullptr || isDragging() || editor_.selection().empty() ||
        editor_.selection().size() > kMost)
        return;
    if (!dropsKnown_) {
        dropsKnown_ = true;
        drops_[0] = ops::seatDrops(editor_.scene(), *editor_.index(), editor_.selection(), {});
        drops_[1].clear();
        if (const query::SceneIndex* solid = editor_.collision())
            drops_[1] = ops::seatDrops(editor_.scene(), *solid, editor_.selection(), {});
    }
    const Theme& t = editor_.theme();
    for (std::size_t i = 0; i < drops_[0].size(); ++i) {
        const ops::SeatDrop& seen = drops_[0][i];
        const model::Slot slot = editor_.scene().find(seen.id);
        if (slot == model::kNoSlot) continue;
        base::Aabb box = editor_.scene().subtreeBounds(slot);
        if (box.empty()) box.add(editor_.scene().world(slot).translation);
        const base::Vec3 from = box.baseCentre(), to = from - base::Vec3(0, seen.supported ? seen.metres : 0, 0);
        const auto at = camera_.project(from, viewport());
        if (!at) continue;
        QPen pen(t.lilac, 2, Qt::DashLine);
        p.setPen(pen);
        if (seen.supported) worldLine(p, from, to);
        auto told = [](const ops::SeatDrop& drop) {
            if (!drop.supported) return tr("nothing below");
            if (std::abs(drop.metres) < 5e-4) return tr("seated");
            return tr("%1 m %2").arg(fixed(std::abs(drop.metres), 3), drop.metres > 0 ? tr("down") : tr("up"));
        };
        QString text = told(seen);
        for (const ops::SeatDrop& solid : drops_[1])
            if (solid.id == seen.id &&
                (solid.supported != seen.supported || std::abs(solid.metres - seen.metres) > 5e-4))
                text += tr(" · by collision shapes %1").arg(told(solid));
        paintNote(p, toQt(*at) + QPointF(10, 16), text);
    }
}

}  // namespace app
