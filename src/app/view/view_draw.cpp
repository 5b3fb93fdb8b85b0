// Drawing solids: a footprint dragged out on a surface, then a height.
#include <QPainter>

#include "app/look/parts.h"
#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"
#include "base/tidy.h"
#include "model/facets/solid.h"

namespace app {

using Shape = model::Solid::Shape;

/// Where a ray meets the plane that is drawn on.
std::optional<base::Vec3> ViewWidget::onDrawingPlane(const QPointF& pixel) const {
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    const base::Vec3 normal = drawing_->what.axes[1];
    const double facing = glm::dot(ray.direction, normal);
    if (std::abs(facing) < 1e-4) return std::nullopt;
    const double t = glm::dot(drawing_->what.corner - ray.origin, normal) / facing;
    if (t <= 0 || t > 9000) return std::nullopt;
    return ray.at(t);
}

/// The place on a wall that stands there, and which one: what a new wall joins.
std::optional<base::Vec3> ViewWidget::wallAt(const base::Vec3& place) const {
    std::optional<base::Vec3> joined;
    if (editor_.index() == nullptr || editor_.solidShape() != Shape::Wall) return joined;
    const base::Vec3 reach(ops::SolidDrawing::kThick * 2);
    editor_.index()->overlapping(editor_.scene(), {place - reach, place + reach}, [&](model::Slot s) {
        if (editor_.isHidden(s) || (drawing_ && editor_.scene().id(s) == drawing_->id)) return;
        const auto on = ops::joinedWall(editor_.scene(), s, place);
        if (on && (!joined || glm::length(*on - place) < glm::length(*joined - place))) joined = on;
    });
    return joined;
}

bool ViewWidget::startDrawing(const QPointF& pixel) {
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), false);
    caught_ = catchUnder(pixel);
    const auto at = caught_ ? std::optional(caught_->point) : landingUnder(pixel);
    if (!at) return false;
    drawing_ = std::make_unique<Drawing>();
    drawing_->what.shape = editor_.solidShape();
    drawing_->what.axes = ops::drawingAxes(editor_.solidShape(), hit ? hit->normal : base::Vec3(0, 1, 0));
    drawing_->what.corner = *at;
    const auto joined = wallAt(*at);
    const double step = editor_.activeSteps().metres;
    const bool level = drawing_->what.axes[1].y > 0.999;
    for (int axis : {0, 2})
        if (level && !caught_ && !joined) drawing_->what.corner[axis] = ops::snapped((*at)[axis], step);
    if (!caught_) drawing_->what.corner = base::tidied(drawing_->what.corner);
    if (joined) drawing_->what.corner = caught_ ? base::Vec3(at->x, joined->y, at->z) : *joined;
    drawing_->draft = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(),
                                                    "Draw " + std::string(ops::solidLabel(editor_.solidShape())));
    if (!editor_.report(drawing_->draft->state())) drawing_.reset();
    return drawing_ != nullptr;
}

/// The least a solid is large: a step, or what is a step where none are on.
double ViewWidget::leastDrawn() const {
    const double step = editor_.activeSteps().metres;
    return step > 0 ? step : 0.05;
}

bool ViewWidget::applyDrawing() {
    const ops::DrawnSolid drawn = ops::drawnSolid(drawing_->what, leastDrawn());
    if (!drawing_->id) {
        auto id = ops::addSolid(*drawing_->draft, drawn.solid, drawn.frame, editor_.entered());
        if (!id) return editor_.report(tl::unexpected(id.error()));
        drawing_->id = *id;
    } else {
        if (!editor_.report(ops::setSolid(*drawing_->draft, drawing_->id, drawn.solid))) return false;
        base::Transform local = drawn.frame;
        const model::Slot parent = editor_.scene().parent(editor_.scene().find(drawing_->id));
        if (parent != model::kNoSlot)
            if (auto into = base::inverse(editor_.scene().world(parent)))
                local = base::toTransform(*into * base::toAffine(drawn.frame));
        if (!editor_.report(drawing_->draft->setTransforms({&drawing_->id, 1}, {&local, 1}))) return false;
    }
    update();
    return true;
}

/// How high the pointer raises it: along the upright through the footprint, or, seen from above, as high as the pointer
/// is away from the footprint.
std::optional<double> ViewWidget::raisedTo(const QPointF& pixel) const {
    const ops::SolidDrawing& what = drawing_->what;
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    constexpr double kFromAbove = 0.985;  // within ten degrees
    if (std::abs(glm::dot(ray.direction, what.axes[1])) > kFromAbove) {
        const auto at = onDrawingPlane(pixel);
        return at ? std::optional(ops::awayFromFootprint(what, *at)) : std::nullopt;
    }
    const base::Vec3 foot = what.corner + what.across / 2.0;
    const auto at = nearestOnLine(ray, foot, what.axes[1]);
    return at ? std::optional(glm::dot(*at - foot, what.axes[1])) : std::nullopt;
}

