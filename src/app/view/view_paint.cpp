// What lies over the picture: brackets, handle, readout, marks, the directions in words.
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "model/facets/camera.h"
#include "model/facets/light.h"
#include "model/facets/note.h"

namespace app {

using model::kNoSlot;
using model::Slot;
using render::HandlePart;
using render::kAll;
using render::Task;

namespace {

/// Words on a ground of their own, `alpha` of 255 thick.
void paintWords(QPainter& p, const QRectF& box, const QString& text, const Theme& theme, int alpha) {
    QColor back = theme.window;
    back.setAlpha(alpha);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(box, 4, 4);
    p.setPen(theme.text);
    p.drawText(box, Qt::AlignCenter, text);
}

void paintTag(QPainter& p, const QPointF& bottomLeft, const QString& text, const QColor& back, const QColor& ink) {
    QFont font = p.font();
    font.setPixelSize(11);
    font.setWeight(QFont::DemiBold);
    p.setFont(font);
    const QRectF box(bottomLeft.x(), bottomLeft.y() - 17, QFontMetricsF(font).horizontalAdvance(text) + 12, 16);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(box, 4, 4);
    p.setPen(ink);
    p.drawText(box, Qt::AlignCenter, text);
}

}  // namespace

void ViewWidget::paintEvent(QPaintEvent*) {
    QPainter p(this);
    if (!editor_.isOpen() || !stage_.renderer().problem().isEmpty()) {
        p.fillRect(rect(), editor_.theme().viewBottom);
        p.setPen(editor_.theme().dim);
        QString text = stage_.renderer().problem();
        if (text.isEmpty() && !editor_.isOpening())
            text = tr("No project is open.\nOpen one with Ctrl+O, or make a new one with Ctrl+Shift+N.");
        p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, text);
        return;
    }
    if (stale_) drawFrame();
    if (image_.size() == size())
        p.drawImage(0, 0, image_);
    else
        p.drawImage(rect(), image_);
    p.setRenderHint(QPainter::Antialiasing);
    if (editor_.looks().clean) return;
    paintMarks(p);
    paintReach(p);
    paintBrackets(p);
    paintLabels(p);
    paintFacets(p);
    paintDropOn(p);
    paintBadges(p);
    paintLinks(p);
    paintPierced(p);
    paintHandle(p);
    paintArray(p);
    paintFlush(p);
    paintCaught(p);
    paintShape(p);
    paintDirections(p);
    paintScaleBar(p);
    paintMeasure(p);
    paintBasePoint(p);
    paintDrawing(p);
    paintBroom(p);
    paintDrops(p);
    paintInset(p);
    paintPulse(p);
    paintReadout(p);
}

void ViewWidget::paintBracketsOf(QPainter& p, const base::Aabb& box, const QColor& colour, const QString& name) const {
    QRectF frame;
    for (int i = 0; i < 8; ++i) {
        const auto pixel = camera_.project(box.corner(i), viewport());
        if (!pixel) return;
        const QRectF dot(toQt(*pixel), QSizeF(0.01, 0.01));
        frame = frame.isNull() ? dot : frame.united(dot);
    }
    frame.adjust(-5, -5, 5, 5);
    if (!frame.intersects(rect()) || frame.width() > 6000) return;
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
    QFont font = p.font();
    font.setPixelSize(11);
    font.setWeight(QFont::DemiBold);
    const double wide = QFontMetricsF(font).horizontalAdvance(name) + 12;
    const bool beside = frame.width() < 140 && frame.left() - wide > 10;
    const double y = std::max(beside ? frame.top() + 12 : frame.top() - 5, 22.0);
    const double x = beside ? frame.left() - wide - 6 : std::clamp(frame.left(), 4.0, width() - 60.0);
    paintTag(p, {x, y}, name, colour, editor_.theme().honeyInk);
}

