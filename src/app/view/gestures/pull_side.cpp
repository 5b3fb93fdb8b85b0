// Sides: dragging a side, an edge or a corner of the selection's own box; the opposite one stays where it is.
#include <algorithm>
#include <array>
#include <cmath>

#include "app/kit/parts.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/handle.h"
#include "app/view/gestures/handle_paint.h"
#include "app/view/gestures/pull_side.h"
#include "app/view/gestures/selection_drag.h"
#include "app/view/gestures/typed_amount.h"
#include "app/view/pixels.h"
#include "base/units.h"
#include "render/handle.h"

namespace app {

using render::kAll;
using render::Task;

namespace {

constexpr double kGripPixels = 5, kRoomPixels = 16;
constexpr double kSmallest = 1e-3;  // of a factor
// Pixels that a box is across on the screen for all its grips; for its sides and corners; below, its sides alone.
constexpr double kRoomForAll = 150, kRoomForCorners = 90, kApart = 13;

/// All 26, sides first: where they lie on one another on the screen a side is the plainer thing to take.
const std::vector<Side>& allSides() {
    static const std::vector<Side> all = [] {
        std::vector<Side> sides;
        for (int i = 0; i < 27; ++i)
            if (i != 13) sides.push_back({{i % 3 - 1, i / 3 % 3 - 1, i / 9 - 1}});
        std::stable_sort(sides.begin(), sides.end(), [](const Side& a, const Side& b) { return a.axes() < b.axes(); });
        return sides;
    }();
    return all;
}

base::Vec3 placeIn(const base::Affine& box, const Side& side, double way) {
    base::Vec3 p(0.5);
    for (int k = 0; k < 3; ++k) p[k] += way * 0.5 * side.way[static_cast<std::size_t>(k)];
    return box.point(p);
}

render::HandlePart partOf(const Side& side) {
    for (int k = 0; k < 3; ++k) {
        const bool moves = side.way[static_cast<std::size_t>(k)] != 0;
        if (side.axes() == 1 && moves) return {Task::Slide, k};
        if (side.axes() == 2 && !moves) return {Task::Slide, k + 3};
    }
    return {Task::Slide, kAll};
}

void paintSide(QPainter& p, const Theme& t, const Side& side, const QPointF& at, bool lit) {
    const auto axis = std::find_if(side.way.begin(), side.way.end(), [](int w) { return w != 0; });
    p.setPen(QPen(t.window, 1.2));
    p.setBrush(lit ? t.honey : side.axes() == 1 ? t.axis[static_cast<std::size_t>(axis - side.way.begin())] : t.text);
    const double r = (side.axes() == 1 ? kGripPixels : 3) + (lit ? 1.5 : 0);
    if (side.axes() == 2)
        p.drawRect(QRectF(at - QPointF(r, r), QSizeF(2 * r, 2 * r)));
    else
        p.drawEllipse(at, r, r);
}

class PullingSide : public SelectionDrag {
  public:
    using SelectionDrag::SelectionDrag;
    bool begin(const base::Affine& box, const Side& side);
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers) override { return view_.amount.isOpen() ? Goes::On : finish(); }
    void type() override;
    std::optional<Goes> typed(const QString& text) override;
    void paint(QPainter& p) const override;
    QString hint() const override {
        return tr(
            "Drag: size · Shift: fine · hold C: in line, 1 2 3 4 6: catch, 7: as wide as a gap · Tab: type the length "
            "· Esc: let go");
    }

  private:
    base::Status apply();
    base::Vec3 caughtOrInLine(const base::Vec3& raw);
    QString text() const;

