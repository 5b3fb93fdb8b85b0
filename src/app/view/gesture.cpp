#include "app/view/gesture.h"
#include "app/shell/tools.h"

namespace app {

bool Hold::wheel(double, Qt::KeyboardModifiers) {
    return false;
}
std::optional<Goes> Hold::typed(const QString&) {
    return std::nullopt;
}
void Hold::paint(QPainter&) const {}

Gesture::Taken Gesture::press(Qt::KeyboardModifiers) {
    return {};
}
Gesture::Taken Gesture::drag(Qt::KeyboardModifiers) {
    return {};
}
bool Gesture::click(Qt::KeyboardModifiers) {
    return false;
}
bool Gesture::wheel(double, Qt::KeyboardModifiers) {
    return false;
}
bool Gesture::key(int, Qt::KeyboardModifiers) {
    return false;
}
bool Gesture::typed(const QString&) {
    return false;
}
void Gesture::paint(QPainter&) const {}

std::optional<int> ViewTool::offer(const QPointF& pixel) {
    return claims() && point(pixel) ? std::optional(0) : std::nullopt;
}
Gesture::Taken ViewTool::press(Qt::KeyboardModifiers modifiers) {
    return claims() ? Taken{true, begin(modifiers)} : Taken{};
}
bool ViewTool::wheel(double notches, Qt::KeyboardModifiers modifiers) {
    return claims() && turn(notches, modifiers);
}
bool ViewTool::cancel() {
    return claims() && putAway();
}
bool ViewTool::turn(double, Qt::KeyboardModifiers) {
    return false;
}

void PlaceTool::withdraw() {
    view_.catcher.forget();
}
bool PlaceTool::point(const QPointF& pixel) {
    const auto at = view_.caughtOrLanding(pixel);
    view_.update();
    return at.has_value();
}
bool PlaceTool::putAway() {
    editor_.setTool(Tool::Slide);
    return true;
}

}  // namespace app
