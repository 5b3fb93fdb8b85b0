// What scripts draw: marks of runs, forms and behaviours, and what a preview would do.
#include <cmath>

#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/scripts.h"
#include "app/view/overlays/overlay.h"
#include "app/view/piece.h"

namespace app {

namespace {

class ScriptMarks : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void ScriptMarks::paint(QPainter& p) {
    constexpr std::size_t kMostShown = 4000;
    const Scripts& scripts = editor_.scripts();
    std::size_t left = kMostShown;
    for (const script::Mark& mark : scripts.marks())
        if (left > 0) --left, paintMark(p, view_, mark);
    for (const auto& [slot, look] : stage_.scriptLooks()) {
        if (editor_.isHidden(slot)) continue;
        for (const script::Mark& mark : look.marks)
            if (left > 0) --left, paintMark(p, view_, mark);
    }
    const auto& preview = scripts.preview();
    if (!preview) return;
    const Theme& theme = editor_.theme();
    for (const Piece& ghost : preview->ghosts)  // far ones are small: a dot says where
        if (left > 0)
            --left, paintMark(p, view_,
                              {script::Mark::Shape::Dot, ghost.pose.translation, {}, 0, toLinear(theme.moss), {}, {}});
    for (const auto& [from, to] : preview->ways)
        if (left > 0)
            --left, paintMark(p, view_, {script::Mark::Shape::Arrow, from, to, 0, toLinear(theme.honey), {}, {}});
    for (const base::Aabb& box : preview->gone)
        if (left > 0)
            --left, paintMark(p, view_, {script::Mark::Shape::Box, box.low, box.high, 0, toLinear(theme.rose), {}, {}});
}

}  // namespace

OverlayPtr scriptMarks(ViewContext& view) {
    return std::make_unique<ScriptMarks>(view);
}

void paintMark(QPainter& p, ViewContext& view, const script::Mark& mark) {
    const QColor colour = mark.colour ? toColour(*mark.colour) : view.editor.theme().lilac;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, 1.75));
    const auto at = view.pixelOf(mark.a);
    switch (mark.shape) {
        case script::Mark::Shape::Line: view.line(p, mark.a, mark.b); break;
        case script::Mark::Shape::Arrow: {
            view.line(p, mark.a, mark.b);
            const auto tip = view.pixelOf(mark.b);
            if (!at || !tip) break;
            const QPointF from = *at, to = *tip;
            const double length = std::hypot(to.x() - from.x(), to.y() - from.y());
            if (length < 1) break;
            const QPointF along = (to - from) / length, across(-along.y(), along.x());
            p.setBrush(colour);
            p.drawPolygon(QPolygonF{to, to - along * 9 + across * 4, to - along * 9 - across * 4});
            break;
        }
        case script::Mark::Shape::Circle: {
            const double r = mark.radiusMetres;
            view.ring(p, mark.a, {r, 0, 0}, {0, 0, r});
            break;
        }
        case script::Mark::Shape::Box: {
            base::Aabb box;
            box.add(mark.a);
            box.add(mark.b);
            for (int corner = 0; corner < 8; ++corner)
                for (int axis = 0; axis < 3; ++axis)
                    if ((corner >> axis & 1) == 0) view.line(p, box.corner(corner), box.corner(corner | 1 << axis));
            break;
        }
        case script::Mark::Shape::Label:
            if (at) view.note(p, *at + QPointF(8, -8), QString::fromStdString(mark.text));
            break;
        case script::Mark::Shape::Dot:
            if (!at) break;
            p.setBrush(colour);
            p.setPen(QPen(view.editor.theme().window, 1.25));
            p.drawEllipse(*at, 4.5, 4.5);
            break;
        case script::Mark::Shape::Handle: break;  // with the other grips of the selected object
    }
    p.setBrush(Qt::NoBrush);
}

}  // namespace app
