// Sightlines: while something is moved, what in the level it is in line with, shown, named and caught.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"

namespace app {

using model::Slot;
using query::BoxSide;
using query::Flush;
using render::Task;

namespace {

constexpr std::size_t kMostShown = 6, kMostTold = 3;
constexpr double kReachPixels = 7;
constexpr double kExact = 5e-5;  // metres: in line for the eye and for the game

/// Where the plane at `value` across `axis` cuts a box: four corners.
std::array<base::Vec3, 4> cutOf(const base::Aabb& box, int axis, double value) {
    std::array<base::Vec3, 4> corners;
    const int a = (axis + 1) % 3, b = (axis + 2) % 3;
    for (int i = 0; i < 4; ++i) {
        base::Vec3& p = corners[static_cast<std::size_t>(i)];
        p[axis] = value;
        p[a] = i == 1 || i == 2 ? box.high[a] : box.low[a];
        p[b] = i >= 2 ? box.high[b] : box.low[b];
    }
    return corners;
}

/// What of a line lies in a rectangle (Liang and Barsky, 1984).
std::optional<QLineF> clipped(const QLineF& line, const QRectF& rect) {
    double from = 0, to = 1;
    const double dx = line.dx(), dy = line.dy();
    for (const auto& [way, room] : {std::pair{-dx, line.x1() - rect.left()},
                                    {dx, rect.right() - line.x1()},
                                    {-dy, line.y1() - rect.top()},
                                    {dy, rect.bottom() - line.y1()}}) {
        if (way == 0 && room < 0) return std::nullopt;
        if (way == 0) continue;
        const double t = room / way;
        (way < 0 ? from : to) = way < 0 ? std::max(from, t) : std::min(to, t);
    }
    if (from > to) return std::nullopt;
    return QLineF(line.pointAt(from), line.pointAt(to));
}

}  // namespace

/// Lines of this drag lie along `axes`; along the world's own where those are the same.
void ViewWidget::setLineFrame(const base::Mat3& axes) {
    bool askew = std::abs(glm::determinant(axes) - 1) > 1e-9, sameAsWorld = true;
    for (int k = 0; k < 3; ++k) {
        const base::Vec3 way = glm::abs(axes[k]);
        sameAsWorld = sameAsWorld && std::max({way.x, way.y, way.z}) > 1 - 1e-12;
        askew = askew || std::abs(glm::dot(axes[k], axes[(k + 1) % 3])) > 1e-9;
    }
    lineFrame_ = sameAsWorld || askew ? base::Mat3(1.0) : axes;
    lineBox_ = boxInFrame();
    stage_.flush(lineFrame_);
}

/// The box of what is dragged as it stands, along the lines' frame.
base::Aabb ViewWidget::boxInFrame() const {
    base::Aabb box;
    const query::MeshLookup meshes = [this](base::Name item) { return editor_.meshIndex(item); };
    for (base::ObjectId id : mover_->ids())
        if (const Slot s = editor_.scene().find(id); s != model::kNoSlot)
            box.add(query::boxAlong(editor_.scene(), meshes, s, lineFrame_));
    const base::Vec3 point = glm::transpose(lineFrame_) * mover_->start();
    return box.empty() ? base::Aabb{point, point} : box;
}

/// What the selection's box, moved by `moved`, is in line with along the axes of the lines' frame that it moves along;
/// with C held the best of each axis is caught, and `moved` changed to that.
void ViewWidget::lineUp(base::Vec3& moved, const std::array<bool, 3>& along) {
    flush_.clear();
    const query::FlushIndex* index = stage_.flush(lineFrame_);
    if (index == nullptr) return;
    base::Vec3 offset = glm::transpose(lineFrame_) * moved;
    const query::SlotFilter others = caughtOn();
    for (int axis = 0; axis < 3; ++axis) {
        if (!along[static_cast<std::size_t>(axis)]) continue;
        base::Aabb box{lineBox_.low + offset, lineBox_.high + offset};
        const double reach = kReachPixels * camera_.metresPerPixel(lineFrame_ * box.centre(), viewport());
        auto found = index->near(editor_.scene(), box, axis, reach, kMostShown, others);
        if (found.empty()) continue;
        if (heldKeys_.contains(Qt::Key_C) || editor_.catchFlush()) {
            offset[axis] += found.front().residue;
            moved = lineFrame_ * offset;
            box = {lineBox_.low + offset, lineBox_.high + offset};
            found = index->near(editor_.scene(), box, axis, kExact, kMostShown, others);
        }
        flush_.insert(flush_.end(), found.begin(), found.end());
    }
    std::stable_sort(flush_.begin(), flush_.end(),
                     [](const Flush& a, const Flush& b) { return std::abs(a.residue) < std::abs(b.residue) - kExact; });
}

/// "top = Far wall, top, 312 m"
QString ViewWidget::flushText(const Flush& f, int decimals) const {
    const QString words[3][3] = {{tr("left side"), tr("middle"), tr("right side")},
                                 {tr("bottom"), tr("middle"), tr("top")},
                                 {tr("north side"), tr("middle"), tr("south side")}};
    const auto name = editor_.scene().nameText(f.slot);
    const QString other = toQt(name);
    auto word = [&](query::BoxSide which) {
        if (lineFrame_[f.axis][f.axis] > 1 - 1e-9) return words[f.axis][static_cast<int>(which)];
        const QString axis = QString("XYZ").mid(f.axis, 1);
        return which == BoxSide::Low    ? tr("−%1 side").arg(axis)
               : which == BoxSide::High ? tr("+%1 side").arg(axis)
                                        : tr("middle along %1").arg(axis);
    };
    const QString own = word(f.own), side = word(f.other);
    const bool exact = std::abs(f.residue) < kExact;
    const QString off = exact ? QStringLiteral("=") : tr("%1 m off").arg(fixed(std::abs(f.residue), decimals));
    return tr("%1 %2 %3 of %4, %5 m away").arg(own, off, side, other, fixed(f.distance, f.distance < 10 ? 1 : 0));
}

void ViewWidget::rememberFlush() {
    flushAfter_.clear();
    const query::FlushIndex* index = stage_.flush(lineFrame_);
    if (!mover_ || index == nullptr) return;
    const base::Aabb box = boxInFrame();
    const query::SlotFilter others = [this](Slot s) { return !stage_.tinted().contains(s) && !editor_.isHidden(s); };
    std::vector<Flush> found;
    for (int axis = 0; axis < 3; ++axis) {
        const auto some = index->near(editor_.scene(), box, axis, 0.02, kMostTold, others);
        found.insert(found.end(), some.begin(), some.end());
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Flush& a, const Flush& b) { return a.distance < b.distance; });
    found.resize(std::min(found.size(), kMostTold));
    for (const Flush& f : found)
        flushAfter_ << flushText(f, 4) + (std::abs(f.residue) < 1e-9 ? tr(", exactly")
                                          : std::abs(f.residue) < kExact
                                              ? tr(", but for %1 m").arg(f.residue, 0, 'e', 1)
                                              : QString());
    flushFade_.start();
    update();
}

