// What scripts and checks show in the view: marks of runs, forms, behaviours and findings; ghosts of a preview;
// handles.
#include <QPainter>
#include <cmath>

#include "app/look/colour.h"
#include "app/shell/checks.h"
#include "app/shell/scripts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"

namespace app {

using model::kNoSlot;
using model::Slot;

void ViewWidget::paintMark(QPainter& p, const script::Mark& mark) const {
    constexpr int kRound = 40;
    const QColor colour = mark.colour ? toColour(*mark.colour) : editor_.theme().lilac;
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(colour, 1.75));
    const auto at = camera_.project(mark.a, viewport());
    switch (mark.shape) {
        case script::Mark::Shape::Line: worldLine(p, mark.a, mark.b); break;
        case script::Mark::Shape::Arrow: {
            worldLine(p, mark.a, mark.b);
            const auto tip = camera_.project(mark.b, viewport());
            if (!at || !tip) break;
            const QPointF from = toQt(*at), to = toQt(*tip);
            const double length = std::hypot(to.x() - from.x(), to.y() - from.y());
            if (length < 1) break;
            const QPointF along = (to - from) / length, across(-along.y(), along.x());
            p.setBrush(colour);
            p.drawPolygon(QPolygonF{to, to - along * 9 + across * 4, to - along * 9 - across * 4});
            break;
        }
        case script::Mark::Shape::Circle: {
            std::vector<base::Vec3> points;
            for (int i = 0; i <= kRound; ++i) {
                const double angle = 2 * base::kPi * i / kRound;
                points.push_back(mark.a + base::Vec3(std::cos(angle), 0, std::sin(angle)) * mark.radiusMetres);
            }
            worldPath(p, points);
            break;
        }
        case script::Mark::Shape::Box: {
            base::Aabb box;
            box.add(mark.a);
            box.add(mark.b);
            for (int corner = 0; corner < 8; ++corner)
                for (int axis = 0; axis < 3; ++axis)
                    if ((corner >> axis & 1) == 0) worldLine(p, box.corner(corner), box.corner(corner | 1 << axis));
            break;
        }
        case script::Mark::Shape::Label:
            if (at) paintNote(p, toQt(*at) + QPointF(8, -8), QString::fromStdString(mark.text));
            break;
        case script::Mark::Shape::Dot:
            if (!at) break;
            p.setBrush(colour);
            p.setPen(QPen(editor_.theme().window, 1.25));
            p.drawEllipse(toQt(*at), 4.5, 4.5);
            break;
        case script::Mark::Shape::Handle: break;  // with the other grips of the selected object
    }
    p.setBrush(Qt::NoBrush);
}

void ViewWidget::paintScripts(QPainter& p) const {
    constexpr std::size_t kMostShown = 4000;
    const Scripts& scripts = editor_.scripts();
    std::size_t left = kMostShown;
    for (const script::Mark& mark : scripts.marks())
        if (left > 0) --left, paintMark(p, mark);
    for (const auto& [slot, look] : stage_.scriptLooks()) {
        if (editor_.isHidden(slot)) continue;
        for (const script::Mark& mark : look.marks)
            if (left > 0) --left, paintMark(p, mark);
    }
    const auto& preview = scripts.preview();
    if (!preview) return;
    const Theme& theme = editor_.theme();
    for (const Piece& ghost : preview->ghosts)  // far ones are small: a dot says where
        if (left > 0)
            --left,
                paintMark(p, {script::Mark::Shape::Dot, ghost.pose.translation, {}, 0, toLinear(theme.moss), {}, {}});
    for (const auto& [from, to] : preview->ways)
        if (left > 0) --left, paintMark(p, {script::Mark::Shape::Arrow, from, to, 0, toLinear(theme.honey), {}, {}});
    for (const base::Aabb& box : preview->gone)
        if (left > 0)
            --left, paintMark(p, {script::Mark::Shape::Box, box.low, box.high, 0, toLinear(theme.rose), {}, {}});
}

/// A quiet sign at what checks have found, and what explains the one that is looked at.
void ViewWidget::paintFindings(QPainter& p) const {
    constexpr std::size_t kMostSigns = 300;
    const Checks& checks = editor_.checks();
    const Theme& theme = editor_.theme();
    auto colourOf = [&](check::Severity s) {
        return s == check::Severity::Error ? theme.rose : s == check::Severity::Caution ? theme.lemon : theme.dim;
    };
    std::size_t left = kMostSigns;
    for (const check::Finding& f : checks.findings()) {
        const Slot slot = editor_.scene().find(f.object);
        if (slot == kNoSlot || left == 0 || editor_.isHidden(slot)) continue;
        const base::Aabb box = editor_.scene().subtreeBounds(slot);
        const base::Vec3 top = box.empty() ? editor_.scene().world(slot).translation
                                           : base::Vec3(box.centre().x, box.high.y, box.centre().z);
        const auto at = camera_.project(top, viewport());
        if (!at) continue;
        --left;
        const QPointF o = toQt(*at) + QPointF(0, -9);
        p.setPen(QPen(theme.window, 1));
        p.setBrush(colourOf(f.severity));
        if (f.severity == check::Severity::Error)
            p.drawRect(QRectF(o.x() - 4, o.y() - 4, 8, 8));
        else if (f.severity == check::Severity::Caution)
            p.drawPolygon(QPolygonF{o + QPointF(0, -5), o + QPointF(5, 4), o + QPointF(-5, 4)});
        else
            p.drawEllipse(o, 3.5, 3.5);
    }
    p.setBrush(Qt::NoBrush);
    if (!checks.current()) return;
    for (script::Mark mark : checks.current()->marks) {
        if (!mark.colour) mark.colour = toLinear(colourOf(checks.current()->severity));
        paintMark(p, mark);
    }
}

/// What a preview would place or move, as ghosts.
void ViewWidget::collectScriptGhosts() {
    const auto& preview = editor_.scripts().preview();
    if (!preview) return;
    for (const Piece& piece : preview->ghosts)
        over_.meshes[piece.item].push_back(
            render::instanceOf(piece.pose, camera_.eye, pack(editor_.theme().moss, 175)));
}

/// The handles that behaviours give the one selected object.
void ViewWidget::appendScriptHandles(std::vector<FacetGrip>& grips) const {
    const Slot slot = editor_.scene().find(editor_.selection().front());
    const auto look = stage_.scriptLooks().find(slot);
    if (look == stage_.scriptLooks().end()) return;
    std::size_t index = 0;
    for (const script::Mark& mark : look->second.marks)
        if (mark.shape == script::Mark::Shape::Handle) grips.push_back({ScriptHandle{index++}, mark.a});
}

}  // namespace app