void ViewWidget::moveDrawing(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    if (amountField_ != nullptr && amountField_->isVisible()) return;
    ops::SolidDrawing& what = drawing_->what;
    const double step = editor_.activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1).metres;
    if (!drawing_->rising) {
        caught_ = catchUnder(pixel);
        const auto at = caught_ ? std::optional(caught_->point) : onDrawingPlane(pixel);
        if (!at) return;
        const auto joined = caught_ ? std::nullopt : wallAt(*at);
        base::Vec3 along = glm::transpose(what.axes) * (joined.value_or(*at) - what.corner);
        along.y = 0;
        if (!caught_ && !joined)
            for (int axis : {0, 2}) along[axis] = ops::snapped(along[axis], step);
        what.across = what.axes * along;
        applyDrawing();
        return;
    }
    const auto raised = raisedTo(pixel);
    if (!raised) return;
    what.height = std::max(ops::snapped(*raised, step), leastDrawn());
    applyDrawing();
}

/// Sizes are typed while one draws.
void ViewWidget::typeDrawing() {
    const Shape shape = drawing_->what.shape;
    openAmountField(drawing_->rising         ? tr("Height in metres")
                    : shape == Shape::Wall   ? tr("Length, or length × height, as 4 x 2.5, in metres")
                    : !ops::hasHeight(shape) ? tr("Width × depth, as 4 x 3, in metres")
                                             : tr("Width × depth, or all three, as 4 x 3, in metres"),
                    pointer_ + QPointF(22, -44));
}

void ViewWidget::acceptDrawing() {
    ops::SolidDrawing typed = drawing_->what;
    const auto done = ops::typeSizes(typed, amountField_->text().trimmed().toStdString(), drawing_->rising);
    if (!done) {
        editor_.report(tl::unexpected(done.error()));
        return;
    }
    drawing_->what = typed;
    if (!applyDrawing()) return;
    amountField_->hide();
    setFocus();
    if (*done) return finishDrawing();
    drawing_->rising = true;
    updateHint();
}

/// The footprint is done: a click without a drag gives one of a metre, at once.
void ViewWidget::releaseDrawing(const QPointF& pixel) {
    if (amountField_ != nullptr && amountField_->isVisible()) return;
    const bool dragged = std::hypot(pixel.x() - pressedAt_.x(), pixel.y() - pressedAt_.y()) > 4;
    ops::SolidDrawing& what = drawing_->what;
    if (!dragged) {
        const bool wall = what.shape == Shape::Wall;
        what.across = what.axes * base::Vec3(wall ? 2 : 1, 0, wall ? 0 : 1);
        what.corner -= what.across / 2.0;
        what.height = wall ? 2.5 : 1;
        applyDrawing();
        return finishDrawing();
    }
    if (!ops::hasHeight(what.shape)) return finishDrawing();
    drawing_->rising = true;
    updateHint();
}

base::Status ViewWidget::closeCorners(Drawing& drawing) const {
    if (editor_.index() == nullptr) return {};  // the scene is still being taken in
    std::vector<base::ObjectId> others;
    const base::Vec3 reach(ops::SolidDrawing::kThick);
    for (const base::Vec3& end : {drawing.what.corner, drawing.what.corner + drawing.what.across})
        editor_.index()->overlapping(editor_.scene(), {end - reach, end + reach},
                                     [&](model::Slot s) { others.push_back(editor_.scene().id(s)); });
    std::sort(others.begin(), others.end());
    others.erase(std::unique(others.begin(), others.end()), others.end());
    return ops::closeCorners(*drawing.draft, drawing.id, others);
}

void ViewWidget::finishDrawing() {
    auto drawing = std::exchange(drawing_, nullptr);
    caught_.reset();
    if (drawing->id) {
        if (drawing->what.shape == Shape::Wall) editor_.report(closeCorners(*drawing));
        editor_.select({drawing->id});
        if (auto step = drawing->draft->commit(); !step) editor_.report(tl::unexpected(step.error()));
    }
    drawing.reset();
    if (!editor_.drawsOn()) editor_.setTool(Tool::Slide);
    updateHint();
    update();
}

void ViewWidget::paintDrawing(QPainter& p) const {
    if (!drawing_ || !drawing_->id) return;
    const model::DetailPtr& detail = editor_.scene().detail(editor_.scene().find(drawing_->id));
    const base::Vec3 size = detail->get<model::Solid>()->size;
    const bool flat = detail->get<model::Solid>()->shape == Shape::Plane;
    QString text = flat ? tr("%1 × %2 m").arg(fixed(size.x), fixed(size.z))
                        : tr("%1 × %2 × %3 m").arg(fixed(size.x), fixed(size.y), fixed(size.z));
    if (detail->get<model::Solid>()->shape == Shape::Stairs)
        text += tr(" · %1").arg(counted(static_cast<std::size_t>(shape::usualParts(shape::SolidShape::Stairs, size)),
                                        tr("step"), tr("steps")));
    paintNote(p, pointer_ + QPointF(20, -18), text);
}

}  // namespace app