/// The next thing is done: what was told of the last one goes.
void ViewWidget::forgetFlush() {
    if (flushAfter_.isEmpty()) return;
    flushFade_.stop();
    flushAfter_.clear();
    update();
}

// A dotted line in the world, cut off at the eye.
void ViewWidget::worldLine(QPainter& p, base::Vec3 a, base::Vec3 b) const {
    const double near = camera_.isFlat() ? -1e9 : 0.05;
    const double da = glm::dot(a - camera_.eye, camera_.forward()), db = glm::dot(b - camera_.eye, camera_.forward());
    if (da < near && db < near) return;
    if (da < near) a = a + (b - a) * ((near - da) / (db - da));
    if (db < near) b = b + (a - b) * ((near - db) / (da - db));
    const auto from = camera_.project(a, viewport()), to = camera_.project(b, viewport());
    if (!from || !to) return;
    // Far outside, Qt's dash pattern would take forever.
    if (const auto line = clipped({toQt(*from), toQt(*to)}, QRectF(rect()).adjusted(-20, -20, 20, 20)))
        p.drawLine(*line);
}

// Where the handle's axes go through something: a ring on each surface, in the axis's colour.
void ViewWidget::paintPierced(QPainter& p) const {
    const auto h = editor_.looks().piercedBy ? handle() : std::nullopt;
    const query::SceneIndex* index = editor_.index();
    if (!h || index == nullptr) return;
    constexpr std::size_t kMost = 5;  // each way
    const query::SlotFilter others = [this](Slot s) { return !stage_.tinted().contains(s) && !editor_.isHidden(s); };
    for (int axis = 0; axis < 3; ++axis) {
        const base::Vec3 along = h->axesFor(h->fit && !h->slide ? Task::Fit : Task::Slide)[axis];
        for (const base::Vec3& way : {along, -along})
            for (const query::SceneHit& hit : index->pickAll(editor_.scene(), {h->origin, way}, kMost, others))
                paintRing(p, hit, editor_.theme().axis[static_cast<std::size_t>(axis)]);
    }
}

