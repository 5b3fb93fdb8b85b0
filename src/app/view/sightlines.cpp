#include "app/view/sightlines.h"

#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/sight.h"
#include "app/view/pixels.h"
#include "app/view/view_context.h"
#include "base/text.h"

namespace app {

using query::BoxSide;
using query::Flush;

namespace {

constexpr std::size_t kMostShown = 6, kMostTold = 3, kMostOfSide = 12;
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

}  // namespace

Sightlines::Sightlines(ViewContext& view) : view_(view) {
    fade_.setSingleShot(true);
    fade_.setInterval(6000);
    connect(&fade_, &QTimer::timeout, this, &Sightlines::forget);
    connect(&view.editor, &Editor::historyChanged, this, &Sightlines::forget);
    connect(&view.editor, &Editor::selectionChanged, this, &Sightlines::forget);
    connect(&view.editor, &Editor::toolChanged, this, &Sightlines::forget);
}

void Sightlines::begin(const ops::Mover& mover, const base::Mat3& axes) {
    bool askew = std::abs(glm::determinant(axes) - 1) > 1e-9, sameAsWorld = true;
    for (int k = 0; k < 3; ++k) {
        const base::Vec3 way = glm::abs(axes[k]);
        sameAsWorld = sameAsWorld && std::max({way.x, way.y, way.z}) > 1 - 1e-12;
        askew = askew || std::abs(glm::dot(axes[k], axes[(k + 1) % 3])) > 1e-9;
    }
    frame_ = sameAsWorld || askew ? base::Mat3(1.0) : axes;
    box_ = boxOf(mover);
    moved_ = base::Vec3(0.0);
    found_.clear();
    told_.clear();
    view_.stage.flush(frame_);
}

void Sightlines::begin(const base::Aabb& box) {
    frame_ = base::Mat3(1.0);
    box_ = box;
    moved_ = base::Vec3(0.0);
    found_.clear();
    view_.stage.flush(frame_);
}

/// The box of what is dragged as it stands, along the lines' frame.
base::Aabb Sightlines::boxOf(const ops::Mover& mover) const {
    base::Aabb box;
    const Editor& editor = view_.editor;
    const query::MeshLookup meshes = [&editor](base::Name item) { return editor.sight().meshIndex(item); };
    for (base::ObjectId id : mover.ids())
        if (const Slot s = editor.scene().find(id); s != model::kNoSlot)
            box.add(query::boxAlong(editor.scene(), meshes, s, frame_));
    const base::Vec3 point = glm::transpose(frame_) * mover.start();
    return box.empty() ? base::Aabb{point, point} : box;
}

double Sightlines::reachAt(const base::Vec3& place) const {
    return kReachPixels * view_.metresPerPixel(place);
}

void Sightlines::lineUp(base::Vec3& moved, const std::array<bool, 3>& along) {
    found_.clear();
    const query::FlushIndex* index = view_.stage.flush(frame_);
    if (index == nullptr) return;
    base::Vec3 offset = glm::transpose(frame_) * moved;
    const query::SlotFilter others = view_.catcher.others();
    const model::Scene& scene = view_.editor.scene();
    for (int axis = 0; axis < 3; ++axis) {
        if (!along[static_cast<std::size_t>(axis)]) continue;
        base::Aabb box{box_.low + offset, box_.high + offset};
        auto found = index->near(scene, box, axis, reachAt(frame_ * box.centre()), kMostShown, others);
        if (found.empty()) continue;
        if (view_.catcher.linesUp()) {
            offset[axis] += found.front().residue;
            moved = frame_ * offset;
            box = {box_.low + offset, box_.high + offset};
            found = index->near(scene, box, axis, kExact, kMostShown, others);
        }
        found_.insert(found_.end(), found.begin(), found.end());
    }
    std::stable_sort(found_.begin(), found_.end(),
                     [](const Flush& a, const Flush& b) { return std::abs(a.residue) < std::abs(b.residue) - kExact; });
}

void Sightlines::lineUpSides(base::Vec3& moved, const std::array<int, 3>& way, const base::Mat3& axes,
                             const base::Vec3& grip) {
    found_.clear();
    const query::FlushIndex* index = view_.stage.flush(frame_);
    if (index == nullptr) return;
    const model::Scene& scene = view_.editor.scene();
    base::Vec3 offset = glm::transpose(frame_) * moved;
    const query::SlotFilter others = view_.catcher.others();
    for (int k = 0; k < 3; ++k) {
        if (way[static_cast<std::size_t>(k)] == 0) continue;
        for (int own = 0; own < 3; ++own) {
            const double share = glm::dot(axes[k], frame_[own]);
            if (std::abs(share) < 1 - 1e-12) continue;
            const BoxSide side = way[static_cast<std::size_t>(k)] * share > 0 ? BoxSide::High : BoxSide::Low;
            // What that side, moved by `offset`, is in line with.
            auto near = [&](double reach) {
                base::Aabb box = box_;
                (side == BoxSide::High ? box.high : box.low)[own] += offset[own];
                if (box.low[own] > box.high[own]) std::swap(box.low[own], box.high[own]);
                auto found = index->near(scene, box, own, reach, kMostOfSide, others);
                std::erase_if(found, [&](const Flush& f) { return f.own != side; });
                return found;
            };
            auto found = near(reachAt(grip + moved));
            if (view_.catcher.linesUp() && !found.empty()) {
                offset[own] += found.front().residue;
                moved = frame_ * offset;
                found = near(kExact);
            }
            found_.insert(found_.end(), found.begin(), found.end());
        }
    }
}

/// "top = Far wall, top, 312 m"
QString Sightlines::text(const Flush& f, int decimals) const {
    const QString words[3][3] = {{tr("left side"), tr("middle"), tr("right side")},
                                 {tr("bottom"), tr("middle"), tr("top")},
                                 {tr("north side"), tr("middle"), tr("south side")}};
    const auto name = view_.editor.scene().nameText(f.slot);
    const QString other = toQt(name);
    auto word = [&](query::BoxSide which) {
        if (frame_[f.axis][f.axis] > 1 - 1e-9) return words[f.axis][static_cast<int>(which)];
        const QString axis = QString("XYZ").mid(f.axis, 1);
        return which == BoxSide::Low    ? tr("−%1 side").arg(axis)
               : which == BoxSide::High ? tr("+%1 side").arg(axis)
                                        : tr("middle along %1").arg(axis);
    };
    const QString own = word(f.own), side = word(f.other);
    const bool exact = std::abs(f.residue) < kExact;
    const QString off =
        exact ? QStringLiteral("=") : tr("%1 off").arg(view_.editor.length(std::abs(f.residue), decimals));
    return tr("%1 %2 %3 of %4, %5 away")
        .arg(own, off, side, other, view_.editor.length(f.distance, f.distance < 10 ? 1 : 0));
}

void Sightlines::finish(const ops::Mover& mover) {
    const query::FlushIndex* index = found_.empty() ? nullptr : view_.stage.flush(frame_);
    found_.clear();
    if (index == nullptr) return;
    told_.clear();
    const base::Aabb box = boxOf(mover);
    const query::SlotFilter others = view_.others();
    std::vector<Flush> found;
    for (int axis = 0; axis < 3; ++axis) {
        const auto some = index->near(view_.editor.scene(), box, axis, 0.02, kMostTold, others);
        found.insert(found.end(), some.begin(), some.end());
    }
    std::stable_sort(found.begin(), found.end(),
                     [](const Flush& a, const Flush& b) { return a.distance < b.distance; });
    found.resize(std::min(found.size(), kMostTold));
    for (const Flush& f : found)
        told_ << text(f, 4) + (std::abs(f.residue) < 1e-9     ? tr(", exactly")
                               : std::abs(f.residue) < kExact ? tr(", but for %1 m").arg(f.residue, 0, 'e', 1)
                                                              : QString());
    fade_.start();
    view_.update();
}

void Sightlines::forget() {
    if (told_.isEmpty()) return;
    fade_.stop();
    told_.clear();
    view_.update();
}

/// Its level where the other has it, dotted, and one stroke across it where the other is nearest to what is moved.
void Sightlines::paintLine(QPainter& p, const query::FlushIndex& index, const Flush& f) const {
    const Theme& t = view_.editor.theme();
    const base::Vec3 offset = glm::transpose(frame_) * moved_;
    const base::Aabb own{box_.low + offset, box_.high + offset};
    const bool exact = std::abs(f.residue) < kExact;
    QColor ink = exact ? t.honey : t.text;
    ink.setAlpha(exact ? 230 : 110);
    QPen dotted(ink, exact ? 1.8 : 1.2, Qt::CustomDashLine, Qt::RoundCap);
    dotted.setDashPattern({0.1, 3.0});
    p.setPen(dotted);
    const base::Aabb& other = index.boxOf(f.slot);
    const auto there = cutOf(other, f.axis, f.value);
    for (std::size_t i = 0; i < 4; ++i) view_.line(p, frame_ * there[i], frame_ * there[(i + 1) % 4]);
    base::Vec3 meeting = glm::clamp(own.centre(), other.low, other.high);
    meeting[f.axis] = f.value;
    base::Vec3 stroke(0.0);
    stroke[f.axis] = view_.metresPerPixel(frame_ * meeting) * 9;
    p.setPen(QPen(ink, 2.4, Qt::SolidLine, Qt::RoundCap));
    view_.line(p, frame_ * (meeting - stroke), frame_ * (meeting + stroke));
}

void Sightlines::paint(QPainter& p, const QRect& corner) const {
    if (told_.isEmpty() && found_.empty()) return;
    const Theme& t = view_.editor.theme();
    if (const query::FlushIndex* index = found_.empty() ? nullptr : view_.stage.flush(frame_))
        for (const Flush& f : found_) paintLine(p, *index, f);
    QStringList lines = told_;
    if (!found_.empty()) {
        lines.clear();
        for (std::size_t i = 0; i < std::min(found_.size(), kMostTold); ++i) lines << text(found_[i], 3);
    }
    setLetters(p, 11);
    const QFontMetricsF letters(p.font());
    double wide = 0;
    for (const QString& line : lines) wide = std::max(wide, letters.horizontalAdvance(line));
    QRectF box((view_.widget.width() - wide) / 2 - 10, 10, wide + 20, 8 + 16.0 * static_cast<double>(lines.size()));
    if (box.left() < corner.right() + 8) box.moveTop(corner.bottom() + 6);
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
