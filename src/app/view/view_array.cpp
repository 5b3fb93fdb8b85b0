// Arrays pulled by the mouse: grips for how many there are, how far apart, and how far out.
#include <QPainter>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "model/facets/array.h"
#include "ops/array.h"

namespace app {

using model::kNoSlot;
using model::Slot;
using Pulls = ops::ArrayGrip::Pulls;

namespace {

constexpr double kReach = 9;  // pixels

/// What a grip does, for its note.
QString arrayText(const model::Array& a, const ops::ArrayGrip& grip) {
    using Shape = model::Array::Shape;
    const auto axis = static_cast<std::size_t>(grip.axis);
    if (grip.pulls == Pulls::Radius) return QObject::tr("radius %1").arg(metres(a.radiusMetres));
    if (grip.pulls == Pulls::Count) {
        QString text = counted(static_cast<std::size_t>(a.counts[axis]), QObject::tr("object"), QObject::tr("objects"));
        if (a.shape == Shape::Grid) text += QObject::tr(" along %1, %2 in all").arg("XYZ"[axis]).arg(ops::countOf(a));
        if (a.shape == Shape::Row) text += ", " + metres(glm::length(a.spacing) * (a.counts[0] - 1));
        return text;
    }
    const double apart = a.shape == Shape::Grid ? std::abs(a.spacing[grip.axis]) : glm::length(a.spacing);
    return QObject::tr("%1 apart").arg(metres(apart));
}

}  // namespace

/// Those of the one array that is selected, while nothing else is in the hand.
std::vector<ops::ArrayGrip> ViewWidget::arrayGrips() const {
    if (!editor_.isOpen() || editor_.selection().size() != 1 || drag_ || carry_) return {};
    if (editor_.tool() == Tool::Measure || editor_.tool() == Tool::Solid || editor_.tool() == Tool::Broom) return {};
    return ops::arrayGrips(editor_.scene(), editor_.scene().find(editor_.selection().front()));
}

std::optional<QPointF> ViewWidget::arrayGripPixel(const ops::ArrayGrip& grip) const {
    const auto pixel = camera_.project(grip.at, viewport());
    return pixel ? std::optional(toQt(*pixel)) : std::nullopt;
}

std::optional<ops::ArrayGrip> ViewWidget::arrayGripUnder(const QPointF& pixel) const {
    std::optional<ops::ArrayGrip> best;
    double nearest = kReach;
    for (const ops::ArrayGrip& grip : arrayGrips()) {
        const auto at = arrayGripPixel(grip);
        const double away = at ? std::hypot(at->x() - pixel.x(), at->y() - pixel.y()) : kReach;
        if (away < nearest) nearest = away, best = grip;
    }
    return best;
}

void ViewWidget::startArrayPull(const ops::ArrayGrip& grip) {
    auto pull = std::make_unique<ArrayPull>();
    pull->id = editor_.selection().front();
    pull->grip = grip;
    const model::Scene& scene = editor_.scene();
    pull->now = *scene.facet<model::Array>(scene.find(pull->id));
    pull->before = scene;
    arrayPull_ = std::move(pull);
    updateHint();
}

/// Where the pointer is on the grip's line, or on its level plane.
std::optional<base::Vec3> ViewWidget::arrayPoint(const QPointF& pixel) const {
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    const ops::ArrayGrip& grip = arrayPull_->grip;
    if (grip.along != base::Vec3(0.0)) return nearestOnLine(ray, grip.through, grip.along);
    const Slot slot = arrayPull_->before->find(arrayPull_->id);
    const base::Vec3 up = glm::normalize(arrayPull_->before->world(slot).linear[1]);
    const double facing = glm::dot(ray.direction, up);
    const double t = std::abs(facing) < 1e-4 ? -1 : glm::dot(grip.at - ray.origin, up) / facing;
    return t > 0 && t < 9000 ? std::optional(ray.at(t)) : std::nullopt;
}

// Each move starts anew from what was there: copies that come and go on the way leave nothing in the step.
void ViewWidget::moveArrayPull(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    const auto at = arrayPoint(pixel);
    if (!at) return;
    ArrayPull& pull = *arrayPull_;
    const double step = editor_.activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1).metres;
    const model::Array now = ops::pulledArray(*pull.before, pull.before->find(pull.id), pull.grip, *at, step);
    if (now == pull.now) return;
    pull.now = now;
    pull.draft.reset();
    pull.draft = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Pull array");
    editor_.report(ops::setArray(*pull.draft, pull.id, now));
    update();
}

void ViewWidget::finishArrayPull() {
    auto pull = std::exchange(arrayPull_, nullptr);
    if (pull->draft)
        if (auto step = pull->draft->commit(); !step) editor_.report(tl::unexpected(step.error()));
    updateHint();
    update();
}

/// Where the copies of the selected array are seen that are not as its numbers and its first object say.
std::vector<QPointF> ViewWidget::oddCopyMarks() const {
    const Slot array = editor_.isOpen() && editor_.selection().size() == 1
                           ? editor_.scene().find(editor_.selection().front())
                           : model::kNoSlot;
    if (array == model::kNoSlot) return {};
    if (!oddCopies_) oddCopies_ = ops::arrayOddities(editor_.scene(), array).changed;
    std::vector<QPointF> marks;
    for (base::ObjectId id : *oddCopies_)
        if (const Slot s = editor_.scene().find(id); s != model::kNoSlot)
            if (const auto at = camera_.project(editor_.scene().subtreeBounds(s).centre(), viewport()))
                marks.push_back(toQt(*at));
    return marks;
}

void ViewWidget::paintArray(QPainter& p) const {
    for (const QPointF& at : oddCopyMarks()) paintNote(p, at + QPointF(-10, 9), QStringLiteral("≠"));
    for (const ops::ArrayGrip& grip : arrayGrips()) {
        const auto at = arrayGripPixel(grip);
        if (!at) continue;
        const bool held = arrayPull_ && arrayPull_->grip.pulls == grip.pulls && arrayPull_->grip.axis == grip.axis;
        const bool lit = held || (!arrayPull_ && hoveredArrayGrip_ == grip);
        p.setPen(QPen(lit ? editor_.theme().text : editor_.theme().window, 1.5));
        p.setBrush(editor_.theme().honey);
        const double r = lit ? 7 : 5.5;
        if (grip.pulls == Pulls::Count)  // a plus: the next one would stand here
            p.drawPolygon(
                QPolygonF({*at + QPointF(-r, -r / 3), *at + QPointF(-r / 3, -r / 3), *at + QPointF(-r / 3, -r),
                           *at + QPointF(r / 3, -r), *at + QPointF(r / 3, -r / 3), *at + QPointF(r, -r / 3),
                           *at + QPointF(r, r / 3), *at + QPointF(r / 3, r / 3), *at + QPointF(r / 3, r),
                           *at + QPointF(-r / 3, r), *at + QPointF(-r / 3, r / 3), *at + QPointF(-r, r / 3)}));
        else
            p.drawPolygon(
                QPolygonF({*at + QPointF(0, -r), *at + QPointF(r, 0), *at + QPointF(0, r), *at + QPointF(-r, 0)}));
        if (!lit) continue;
        const model::Slot slot = editor_.scene().find(editor_.selection().front());
        paintNote(p, (held ? pointer_ : *at) + QPointF(16, -14),
                  arrayText(*editor_.scene().facet<model::Array>(slot), grip));
    }
}

}  // namespace app
