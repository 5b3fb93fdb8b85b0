// Sides: dragging a side, an edge or a corner of the selection's own box; the opposite one stays where it is.
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"

namespace app {

using query::BoxSide;
using render::kAll;
using render::Task;

namespace {

constexpr double kGripPixels = 5, kRoomPixels = 16;
constexpr double kSmallest = 1e-3;  // of a factor

/// All 26, sides first: where they lie on one another on the screen a side is the plainer thing to take.
const std::vector<Grip>& allGrips() {
    static const std::vector<Grip> all = [] {
        std::vector<Grip> grips;
        for (int i = 0; i < 27; ++i)
            if (i != 13) grips.push_back({{i % 3 - 1, i / 3 % 3 - 1, i / 9 - 1}});
        std::stable_sort(grips.begin(), grips.end(), [](const Grip& a, const Grip& b) { return a.axes() < b.axes(); });
        return grips;
    }();
    return all;
}

base::Vec3 placeIn(const base::Affine& box, const Grip& grip, double way) {
    base::Vec3 p(0.5);
    for (int k = 0; k < 3; ++k) p[k] += way * 0.5 * grip.way[static_cast<std::size_t>(k)];
    return box.point(p);
}

render::HandlePart partOf(const Grip& grip) {
    for (int k = 0; k < 3; ++k) {
        const bool moves = grip.way[static_cast<std::size_t>(k)] != 0;
        if (grip.axes() == 1 && moves) return {Task::Slide, k};
        if (grip.axes() == 2 && !moves) return {Task::Slide, k + 3};
    }
    return {Task::Slide, kAll};
}

}  // namespace

/// The box whose sides can be dragged: with the fit handle, of what is selected, along its own axes.
std::optional<base::Affine> ViewWidget::sideBox() const {
    if (editor_.tool() != Tool::Fit) return std::nullopt;
    (void)idleMover();  // brings idleBox_ up to date
    return idleBox_;
}

std::optional<QPointF> ViewWidget::gripPixel(const Grip& grip) const {
    const auto box = sideBox();
    const auto pixel = box ? camera_.project(placeIn(*box, grip, 1), viewport()) : std::nullopt;
    return pixel ? std::optional(toQt(*pixel)) : std::nullopt;
}

/// The grips that have room: sides first, then edges, then corners; of two that would touch, the earlier one, and of
/// two sides the one nearer to the eye.
std::vector<ViewWidget::ShownGrip> ViewWidget::shownGrips() const {
    const auto box = sideBox();
    if (!box) return {};
    std::vector<ShownGrip> all;
    for (const Grip& grip : allGrips())
        if (const auto at = gripPixel(grip)) all.push_back({grip, *at, camera_.distanceTo(placeIn(*box, grip, 1))});
    std::stable_sort(all.begin(), all.end(), [](const ShownGrip& a, const ShownGrip& b) {
        return std::pair(a.grip.axes(), a.depth) < std::pair(b.grip.axes(), b.depth);
    });
    std::vector<ShownGrip> shown;
    for (const ShownGrip& one : all) {
        const double room = one.grip.axes() == 1 ? 2 * kGripPixels : kRoomPixels;
        if (std::none_of(shown.begin(), shown.end(), [&](const ShownGrip& other) {
                return std::hypot(one.at.x() - other.at.x(), one.at.y() - other.at.y()) < room;
            }))
            shown.push_back(one);
    }
    return shown;
}

std::optional<QPointF> ViewWidget::sideGrip(int side) const {
    Grip grip;
    grip.way[static_cast<std::size_t>(side / 2)] = side % 2 == 0 ? -1 : 1;
    return gripPixel(grip);
}

std::vector<QPointF> ViewWidget::shownGripPixels() const {
    std::vector<QPointF> pixels;
    for (const ShownGrip& one : shownGrips()) pixels.push_back(one.at);
    return pixels;
}

std::optional<Grip> ViewWidget::gripUnder(const QPointF& pixel) const {
    for (const ShownGrip& one : shownGrips()) {
        const double reach = one.grip.axes() == 1 ? kGripPixels + 3 : kGripPixels;
        if (std::hypot(one.at.x() - pixel.x(), one.at.y() - pixel.y()) <= reach) return one.grip;
    }
    return std::nullopt;
}

bool ViewWidget::startGrip(const Grip& grip) {
    const auto box = sideBox();
    if (!box || !beginDrag("Size ")) return false;
    render::Handle h;
    h.slide = true;
    h.turn = h.fit = false;
    h.origin = placeIn(*box, grip, 1);
    for (int k = 0; k < 3; ++k) {
        gripLengths_[k] = glm::length(box->linear[k]);
        h.axes[k] = gripLengths_[k] > 1e-12 ? box->linear[k] / gripLengths_[k] : base::Mat3(1.0)[k];
    }
    mover_->setPicked(placeIn(*box, grip, -1));
    amount_ = {};
    wrapped_ = {};
    atLimit_ = false;
    features_ = {h.origin};
    grip_ = grip;
    drag_ = std::make_unique<render::HandleDrag>(h, partOf(grip), toVec(pointer_), camera_, viewport());
    setLineFrame(h.axes);
    updateHint();
    return true;
}

/// Lines for the side that moves: what that side is flush with.
void ViewWidget::lineUpGrip(base::Vec3& moved) {
    flush_.clear();
    const query::FlushIndex* index = stage_.flush(lineFrame_);
    if (index == nullptr) return;
    base::Vec3 offset = glm::transpose(lineFrame_) * moved;
    const bool catches = heldKeys_.contains(Qt::Key_C) || editor_.catchFlush();
    const query::SlotFilter others = caughtOn();
    for (int k = 0; k < 3; ++k) {
        if (grip_->way[static_cast<std::size_t>(k)] == 0) continue;
        const base::Vec3 axis = drag_->handle().axes[k];
        for (int own = 0; own < 3; ++own) {
            const double share = glm::dot(axis, lineFrame_[own]);
            if (std::abs(share) < 1 - 1e-12) continue;
            const bool high = grip_->way[static_cast<std::size_t>(k)] * share > 0;
            base::Aabb box = lineBox_;
            auto move = [&] {
                box = lineBox_;
                (high ? box.high : box.low)[own] += offset[own];
                if (box.low[own] > box.high[own]) std::swap(box.low[own], box.high[own]);
            };
            move();
            constexpr double kReachPixels = 7, kExact = 5e-5;
            constexpr std::size_t kMost = 12;
            const double reach = kReachPixels * camera_.metresPerPixel(drag_->handle().origin + moved, viewport());
            auto found = index->near(editor_.scene(), box, own, reach, kMost, others);
            auto notMine = [&](const query::Flush& f) { return f.own != (high ? BoxSide::High : BoxSide::Low); };
            std::erase_if(found, notMine);
            if (catches && !found.empty()) {
                offset[own] += found.front().residue;
                moved = lineFrame_ * offset;
                move();
                found = index->near(editor_.scene(), box, own, kExact, kMost, others);
                std::erase_if(found, notMine);
            }
            flush_.insert(flush_.end(), found.begin(), found.end());
        }
    }
}

void ViewWidget::dragGrip(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const base::Mat3& axes = drag_->handle().axes;
    const base::Vec3 raw = drag_->amount(toVec(pixel + wrapped_), camera_, viewport()).offset;
    caught_ = catchUnder(pixel);
    base::Vec3 offset = caught_ ? caughtOffset(raw, drag_->part(), axes) : raw;
    if (caught_)
        flush_.clear();
    else
        lineUpGrip(offset);
    const double step = dragSteps(modifiers).metres;
    amount_ = {};
    double most = 1;
    for (int k = 0; k < 3; ++k) {
        const int way = grip_->way[static_cast<std::size_t>(k)];
        const double own = gripLengths_[k];
        if (way == 0 || own < 1e-9) continue;
        double length = own + way * glm::dot(offset, axes[k]);
        const bool free = !caught_ && std::abs(glm::dot(offset - raw, axes[k])) < 1e-12;
        if (free && step > 0) length = std::max(ops::snapped(length, step), step);
        amount_.factors[k] = std::max(length / own, kSmallest);
        if (std::abs(amount_.factors[k] - 1) > std::abs(most - 1)) most = amount_.factors[k];
    }
    // Uniform: all axes follow the one that was dragged farthest.
    if (editor_.uniform()) amount_.factors = base::Vec3(most);
    editor_.report(applyAmount(*draft_, *mover_, {Task::Fit, kAll}, amount_));
    wrapPointer();
    update();
}

QString ViewWidget::gripText() const {
    QStringList parts;
    for (int k = 0; k < 3; ++k)
        if (grip_->way[static_cast<std::size_t>(k)] != 0)
            parts << tr("%1 %2 m, was %3 m")
                         .arg(QString("XYZ").mid(k, 1), QString::number(gripLengths_[k] * amount_.factors[k], 'f', 3),
                              QString::number(gripLengths_[k], 'f', 3));
    return parts.join("   ") + (atLimit_ ? "   " + tr("as far as its kind allows") : QString());
}

void ViewWidget::paintSides(QPainter& p) const {
    if (drag_ && !grip_) return;
    const Theme& t = editor_.theme();
    std::vector<ShownGrip> shown;
    if (!drag_)
        shown = shownGrips();
    else if (const auto at = gripPixel(*grip_))
        shown.push_back({*grip_, *at, 0});
    for (const auto& [grip, at, depth] : shown) {
        const bool on = drag_ || (hoveredGrip_ && *hoveredGrip_ == grip);
        const auto axis = std::find_if(grip.way.begin(), grip.way.end(), [](int w) { return w != 0; });
        p.setPen(QPen(t.window, 1.2));
        p.setBrush(on                 ? t.honey
                   : grip.axes() == 1 ? t.axis[static_cast<std::size_t>(axis - grip.way.begin())]
                                      : t.text);
        const double r = (grip.axes() == 1 ? kGripPixels : 3) + (on ? 1.5 : 0);
        if (grip.axes() == 2)
            p.drawRect(QRectF(at - QPointF(r, r), QSizeF(2 * r, 2 * r)));
        else
            p.drawEllipse(at, r, r);
    }
}

}  // namespace app
