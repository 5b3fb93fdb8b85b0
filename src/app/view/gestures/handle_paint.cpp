#include "app/view/gestures/handle_paint.h"
#include "app/shell/sight.h"
#include "app/view/looks.h"

#include <cmath>

namespace app {

using render::HandlePart;
using render::kAll;
using render::Task;

namespace {

/// An axis's letter on a ground of its own.
void paintLetter(QPainter& p, const Theme& theme, const QPointF& at, int axis, const QColor& ink) {
    p.setPen(Qt::NoPen);
    p.setBrush(theme.window);
    p.drawEllipse(at, 8, 8);
    p.setPen(ink);
    p.drawText(QRectF(at - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, QString("XYZ").mid(axis, 1));
}

void paintRings(QPainter& p, const ViewContext& view, const render::Handle& h, const HandleLook& look) {
    const Theme& t = view.editor.theme();
    for (const int which : {kAll, 0, 1, 2}) {
        const HandlePart part{Task::Turn, which};
        if (look.dragged && look.active != part) continue;
        QColor c = which == kAll ? t.dim : t.axis[which];
        if (part == look.active) c = c.lighter(135);
        const auto ring = h.ring(which, view.camera, view.viewport());
        QPointF label;
        for (std::size_t i = 0; i + 1 < ring.size(); ++i) {
            const auto a = view.pixelOf(ring[i].at), b = view.pixelOf(ring[i + 1].at);
            if (!a || !b) continue;
            const bool front = ring[i].front && ring[i + 1].front;
            QColor ink = c;
            ink.setAlpha(front ? 255 : 60);
            p.setPen(QPen(ink, (part == look.active ? 3.6 : which == kAll ? 1.4 : 2.4) * (front ? 1 : 0.5)));
            p.drawLine(*a, *b);
            if (front && i % 12 == 6) label = *b;
        }
        if (which == kAll || label.isNull()) continue;
        paintLetter(p, t, label, which, c);
    }
}

void paintPlanes(QPainter& p, const ViewContext& view, const render::Handle& h, const HandleLook& look) {
    const Theme& t = view.editor.theme();
    const Task task = h.slide ? Task::Slide : Task::Fit;
    for (int without = 0; without < 3; ++without) {
        const HandlePart part{task, without + 3};
        if (!h.planeUsable(task, without, view.camera) || (look.dragged && look.active != part)) continue;
        QPolygonF square;
        for (const base::Vec3& corner : h.planeSquare(task, without, view.camera, view.viewport()))
            if (const auto pixel = view.pixelOf(corner)) square << *pixel;
        QColor fill = t.axis[without];
        fill.setAlpha(part == look.active ? 190 : 80);
        p.setPen(QPen(part == look.active ? t.axis[without].lighter(135) : t.axis[without], 1.2));
        p.setBrush(fill);
        p.drawPolygon(square);
    }
}

// Sliding ends in the axis' mark (cube, ball, cone), sizing in a bar across.
void paintAxis(QPainter& p, const ViewContext& view, const render::Handle& h, Task task, int axis,
               const HandleLook& look) {
    const Theme& t = view.editor.theme();
    const HandlePart part{task, axis};
    const bool on = part == look.active;
    const auto centre = view.pixelOf(h.origin);
    const auto tip = view.pixelOf(h.tip(task, axis, view.camera, view.viewport()));
    if (!centre || !tip || !h.axisUsable(task, axis, view.camera)) return;
    if (look.dragged && look.active.task == task && look.active != part && look.active.axis() >= 0) return;
    const QPointF a = *centre, b = *tip;
    const QColor c = on ? t.axis[axis].lighter(135) : t.axis[axis];
    p.setPen(QPen(c, on ? 4 : 3, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(a, b);
    const double r = on ? 7 : 5.5;
    if (!look.dragged && part == look.typed) {  // the active axis: what Tab types for
        p.setPen(QPen(t.text, 1.5));
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(b, 11, 11);
    }
    const QPointF way = (b - a) / std::max(1.0, std::hypot(b.x() - a.x(), b.y() - a.y()));
    const QPointF across(-way.y(), way.x());
    if (task == Task::Fit) {
        p.setPen(QPen(c, on ? 6 : 5, Qt::SolidLine, Qt::FlatCap));
        p.drawLine(b - across * (r + 2), b + across * (r + 2));
        if (h.slide) return;
    } else {
        p.setPen(QPen(t.window, 1));
        p.setBrush(c);
        if (axis == 0) p.drawRect(QRectF(b.x() - r, b.y() - r, 2 * r, 2 * r));
        if (axis == 1) p.drawEllipse(b, r + 0.5, r + 0.5);
        if (axis == 2)
            p.drawPolygon(
                QPolygonF({b + way * r * 1.7, b - way * r * 0.6 + across * r, b - way * r * 0.6 - across * r}));
    }
    paintLetter(p, t, b + way * 18, axis, c);
}

// A small circle that lies on the surface that was hit.
void paintRing(QPainter& p, const ViewContext& view, const query::SceneHit& hit, const QColor& ink) {
    const double reach = view.metresPerPixel(hit.point) * 7;
    const base::Vec3 aside = glm::normalize(
        glm::cross(hit.normal, std::abs(hit.normal.y) < 0.9 ? base::Vec3(0, 1, 0) : base::Vec3(1, 0, 0)));
    const base::Vec3 across = glm::cross(hit.normal, aside);
    QPolygonF ring;
    for (int i = 0; i <= 24; ++i) {
        const double a = 2 * base::kPi * i / 24;
        const base::Vec3 at = hit.point + (aside * std::cos(a) + across * std::sin(a)) * reach;
        if (const auto pixel = view.pixelOf(at)) ring << *pixel;
    }
    p.setBrush(Qt::NoBrush);
    for (const auto& [colour, wide] : {std::pair{view.editor.theme().window, 4.0}, {ink, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.drawPolyline(ring);
    }
}

}  // namespace

void paintPierced(QPainter& p, const ViewContext& view, const render::Handle& h) {
    const Editor& editor = view.editor;
    const query::SceneIndex* index = editor.sight().index();
    if (!editor.looks().piercedBy || index == nullptr) return;
    constexpr std::size_t kMost = 5;  // each way
    for (int axis = 0; axis < 3; ++axis) {
        const base::Vec3 along = h.axesFor(h.fit && !h.slide ? Task::Fit : Task::Slide)[axis];
        for (const base::Vec3& way : {along, -along})
            for (const query::SceneHit& hit : index->pickAll(editor.scene(), {h.origin, way}, kMost, view.others()))
                paintRing(p, view, hit, editor.theme().axis[static_cast<std::size_t>(axis)]);
    }
}

void paintHandle(QPainter& p, const ViewContext& view, const render::Handle& h, const HandleLook& look) {
    const auto centre = view.pixelOf(h.origin);
    if (!centre) return;
    const Theme& t = view.editor.theme();
    setLetters(p, 12, QFont::DemiBold);
    if (h.turn && (!look.dragged || look.active.task == Task::Turn)) {
        p.setBrush(Qt::NoBrush);
        paintRings(p, view, h, look);
    }
    if (!look.dragged || look.active.task != Task::Turn) {
        if (h.slide || h.fit) paintPlanes(p, view, h, look);
        for (const Task task : {Task::Slide, Task::Fit})
            for (int axis = 0; axis < 3; ++axis)
                if ((task == Task::Slide ? h.slide : h.fit) && (!look.dragged || look.active.task == task))
                    paintAxis(p, view, h, task, axis, look);
    }
    if (!look.middle) return;
    p.setPen(QPen(t.window, 1));
    p.setBrush(look.active.which == kAll && look.active.task != Task::Turn ? t.honey : t.text);
    if (h.slide || h.fit)
        p.drawRoundedRect(QRectF(*centre - QPointF(5.5, 5.5), QSizeF(11, 11)), 2, 2);
    else
        p.drawEllipse(*centre, 2.5, 2.5);
}

}  // namespace app