// A small circle that lies on the surface that was hit.
void ViewWidget::paintRing(QPainter& p, const query::SceneHit& hit, const QColor& ink) const {
    const double reach = camera_.metresPerPixel(hit.point, viewport()) * 7;
    const base::Vec3 aside = glm::normalize(
        glm::cross(hit.normal, std::abs(hit.normal.y) < 0.9 ? base::Vec3(0, 1, 0) : base::Vec3(1, 0, 0)));
    const base::Vec3 across = glm::cross(hit.normal, aside);
    QPolygonF ring;
    for (int i = 0; i <= 24; ++i) {
        const double a = 2 * base::kPi * i / 24;
        const base::Vec3 at = hit.point + (aside * std::cos(a) + across * std::sin(a)) * reach;
        if (const auto pixel = camera_.project(at, viewport())) ring << toQt(*pixel);
    }
    p.setBrush(Qt::NoBrush);
    for (const auto& [colour, wide] : {std::pair{editor_.theme().window, 4.0}, {ink, 2.0}}) {
        p.setPen(QPen(colour, wide));
        p.drawPolyline(ring);
    }
}

void ViewWidget::paintFlush(QPainter& p) const {
    const Theme& t = editor_.theme();
    const query::FlushIndex* index = !flush_.empty() && mover_ ? stage_.flush(lineFrame_) : nullptr;
    if (index != nullptr) {
        const base::Vec3 moved = drag_ && !grip_ ? amount_.offset : carry_ ? carry_->offset : base::Vec3(0.0);
        const base::Vec3 offset = glm::transpose(lineFrame_) * moved;
        const base::Aabb own{lineBox_.low + offset, lineBox_.high + offset};
        for (const Flush& f : flush_) {
            const bool exact = std::abs(f.residue) < kExact;
            QColor ink = exact ? t.honey : t.text;
            ink.setAlpha(exact ? 230 : 110);
            QPen dotted(ink, exact ? 1.8 : 1.2, Qt::CustomDashLine, Qt::RoundCap);
            dotted.setDashPattern({0.1, 3.0});
            p.setPen(dotted);
            const base::Aabb& other = index->boxOf(f.slot);
            const auto there = cutOf(other, f.axis, f.value);
            for (std::size_t i = 0; i < 4; ++i) worldLine(p, lineFrame_ * there[i], lineFrame_ * there[(i + 1) % 4]);
            // One stroke across the level they share, where the other is nearest to what is moved.
            base::Vec3 meeting = glm::clamp(own.centre(), other.low, other.high);
            meeting[f.axis] = f.value;
            const double half = camera_.metresPerPixel(lineFrame_ * meeting, viewport()) * 9;
            base::Vec3 stroke(0.0);
            stroke[f.axis] = half;
            p.setPen(QPen(ink, 2.4, Qt::SolidLine, Qt::RoundCap));
            worldLine(p, lineFrame_ * (meeting - stroke), lineFrame_ * (meeting + stroke));
        }
    }
    if (flushAfter_.isEmpty() && flush_.empty()) return;
    QStringList lines = flushAfter_;
    if (!flush_.empty()) {
        lines.clear();
        for (std::size_t i = 0; i < std::min(flush_.size(), kMostTold); ++i) lines << flushText(flush_[i], 3);
    }
    QFont font = p.font();
    font.setPixelSize(11);
    font.setWeight(QFont::Normal);
    p.setFont(font);
    double wide = 0;
    for (const QString& line : lines) wide = std::max(wide, QFontMetricsF(font).horizontalAdvance(line));
    QRectF box((width() - wide) / 2 - 10, 10, wide + 20, 8 + 16.0 * static_cast<double>(lines.size()));
    if (box.left() < caption_->geometry().right() + 8) box.moveTop(caption_->geometry().bottom() + 6);
    QColor back = t.window;
    back.setAlpha(225);
    p.setPen(Qt::NoPen);
    p.setBrush(back);
    p.drawRoundedRect(box, 6, 6);
    p.setPen(t.text);
    for (int i = 0; i < lines.size(); ++i)
        p.drawText(QRectF(box.left(), box.top() + 4 + 16.0 * i, box.width(), 16), Qt::AlignCenter, lines[i]);
}

}  // namespace app
