// Drawing solids: a footprint dragged out on a surface, then a height.
#include <QPainter>

#include "app/view/pixels.h"
#include "app/view/view_widget.h"
#include "base/text.h"

namespace app {

using Shape = model::Solid::Shape;

namespace {

QString metres(double v) {
    return QString::fromStdString(base::fixed(v, 2));
}

bool hasHeight(Shape shape) {
    return shape != Shape::Plane && shape != Shape::Sphere;
}

}  // namespace

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

bool ViewWidget::startDrawing(const QPointF& pixel) {
    const auto hit = editor_.surfaceUnder(camera_.rayThrough(toVec(pixel), viewport()), false);
    caught_ = catchUnder(pixel);
    const auto at = caught_ ? std::optional(caught_->point) : landingUnder(pixel);
    if (!at) return false;
    drawing_ = std::make_unique<Drawing>();
    drawing_->what.shape = editor_.solidShape();
    drawing_->what.axes = ops::surfaceAxes(hit ? hit->normal : base::Vec3(0, 1, 0));
    drawing_->what.corner = *at;
    const double step = editor_.activeSteps().metres;
    const bool level = drawing_->what.axes[1].y > 0.999;
    for (int axis : {0, 2})
        if (level && !caught_) drawing_->what.corner[axis] = ops::snapped((*at)[axis], step);
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

void ViewWidget::applyDrawing() {
    const ops::DrawnSolid drawn = ops::drawnSolid(drawing_->what, leastDrawn());
    if (!drawing_->id) {
        auto id = ops::addSolid(*drawing_->draft, drawn.solid, drawn.frame, editor_.entered());
        if (!id) {
            editor_.report(tl::unexpected(id.error()));
            return;
        }
        drawing_->id = *id;
    } else {
        editor_.report(ops::setSolid(*drawing_->draft, drawing_->id, drawn.solid));
        base::Transform local = drawn.frame;
        const model::Slot parent = editor_.scene().parent(editor_.scene().find(drawing_->id));
        if (parent != model::kNoSlot)
            if (auto into = base::inverse(editor_.scene().world(parent)))
                local = base::toTransform(*into * base::toAffine(drawn.frame));
        editor_.report(drawing_->draft->setTransforms({&drawing_->id, 1}, {&local, 1}));
    }
    update();
}

void ViewWidget::moveDrawing(const QPointF& pixel, Qt::KeyboardModifiers modifiers) {
    ops::SolidDrawing& what = drawing_->what;
    const double step = editor_.activeSteps((modifiers & Qt::ShiftModifier) != 0 ? 0.1 : 1).metres;
    if (!drawing_->rising) {
        caught_ = catchUnder(pixel);
        const auto at = caught_ ? std::optional(caught_->point) : onDrawingPlane(pixel);
        if (!at) return;
        base::Vec3 along = glm::transpose(what.axes) * (*at - what.corner);
        along.y = 0;
        if (!caught_)
            for (int axis : {0, 2}) along[axis] = ops::snapped(along[axis], step);
        what.across = what.axes * along;
        return applyDrawing();
    }
    // The point of the upright through the footprint that is nearest to the ray.
    const base::Vec3 foot = what.corner + what.across / 2.0, up = what.axes[1];
    const base::Ray ray = camera_.rayThrough(toVec(pixel), viewport());
    const base::Vec3 between = ray.origin - foot;
    const double a = glm::dot(ray.direction, ray.direction), b = glm::dot(ray.direction, up);
    const double d = glm::dot(ray.direction, between), e = glm::dot(up, between), low = a - b * b;
    if (low < 1e-9) return;
    what.height = std::max(ops::snapped((a * e - b * d) / low, step), leastDrawn());
    applyDrawing();
}

/// The footprint is done: a click without a drag gives one of a metre, at once.
void ViewWidget::releaseDrawing(const QPointF& pixel) {
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
    if (!hasHeight(what.shape)) return finishDrawing();
    drawing_->rising = true;
    updateHint();
}

void ViewWidget::finishDrawing() {
    auto drawing = std::exchange(drawing_, nullptr);
    caught_.reset();
    if (drawing->id) {
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
    const base::Vec3 size = detail->solid->size;
    const bool flat = detail->solid->shape == Shape::Plane;
    QString text = flat ? tr("%1 × %2 m").arg(metres(size.x), metres(size.z))
                        : tr("%1 × %2 × %3 m").arg(metres(size.x), metres(size.y), metres(size.z));
    if (detail->solid->shape == Shape::Stairs)
        text += tr(" · %1").arg(counted(static_cast<std::size_t>(shape::usualParts(shape::SolidShape::Stairs, size)),
                                        tr("step"), tr("steps")));
    paintNote(p, pointer_ + QPointF(20, -18), text);
}

}  // namespace app
