#include "app/view/gestures/corners.h"

#include <cmath>

#include "app/shell/tools.h"
#include "ops/move.h"

namespace app {

namespace {
constexpr double kFirstReach = 9;  // pixels: a click so near to the first corner closes it
}

std::optional<base::Vec3> CornersHold::cornerAt(ViewContext& view) {
    auto at = view.caughtOrLanding(view.pointer);
    if (!at) {
        view.editor.say(tr("There is nothing here for a corner to stand on."));
        return std::nullopt;
    }
    const double step = view.editor.tools().activeSteps().metres;
    for (int axis : {0, 2})
        if (!view.catcher.caught()) (*at)[axis] = ops::snapped((*at)[axis], step);
    return at;
}

Goes CornersHold::move(Qt::KeyboardModifiers) {
    view_.catcher.look(view_.pointer);
    view_.update();
    return Goes::On;
}

Goes CornersHold::press() {
    const auto first = view_.pixelOf(corners_.front());
    if (corners_.size() >= 3 && first &&
        std::hypot(first->x() - view_.pointer.x(), first->y() - view_.pointer.y()) < kFirstReach)
        return closed();
    if (const auto at = cornerAt(view_)) corners_.push_back(*at);
    view_.update();
    return Goes::On;
}

QString CornersHold::hint() const {
    return corners_.size() < 3
               ? tr("Click its corners on the ground · hold 1 corner, 2 edge, 6 end: catch · Esc: one back")
               : tr("Click: a corner more · the first one, or Enter: done · Esc: one back");
}

void CornersHold::paint(QPainter& p) const {
    p.setPen(QPen(theme().honey, 2));
    view_.path(p, corners_);
    p.setPen(QPen(theme().honey, 1.5, Qt::DashLine));
    if (const auto last = view_.pixelOf(corners_.back())) p.drawLine(*last, view_.pointer);
    p.setPen(QPen(theme().window, 1.5));
    p.setBrush(theme().honey);
    for (const base::Vec3& corner : corners_)
        if (const auto at = view_.pixelOf(corner)) p.drawEllipse(*at, 5, 5);
    p.setBrush(Qt::NoBrush);
}

}  // namespace app
