// Brackets round what is selected or pointed at, with its name.
#include <algorithm>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

void paintTag(QPainter& p, const QPointF& bottomLeft, const QString& text, const QColor& back, const QColor& ink) {
    setLetters(p, 11, QFont::DemiBold);
    const QRectF box(bottomLeft.x(), bottomLeft.y() - 17, QFontMetricsF(p.font()).horizontalAdvance(text) + 12, 16);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(box, 4, 4);
    p.setPen(ink);
    p.drawText(box, Qt::AlignCenter, text);
}

class Brackets : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;

  private:
    void bracket(QPainter& p, const base::Aabb& box, const QColor& colour, const QString& name) const;
};

void Brackets::bracket(QPainter& p, const base::Aabb& box, const QColor& colour, const QString& name) const {
    QRectF frame;
    for (int i = 0; i < 8; ++i) {
        const auto pixel = view_.pixelOf(box.corner(i));
        if (!pixel) return;
        const QRectF dot(*pixel, QSizeF(0.01, 0.01));
        frame = frame.isNull() ? dot : frame.united(dot);
    }
    frame.adjust(-5, -5, 5, 5);
    if (!frame.intersects(view_.widget.rect()) || frame.width() > 6000) return;
    const double arm = std::clamp(std::min(frame.width(), frame.height()) * 0.25, 5.0, 16.0);
    p.setPen(QPen(colour, 2));
    p.setBrush(Qt::NoBrush);
    for (int corner = 0; corner < 4; ++corner) {
        const QPointF at(corner % 2 == 0 ? frame.left() : frame.right(), corner < 2 ? frame.top() : frame.bottom());
        const double sx = corner % 2 == 0 ? arm : -arm, sy = corner < 2 ? arm : -arm;
        p.drawPolyline(QPolygonF({at + QPointF(sx, 0), at, at + QPointF(0, sy)}));
    }
    if (name.isEmpty()) return;
    // Beside the frame's top left corner, where the handle's upward arm does not cross it.
    setLetters(p, 11, QFont::DemiBold);
    const double wide = QFontMetricsF(p.font()).horizontalAdvance(name) + 12;
    const bool beside = frame.width() < 140 && frame.left() - wide > 10;
    const double y = std::max(beside ? frame.top() + 12 : frame.top() - 5, 22.0);
    const double x = beside ? frame.left() - wide - 6 : std::clamp(frame.left(), 4.0, view_.widget.width() - 60.0);
    paintTag(p, {x, y}, name, colour, theme().honeyInk);
}

void Brackets::paint(QPainter& p) {
    const model::Scene& scene = editor_.scene();
    auto boxOf = [&](Slot s) {
        base::Aabb box = scene.subtreeBounds(s);
        if (box.empty()) box = {scene.world(s).translation - 0.25, scene.world(s).translation + 0.25};
        return box;
    };
    const auto& ids = editor_.selection();
    constexpr std::size_t kMostBrackets = 200;
    base::Aabb whole;
    for (std::size_t i = 0; i < std::min(ids.size(), kMostBrackets); ++i) {
        const Slot s = scene.find(ids[i]);
        if (s == kNoSlot) continue;
        const base::Aabb box = boxOf(s);
        whole.add(box);
        const auto name = scene.nameText(s);
        bracket(p, box, theme().honey, ids.size() == 1 ? toQt(name) : QString());
    }
    if (ids.size() > 1 && !whole.empty())
        if (const auto top = view_.pixelOf(whole.corner(2)))
            paintTag(p, *top + QPointF(0, -6), tr("%1 objects").arg(ids.size()), theme().honey, theme().honeyInk);
    if (view_.lit() != kNoSlot && scene.alive(view_.lit()) && !editor_.isSelected(view_.lit()) && !view_.busy) {
        QColor faint = theme().text;
        faint.setAlpha(120);
        bracket(p, boxOf(view_.lit()), faint, {});
    }
}

}  // namespace

OverlayPtr brackets(ViewContext& view) {
    return std::make_unique<Brackets>(view);
}

}  // namespace app