void ViewWidget::paintBrackets(QPainter& p) const {
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
        paintBracketsOf(p, box, editor_.theme().honey, ids.size() == 1 ? toQt(name) : QString());
    }
    if (ids.size() > 1 && !whole.empty())
        if (const auto top = camera_.project(whole.corner(2), viewport()))
            paintTag(p, toQt(*top) + QPointF(0, -6), tr("%1 objects").arg(ids.size()), editor_.theme().honey,
                     editor_.theme().honeyInk);
    if (hovered_ != kNoSlot && scene.alive(hovered_) && !editor_.isSelected(hovered_) && !isDragging()) {
        QColor faint = editor_.theme().text;
        faint.setAlpha(120);
        paintBracketsOf(p, boxOf(hovered_), faint, {});
    }
}

std::vector<ViewWidget::Mark> ViewWidget::visibleMarks() const {
    constexpr double kFarthest = 90;
    std::vector<Mark> marks;
    const model::Scene& scene = editor_.scene();
    for (Slot s : stage_.marked()) {
        const base::Vec3 at = scene.world(s).translation;
        const double distance = camera_.distanceTo(at);
        if ((!camera_.isFlat() && distance > kFarthest) || editor_.isHidden(s)) continue;
        const auto pixel = camera_.project(at, viewport());
        if (!pixel || !rect().contains(toQt(*pixel).toPoint())) continue;
        const auto hit = editor_.surfaceUnder(camera_.rayTo(at), false);
        if (hit && hit->distance < distance - 0.4) continue;
        marks.push_back({s, toQt(*pixel), camera_.isFlat() ? 15 : distance});
        if (marks.size() >= 120) break;
    }
    return marks;
}

void ViewWidget::paintMarks(QPainter& p) const {
    const Theme& t = editor_.theme();
    for (const Mark& mark : visibleMarks()) {
        const auto& detail = editor_.scene().detail(mark.slot);
        const bool lit = detail && detail->get<model::Light>(), camera = detail && detail->get<model::Camera>(),
                   note = detail && detail->get<model::Note>();
        const double r = mark.distance < 25 ? 7 : 4.5;
        QColor ink = stage_.tinted().contains(mark.slot) ? t.honey
                     : lit                               ? t.lemon
                     : note                              ? t.lilac
                     : camera                            ? t.text
                                                         : t.moss;
        QColor back = t.panel;
        back.setAlpha(200);
        p.setPen(QPen(ink, mark.slot == hovered_ ? 2.2 : 1.4));
        p.setBrush(back);
        if (lit) {
            p.drawEllipse(mark.at, r * 0.6, r * 0.6);
            for (int i = 0; i < 8; ++i) {
                const double a = i * base::kPi / 4;
                p.drawLine(mark.at + QPointF(std::cos(a), std::sin(a)) * r * 0.85,
                           mark.at + QPointF(std::cos(a), std::sin(a)) * r * 1.15);
            }
        } else if (camera) {
            p.drawRect(QRectF(mark.at.x() - r, mark.at.y() - r * 0.6, r * 1.4, r * 1.2));
            p.drawPolygon(QPolygonF({mark.at + QPointF(r * 0.4, 0), mark.at + QPointF(r * 1.1, -r * 0.6),
                                     mark.at + QPointF(r * 1.1, r * 0.6)}));
        } else if (note) {
            p.drawPolygon(QPolygonF({mark.at + QPointF(-r, -r), mark.at + QPointF(r, -r), mark.at + QPointF(r, r * 0.4),
                                     mark.at + QPointF(r * 0.3, r), mark.at + QPointF(-r, r)}));
        } else {
            p.drawPolygon(QPolygonF({mark.at + QPointF(0, -r), mark.at + QPointF(r, 0), mark.at + QPointF(0, r),
                                     mark.at + QPointF(-r, 0)}));
        }
    }
}