    Side side_;
    base::Vec3 lengths_{0.0};  ///< of the box when the drag began, metres
    std::optional<render::HandleDrag> drag_;
    base::Vec3 factors_{1.0};
    bool atLimit_ = false;  ///< sizing has come to a kind's limit
};

bool PullingSide::begin(const base::Affine& box, const Side& side) {
    if (!SelectionDrag::begin("Size ", false)) return false;
    side_ = side;
    render::Handle h;
    h.slide = true;
    h.turn = h.fit = false;
    h.origin = placeIn(box, side, 1);
    for (int k = 0; k < 3; ++k) {
        lengths_[k] = glm::length(box.linear[k]);
        h.axes[k] = lengths_[k] > 1e-12 ? box.linear[k] / lengths_[k] : base::Mat3(1.0)[k];
    }
    mover_->setPicked(placeIn(box, side, -1));
    features_ = {h.origin};
    drag_.emplace(h, partOf(side), toVec(view_.pointer), view_.camera, view_.viewport());
    view_.lines.begin(*mover_, h.axes);
    return true;
}

base::Status PullingSide::apply() {
    auto limited = mover_->sizeBy(*draft_, factors_, ops::PivotMode::Picked);
    if (!limited) return tl::unexpected(limited.error());
    atLimit_ = *limited;
    return {};
}

/// How far the side goes: to what is caught, else to what is in line.
base::Vec3 PullingSide::caughtOrInLine(const base::Vec3& raw) {
    view_.lines.clear();
    const render::Handle& h = drag_->handle();
    if (view_.catcher.look(view_.pointer)) return caughtOffset(raw, drag_->part(), h.axes);
    base::Vec3 offset = raw;
    view_.lines.lineUpSides(offset, side_.way, h.axes, h.origin);
    return offset;
}

Goes PullingSide::move(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return Goes::On;
    const base::Mat3& axes = drag_->handle().axes;
    const base::Vec3 raw = drag_->amount(toVec(wholePointer()), view_.camera, view_.viewport()).offset;
    const base::Vec3 offset = caughtOrInLine(raw);
    const double step = view_.catcher.steps(modifiers).metres;
    factors_ = base::Vec3(1.0);
    double most = 1;
    for (int k = 0; k < 3; ++k) {
        const int way = side_.way[static_cast<std::size_t>(k)];
        const double own = lengths_[k];
        if (way == 0 || own < 1e-9) continue;
        double length = own + way * glm::dot(offset, axes[k]);
        // As wide as the gap that is caught, wherever that is.
        if (const auto& caught = view_.catcher.caught(); caught && caught->kind == query::CatchKind::Gap)
            length = caught->gapMetres;
        const bool free = !view_.catcher.caught() && std::abs(glm::dot(offset - raw, axes[k])) < 1e-12;
        if (free && step > 0) length = std::max(ops::snapped(length, step), step);
        factors_[k] = std::max(length / own, kSmallest);
        if (std::abs(factors_[k] - 1) > std::abs(most - 1)) most = factors_[k];
    }
    // Uniform: all axes follow the one that was dragged farthest.
    if (editor_.tools().uniform) factors_ = base::Vec3(most);
    editor_.report(apply());
    wrapPointer();
    view_.update();
    return Goes::On;
}

void PullingSide::type() {
    const int axis = drag_->part().axis();
    view_.amount.open(tr("Length along %1 (%2)")
                          .arg(axis >= 0 ? QString("XYZ").mid(axis, 1) : tr("all"), base::traits(editor_.unit()).sign),
                      view_.pointer + QPointF(22, -44));
}

std::optional<Goes> PullingSide::typed(const QString& text) {
    const int axis = drag_->part().axis();
    auto length = [&]() -> base::Result<double> {
        if (axis < 0) return base::fail(base::ErrorCode::BadInput, "Drag one side to type its length.");
        auto value = base::evaluateQuantity(base::typedIn(fromHere(text), editor_.unit()), base::Quantity::Length,
                                            lengths_[axis] * factors_[axis]);
        if (value && *value < 1e-3 * lengths_[axis])
            return base::fail(base::ErrorCode::BadInput, "A length must be larger than nothing.");
        return value;
    }();
    if (!length) {
        editor_.report(tl::unexpected(length.error()));
        return std::nullopt;
    }
    factors_ = base::Vec3(1.0);
    factors_[axis] = *length / lengths_[axis];
    return editor_.report(apply()) ? finish() : Goes::Back;
}

QString PullingSide::text() const {
    QStringList parts;
    for (int k = 0; k < 3; ++k)
        if (side_.way[static_cast<std::size_t>(k)] != 0)
            parts << tr("%1 %2, was %3")
                         .arg(QString("XYZ").mid(k, 1), editor_.length(lengths_[k] * factors_[k], 3),
                              editor_.length(lengths_[k], 3));
    return parts.join("   ") + (atLimit_ ? "   " + tr("as far as its kind allows") : QString());
}

void PullingSide::paint(QPainter& p) const {
    paintHandle(p, view_, drag_->handle(), {drag_->part(), {}, true, false});
    const auto& box = view_.rest.box();
    const auto at = box ? view_.pixelOf(placeIn(*box, side_, 1)) : std::nullopt;
    if (at) paintSide(p, theme(), side_, *at, true);
    paintReadout(p, text());
}

}  // namespace

