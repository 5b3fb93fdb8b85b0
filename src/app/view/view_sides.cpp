// Sides: dragging one side of the selected object's own box; the opposite one stays where it is.
#include <QPainter>
#include <cmath>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"

namespace app {

using render::Task;

namespace {

constexpr double kGrip = 5;  // pixels

}  // namespace

std::optional<base::Vec3> ViewWidget::sideAt(int side) const {
    if (editor_.tool() != Tool::Fit) return std::nullopt;
    const ops::Mover* mover = idleMover();
    if (mover == nullptr) return std::nullopt;
    const auto box = mover->ownBox(editor_.scene(), editor_.session().library());
    if (!box) return std::nullopt;
    base::Vec3 middle(0.5);
    middle[side / 2] = side % 2;
    return box->point(middle);
}

std::optional<QPointF> ViewWidget::sideGrip(int side) const {
    const auto at = sideAt(side);
    const auto pixel = at ? camera_.project(*at, viewport()) : std::nullopt;
    return pixel ? std::optional(toQt(*pixel)) : std::nullopt;
}

std::optional<int> ViewWidget::sideUnder(const QPointF& pixel) const {
    std::optional<int> best;
    double nearest = 1e9;
    for (int side = 0; side < 6; ++side) {
        const auto grip = sideGrip(side);
        if (!grip || std::hypot(grip->x() - pixel.x(), grip->y() - pixel.y()) > kGrip + 3) continue;
        // Of two that lie on one another the one in front.
        const double depth = camera_.distanceTo(*sideAt(side));
        if (depth < nearest) nearest = depth, best = side;
    }
    return best;
}

bool ViewWidget::startSide(int side) {
    const auto at = sideAt(side), opposite = sideAt(side ^ 1);
    const ops::Mover* idle = idleMover();
    if (!at || !opposite || idle == nullptr || glm::length(*at - *opposite) < 1e-9) return false;
    render::Handle h;
    h.slide = h.turn = false;
    h.fit = true;
    h.origin = *opposite;
    h.fitAxes = h.axes = idle->axes(ops::AxesMode::Own, viewAxes());
    const double way = glm::dot(*at - *opposite, h.fitAxes[side / 2]) < 0 ? -1 : 1;
    if (way < 0) h.fitAxes[side / 2] = -h.fitAxes[side / 2];
    if (!startHandle(h, {Task::Fit, side / 2})) return false;
    draggedSide_ = side;
    sideLength_ = glm::length(*at - *opposite);
    mover_->setPicked(*opposite);
    return true;
}

/// The factor at which the object's length is a whole number of the slide's steps.
double ViewWidget::snappedSide(double factor, Qt::KeyboardModifiers modifiers) const {
    const double step = dragSteps(modifiers).metres, own = sideLength_;
    if (step <= 0 || own < 1e-9) return factor;
    return std::max(ops::snapped(own * factor, step), step) / own;
}

void ViewWidget::paintSides(QPainter& p) const {
    if (drag_ && !draggedSide_) return;
    const Theme& t = editor_.theme();
    for (int side = 0; side < 6; ++side) {
        if (drag_ && *draggedSide_ != side) continue;
        const auto grip = sideGrip(side);
        if (!grip) continue;
        const bool on = drag_ || (hoveredSide_ && *hoveredSide_ == side);
        p.setPen(QPen(t.window, 1.2));
        p.setBrush(on ? t.honey : t.axis[side / 2]);
        p.drawEllipse(*grip, on ? kGrip + 1.5 : kGrip, on ? kGrip + 1.5 : kGrip);
    }
}

}  // namespace app