void ViewWidget::paintRings(QPainter& p, const render::Handle& h, const HandlePart& active) const {
    const Theme& t = editor_.theme();
    for (const int which : {kAll, 0, 1, 2}) {
        const HandlePart part{Task::Turn, which};
        if (drag_ && active != part) continue;
        QColor c = which == kAll ? t.dim : t.axis[which];
        if (part == active) c = c.lighter(135);
        const auto ring = h.ring(which, camera_, viewport());
        QPointF label;
        for (std::size_t i = 0; i + 1 < ring.size(); ++i) {
            const auto a = camera_.project(ring[i].at, viewport()), b = camera_.project(ring[i + 1].at, viewport());
            if (!a || !b) continue;
            const bool front = ring[i].front && ring[i + 1].front;
            QColor ink = c;
            ink.setAlpha(front ? 255 : 60);
            p.setPen(QPen(ink, (part == active ? 3.6 : which == kAll ? 1.4 : 2.4) * (front ? 1 : 0.5)));
            p.drawLine(toQt(*a), toQt(*b));
            if (front && i % 12 == 6) label = toQt(*b);
        }
        if (which == kAll || label.isNull()) continue;
        paintLetter(p, label, which, c);
    }
}

void ViewWidget::paintPlanes(QPainter& p, const render::Handle& h, const HandlePart& active) const {
    const Theme& t = editor_.theme();
    const Task task = h.slide ? Task::Slide : Task::Fit;
    for (int without = 0; without < 3; ++without) {
        const HandlePart part{task, without + 3};
        if (!h.planeUsable(task, without, camera_) || (drag_ && active != part)) continue;
        QPolygonF square;
        for (const base::Vec3& corner : h.planeSquare(task, without, camera_, viewport()))
            if (const auto pixel = camera_.project(corner, viewport())) square << toQt(*pixel);
        QColor fill = t.axis[without];
        fill.setAlpha(part == active ? 190 : 80);
        p.setPen(QPen(part == active ? t.axis[without].lighter(135) : t.axis[without], 1.2));
        p.setBrush(fill);
        p.drawPolygon(square);
    }
}