std::optional<QPointF> PullSide::pixel(const Side& side) const {
    const auto& box = view_.rest.box();
    return box ? view_.pixelOf(placeIn(*box, side, 1)) : std::nullopt;
}

/// The smaller a box is on the screen, the fewer it has: edges go first, then corners.
void PullSide::thinOut(std::vector<Shown>& all) {
    QPolygonF places;
    for (const Shown& one : all) places << one.at;
    const QRectF around = places.boundingRect();
    const double across = std::hypot(around.width(), around.height());
    const int most = across >= kRoomForAll ? 3 : across >= kRoomForCorners ? 2 : 1;
    std::erase_if(all, [&](const Shown& one) {
        const int axes = one.side.axes();
        return most == 1 ? axes != 1 : most == 2 && axes == 2;
    });
}

/// The grips that have room: sides first, then edges, then corners; of two that would touch, the earlier one, and of
/// two sides the one nearer to the eye.
std::vector<PullSide::Shown> PullSide::shown() const {
    const auto& box = view_.rest.box();
    if (!box || editor_.tools().tool != Tool::Fit || !stage_.lively().empty()) return {};
    std::vector<Shown> all;
    for (const Side& side : allSides())
        if (const auto at = pixel(side)) all.push_back({side, *at, view_.camera.distanceTo(placeIn(*box, side, 1))});
    thinOut(all);
    std::stable_sort(all.begin(), all.end(), [](const Shown& a, const Shown& b) {
        return std::pair(a.side.axes(), a.depth) < std::pair(b.side.axes(), b.depth);
    });
    std::vector<Shown> shown;
    for (const Shown& one : all) {
        const double room = one.side.axes() == 1 ? kApart : kRoomPixels;
        if (std::none_of(shown.begin(), shown.end(), [&](const Shown& other) {
                return std::hypot(one.at.x() - other.at.x(), one.at.y() - other.at.y()) < room;
            }))
            shown.push_back(one);
    }
    return shown;
}

/// The handle's middle comes before it.
std::optional<Side> PullSide::under(const QPointF& pixel) const {
    for (const Shown& one : shown()) {
        const double reach = one.side.axes() == 1 ? kGripPixels + 3 : kGripPixels;
        if (std::hypot(one.at.x() - pixel.x(), one.at.y() - pixel.y()) > reach) continue;
        return handlePartUnder(view_, pixel).which == kAll ? std::nullopt : std::optional(one.side);
    }
    return std::nullopt;
}

std::optional<int> PullSide::offer(const QPointF& pixel) {
    hovered_ = under(pixel);
    if (!hovered_) return std::nullopt;
    return hovered_->way[0] + 3 * hovered_->way[1] + 9 * hovered_->way[2];
}

Gesture::Taken PullSide::press(Qt::KeyboardModifiers modifiers) {
    const auto side = modifiers == Qt::ControlModifier ? std::nullopt : under(view_.pointer);
    if (!side) return {};
    auto pulling = std::make_unique<PullingSide>(view_);
    if (!pulling->begin(*view_.rest.box(), *side)) pulling.reset();
    return {true, std::move(pulling)};
}

void PullSide::paint(QPainter& p) const {
    for (const Shown& one : shown()) paintSide(p, theme(), one.side, one.at, hovered_ && *hovered_ == one.side);
}

std::vector<QPointF> PullSide::grips() const {
    std::vector<QPointF> pixels;
    for (const Shown& one : shown()) pixels.push_back(one.at);
    return pixels;
}

QString PullSide::hint() const {
    if (!hovered_) return {};
    return tr("Drag this %1: the opposite one stays where it is · Shift: fine · hold C: in line · hold 1 2 3 4 6: "
              "catch")
        .arg(hovered_->axes() == 1   ? tr("side")
             : hovered_->axes() == 2 ? tr("edge")
                                     : tr("corner"));
}

GesturePtr pullSide(ViewContext& view) {
    return std::make_unique<PullSide>(view);
}

}  // namespace app