// Sliding ends in the axis' mark (cube, ball, cone), sizing in a bar across.
void ViewWidget::paintAxis(QPainter& p, const render::Handle& h, Task task, int axis, const HandlePart& active) const {
    const Theme& t = editor_.theme();
    const HandlePart part{task, axis};
    const bool on = part == active;
    const auto centre = camera_.project(h.origin, viewport());
    const auto tip = camera_.project(h.tip(task, axis, camera_, viewport()), viewport());
    if (!centre || !tip || !h.axisUsable(task, axis, camera_)) return;
    if (drag_ && active.task == task && active != part && active.axis() >= 0) return;
    const QPointF a = toQt(*centre), b = toQt(*tip);
    const QColor c = on ? t.axis[axis].lighter(135) : t.axis[axis];
    p.setPen(QPen(c, on ? 4 : 3, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(a, b);
    const double r = on ? 7 : 5.5;
    if (!drag_ && part == typedPart()) {  // the active axis: what Tab types for
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
    paintLetter(p, b + way * 18, axis, c);
}

/// An axis's letter on a ground of its own.
void ViewWidget::paintLetter(QPainter& p, const QPointF& at, int axis, const QColor& ink) const {
    p.setPen(Qt::NoPen);
    p.setBrush(editor_.theme().window);
    p.drawEllipse(at, 8, 8);
    p.setPen(ink);
    p.drawText(QRectF(at - QPointF(8, 8), QSizeF(16, 16)), Qt::AlignCenter, QString("XYZ").mid(axis, 1));
}

void ViewWidget::paintHandle(QPainter& p) const {
    const auto h = handle();
    if (!h) return;
    const auto centre = camera_.project(h->origin, viewport());
    if (!centre) return;
    const Theme& t = editor_.theme();
    const HandlePart active = drag_ ? drag_->part() : hoveredPart_;
    QFont font = p.font();
    font.setPixelSize(12);
    font.setWeight(QFont::DemiBold);
    p.setFont(font);
    if (h->turn && (!drag_ || active.task == Task::Turn)) {
        p.setBrush(Qt::NoBrush);
        paintRings(p, *h, active);
    }
    if (!drag_ || active.task != Task::Turn) {
        if (h->slide || h->fit) paintPlanes(p, *h, active);
        for (const Task task : {Task::Slide, Task::Fit})
            for (int axis = 0; axis < 3; ++axis)
                if ((task == Task::Slide ? h->slide : h->fit) && (!drag_ || active.task == task))
                    paintAxis(p, *h, task, axis, active);
    }
    paintSides(p);
    if (grip_) return;
    p.setPen(QPen(t.window, 1));
    p.setBrush(active.which == kAll && active.task != Task::Turn ? t.honey : t.text);
    if (h->slide || h->fit)
        p.drawRoundedRect(QRectF(toQt(*centre) - QPointF(5.5, 5.5), QSizeF(11, 11)), 2, 2);
    else
        p.drawEllipse(toQt(*centre), 2.5, 2.5);
}

/// A prefab's base: a ring on the level with a notch towards +X, and what it is.
void ViewWidget::paintBasePoint(QPainter& p) const {
    if (!editor_.basePoint()) return;
    const auto centre = camera_.project(*editor_.basePoint(), viewport());
    if (!centre) return;
    const Theme& t = editor_.theme();
    const double reach = camera_.metresPerPixel(*editor_.basePoint(), viewport()) * 26;
    QPolygonF ring;
    for (int i = 0; i <= 48; ++i) {
        const double a = 2 * base::kPi * i / 48, out = i == 0 || i == 48 ? 0.55 : 1;
        const base::Vec3 at = *editor_.basePoint() + base::Vec3(std::cos(a), 0, std::sin(a)) * (reach * out);
        if (const auto pixel = camera_.project(at, viewport())) ring << toQt(*pixel);
    }
    const QPointF at = toQt(*centre);
    for (const auto& [colour, wide] : {std::pair{t.window, 5.0}, {t.honey, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(ring);
    }
    p.setPen(Qt::NoPen);
    p.setBrush(t.honey);
    p.drawEllipse(at, 2, 2);
    paintNote(p, at + QPointF(14, -10), tr("base point"));
}

/// Where one object stands now, in the world, as its fields say it; of several `together`.
base::Vec3 ViewWidget::placeNow(const base::Vec3& together) const {
    const Slot only = mover_->ids().size() == 1 ? editor_.scene().find(mover_->ids().front()) : kNoSlot;
    return only == kNoSlot ? together : editor_.scene().world(only).translation;
}

QString ViewWidget::amountText() const {
    if (carry_) {
        const base::Vec3 to = placeNow(mover_->start() + carry_->offset);
        QString text = tr("X %1   Z %2").arg(fixed(to.x, 2), fixed(to.z, 2));
        if (carry_->radians != 0) text += tr("   turned %1°").arg(fixed(base::degrees(carry_->radians), 1));
        return text + "   " + (carry_->seated ? tr("seated") : tr("height %1").arg(fixed(to.y, 2)));
    }
    static const std::pair<const char*, const char*> kWays[] = {{"Right", "Left"}, {"Up", "Down"}, {"Back", "Forward"}};
    const HandlePart part = drag_->part();
    if (grip_) return gripText();
    QString text;
    auto add = [&](const QString& more) { text += (text.isEmpty() ? "" : "   ") + more; };
    if (part.task == Task::Turn) {
        const QString axis = part.axis() >= 0 ? QString("XYZ").mid(part.axis(), 1) + " " : QString();
        return tr("Turn %1%2°").arg(axis, fixed(base::degrees(amount_.radians), 1));
    }
    if (part.task == Task::Fit) {
        for (int axis = 0; axis < 3; ++axis) {
            if (part.axis() >= 0 ? part.axis() != axis : part.planeWithout() == axis) continue;
            const double own = mover_->ownSize(editor_.scene(), axis, editor_.session().library());
            add(own > 0 ? tr("%1 ×%2 → %3 m")
                              .arg(QString("XYZ").mid(axis, 1), fixed(amount_.factors[axis], 2), fixed(own, 2))
                        : tr("%1 ×%2").arg(QString("XYZ").mid(axis, 1), fixed(amount_.factors[axis], 2)));
        }
        return atLimit_ ? text + "   " + tr("as far as its kind allows") : text;
    }
    const bool world = editor_.axesMode() == ops::AxesMode::World || part.which == kAll;
    const base::Mat3 axes = world ? base::Mat3(1.0) : drag_->handle().axes;
    const base::Vec3 to = placeNow(drag_->handle().origin + amount_.offset);
    for (int axis = 0; axis < 3; ++axis) {
        if (part.axis() >= 0 ? part.axis() != axis : part.planeWithout() == axis) continue;
        const double d = glm::dot(amount_.offset, axes[axis]);
        if (world)
            add(QString("%1 %2 m → %3")
                    .arg(QString::fromLatin1(d >= 0 ? kWays[axis].first : kWays[axis].second), fixed(std::abs(d), 2),
                         fixed(to[axis], 2)));
        else
            add(QString("%1 %2 m").arg(QString("XYZ").mid(axis, 1), fixed(d, 2)));
    }
    if (const QString seated = seatedText(); !seated.isEmpty()) add(seated);
    return text;
}

void ViewWidget::paintNote(QPainter& p, const QPointF& at, const QString& text) const {
    QFont font = p.font();
    font.setPixelSize(11);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    const QRectF box(at.x(), at.y() - 18, QFontMetricsF(font).horizontalAdvance(text) + 12, 18);
    paintWords(p, box, text, editor_.theme(), 225);
}

void ViewWidget::paintReadout(QPainter& p) const {
    if ((!drag_ && !carry_) || !mover_ || (amountField_ != nullptr && amountField_->isVisible())) return;
    const QString text = amountText();
    QFont font = p.font();
    font.setPixelSize(12);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    const double w = QFontMetricsF(font).horizontalAdvance(text) + 20;
    QPointF at = pointer_ + QPointF(22, -44);
    at.setX(std::clamp(at.x(), 6.0, std::max(6.0, width() - w - 6.0)));
    at.setY(std::clamp(at.y(), 6.0, height() - 40.0));
    QColor back = editor_.theme().window;
    back.setAlpha(235);
    p.setPen(QPen(editor_.theme().honey, 1));
    p.setBrush(back);
    const QRectF box(at, QSizeF(w, 26));
    p.drawRoundedRect(box, 6, 6);
    p.setPen(editor_.theme().text);
    p.drawText(box, Qt::AlignCenter, text);
}

// Three short arms from the corner, with what each direction is called.
void ViewWidget::paintDirections(QPainter& p) const {
    const QPointF origin(86, height() - 96);  // above the bar
    const base::Vec3 ways[] = {{1, 0, 0}, {0, 1, 0}, {0, 0, -1}};
    const QString words[] = {tr("right X"), tr("up Y"), tr("forward −Z")};
    std::array<std::pair<double, int>, 3> order;
    for (std::size_t i = 0; i < 3; ++i) order[i] = {-glm::dot(ways[i], camera_.forward()), static_cast<int>(i)};
    std::sort(order.begin(), order.end());
    QFont font = p.font();
    font.setPixelSize(10);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    for (const auto& [depth, i] : order) {
        const QPointF end = origin + QPointF(glm::dot(ways[i], camera_.right()), -glm::dot(ways[i], camera_.up())) * 30;
        QColor c = editor_.theme().axis[i];
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
        QPointF way(glm::dot(ways[i], camera_.right()), -glm::dot(ways[i], camera_.up()));
        const QPointF end = origin + way * 30;
        const double length = std::hypot(way.x(), way.y());
        way = length > 0.2 ? way / length : QPointF(0, 1);
        const double w = QFontMetricsF(font).horizontalAdvance(words[i]) + 8;
        const QPointF middle = end + QPointF(way.x() * (w / 2 + 6), way.y() * 12);
        QRectF box(std::max(middle.x() - w / 2, 4.0), middle.y() - 8, w, 16);
        auto covered = [&] {
            return std::any_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(box); });
        };
        while (covered()) box.translate(0, way.y() < 0 ? -4 : 4);
        taken.push_back(box);
        paintWords(p, box, words[i], editor_.theme(), 170);
    }
}

}  // namespace app
