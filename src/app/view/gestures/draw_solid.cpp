// Drawing solids: a footprint dragged out on a surface, then a height.
#include <algorithm>
#include <cmath>

#include "app/kit/parts.h"
#include "app/shell/sight.h"
#include "app/shell/tools.h"
#include "app/view/eye.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/dress_drawn.h"
#include "app/view/pixels.h"
#include "base/text.h"
#include "base/tidy.h"
#include "edit/session.h"
#include "model/facets/solid.h"
#include "ops/move.h"
#include "ops/solid.h"
#include "query/solids.h"

namespace app {
namespace {

using Shape = model::Solid::Shape;

/// A solid on its way: its footprint, and once that stands, its height.
class SolidOnItsWay : public Hold {
  public:
    explicit SolidOnItsWay(ViewContext& view);
    /// False when there is nothing to draw on under the pointer, or drawing is refused.
    bool begin();
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes release(Qt::KeyboardModifiers modifiers) override;
    Goes press() override { return rising_ ? finish() : Goes::On; }
    void type() override;
    std::optional<Goes> typed(const QString& text) override;
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override;

  private:
    std::optional<base::Vec3> onPlane(const QPointF& pixel) const;
    std::optional<base::Vec3> wallAt(const base::Vec3& place) const;
    std::optional<double> raisedTo(const QPointF& pixel) const;
    double least() const;
    void spread(Qt::KeyboardModifiers modifiers);
    bool apply();
    base::Status closeCorners();
    Goes finish();

    edit::Draft draft_;
    base::ObjectId id_;
    ops::SolidDrawing what_;
    bool rising_ = false;
};

SolidOnItsWay::SolidOnItsWay(ViewContext& view)
    : Hold(view),
      draft_(editor_.session(), editor_.sceneName(), "Draw " + std::string(ops::solidLabel(editor_.tools().solid))) {
    view_.catcher.setMine([this](model::Slot s) { return id_ && editor_.scene().id(s) == id_; });
}

bool SolidOnItsWay::begin() {
    const auto hit = editor_.surfaceUnder(view_.rayAt(view_.pointer), false);
    const auto at = view_.caughtOrLanding(view_.pointer);
    if (!at || !editor_.report(draft_.state())) return false;
    const bool caught = view_.catcher.caught().has_value();
    what_.shape = editor_.tools().solid;
    what_.winds = what_.shape == Shape::Arch && editor_.tools().winds;
    what_.axes = ops::drawingAxes(what_.shape, hit ? hit->normal : base::Vec3(0, 1, 0));
    what_.corner = *at;
    const auto joined = wallAt(*at);
    const double step = editor_.tools().activeSteps().metres;
    const bool level = what_.axes[1].y > 0.999;
    for (int axis : {0, 2})
        if (level && !caught && !joined) what_.corner[axis] = ops::snapped((*at)[axis], step);
    if (!caught) what_.corner = base::tidied(what_.corner);
    if (joined) what_.corner = caught ? base::Vec3(at->x, joined->y, at->z) : *joined;
    return true;
}

/// Where a pixel's ray meets the plane that is drawn on.
std::optional<base::Vec3> SolidOnItsWay::onPlane(const QPointF& pixel) const {
    const base::Ray ray = view_.rayAt(pixel);
    const base::Vec3 normal = what_.axes[1];
    const double facing = glm::dot(ray.direction, normal);
    if (std::abs(facing) < 1e-4) return std::nullopt;
    const double t = glm::dot(what_.corner - ray.origin, normal) / facing;
    if (t <= 0 || t > 9000) return std::nullopt;
    return ray.at(t);
}

/// The place on a wall that stands there: what a new wall joins.
std::optional<base::Vec3> SolidOnItsWay::wallAt(const base::Vec3& place) const {
    std::optional<base::Vec3> joined;
    if (editor_.sight().index() == nullptr || what_.shape != Shape::Wall) return joined;
    const base::Vec3 reach(ops::SolidDrawing::kThick * 2);
    editor_.sight().index()->overlapping(editor_.scene(), {place - reach, place + reach}, [&](model::Slot s) {
        if (editor_.isHidden(s) || (id_ && editor_.scene().id(s) == id_)) return;
        const auto on = ops::joinedWall(editor_.scene(), s, place);
        if (on && (!joined || glm::length(*on - place) < glm::length(*joined - place))) joined = on;
    });
    return joined;
}

/// The least a solid is large: a step, or what is a step where none are on.
double SolidOnItsWay::least() const {
    const double step = editor_.tools().activeSteps().metres;
    return step > 0 ? step : 0.05;
}

bool SolidOnItsWay::apply() {
    const ops::DrawnSolid drawn = ops::drawnSolid(what_, least());
    view_.update();
    if (!id_) {
        auto id = ops::addSolid(draft_, drawn.solid, drawn.frame, editor_.entered());
        if (!id) return editor_.report(tl::unexpected(id.error()));
        id_ = *id;
        return true;
    }
    if (!editor_.report(ops::setSolid(draft_, id_, drawn.solid))) return false;
    base::Transform local = drawn.frame;
    const model::Slot parent = editor_.scene().parent(editor_.scene().find(id_));
    if (parent != model::kNoSlot)
        if (auto into = base::inverse(editor_.scene().world(parent)))
            local = base::toTransform(*into * base::toAffine(drawn.frame));
    return editor_.report(draft_.setTransforms({&id_, 1}, {&local, 1}));
}

/// How high the pointer raises it: along the upright through the footprint, or, seen from above, as high as the pointer
/// is away from the footprint.
std::optional<double> SolidOnItsWay::raisedTo(const QPointF& pixel) const {
    const base::Ray ray = view_.rayAt(pixel);
    constexpr double kFromAbove = 0.985;  // within ten degrees
    if (std::abs(glm::dot(ray.direction, what_.axes[1])) > kFromAbove) {
        const auto at = onPlane(pixel);
        return at ? std::optional(ops::awayFromFootprint(what_, *at)) : std::nullopt;
    }
    const base::Vec3 foot = what_.corner + what_.across / 2.0;
    const auto at = nearestOnLine(ray, foot, what_.axes[1]);
    return at ? std::optional(glm::dot(*at - foot, what_.axes[1])) : std::nullopt;
}

Goes SolidOnItsWay::move(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return Goes::On;
    if (!rising_) {
        spread(modifiers);
        return Goes::On;
    }
    if (const auto raised = raisedTo(view_.pointer)) {
        const double step = view_.catcher.steps(modifiers).metres;
        what_.height = std::max(ops::snapped(*raised, step), least());
        apply();
    }
    return Goes::On;
}

/// The footprint goes to the pointer.
void SolidOnItsWay::spread(Qt::KeyboardModifiers modifiers) {
    const auto& caught = view_.catcher.look(view_.pointer);
    const auto at = caught ? std::optional(caught->point) : onPlane(view_.pointer);
    if (!at) return;
    const auto joined = caught ? std::nullopt : wallAt(*at);
    base::Vec3 along = glm::transpose(what_.axes) * (joined.value_or(*at) - what_.corner);
    along.y = 0;
    if (!caught && !joined)
        for (int axis : {0, 2}) along[axis] = ops::snapped(along[axis], view_.catcher.steps(modifiers).metres);
    what_.across = what_.axes * along;
    apply();
}

/// The footprint is done: a click without a drag gives one of a metre, at once.
Goes SolidOnItsWay::release(Qt::KeyboardModifiers) {
    if (rising_ || view_.amount.isOpen()) return Goes::On;
    const QPointF way = view_.pointer - view_.pressedAt;
    if (std::hypot(way.x(), way.y()) <= kDragStart) {
        const bool wall = what_.shape == Shape::Wall;
        what_.across = what_.axes * base::Vec3(wall ? 2 : 1, 0, wall ? 0 : 1);
        what_.corner -= what_.across / 2.0;
        what_.height = wall ? 2.5 : 1;
        apply();
        return finish();
    }
    if (!ops::hasHeight(what_.shape)) return finish();
    rising_ = true;
    return Goes::On;
}

void SolidOnItsWay::type() {
    const QString asked = rising_                        ? tr("Height (%1)")
                          : what_.shape == Shape::Wall   ? tr("Length, or length × height, as 4 x 2.5 (%1)")
                          : !ops::hasHeight(what_.shape) ? tr("Width × depth, as 4 x 3 (%1)")
                                                         : tr("Width × depth, or all three, as 4 x 3 (%1)");
    view_.amount.open(asked.arg(base::traits(editor_.unit()).sign), view_.pointer + QPointF(22, -44));
}

std::optional<Goes> SolidOnItsWay::typed(const QString& text) {
    ops::SolidDrawing sized = what_;
    const auto done = ops::typeSizes(sized, text.toStdString(), rising_, editor_.unit());
    if (!done) {
        editor_.report(tl::unexpected(done.error()));
        return std::nullopt;
    }
    what_ = sized;
    if (!apply()) return std::nullopt;
    if (*done) return finish();
    rising_ = true;
    return Goes::On;
}

base::Status SolidOnItsWay::closeCorners() {
    if (editor_.sight().index() == nullptr) return {};  // the scene is still being taken in
    std::vector<base::ObjectId> others;
    const base::Vec3 reach(ops::SolidDrawing::kThick);
    for (const base::Vec3& end : {what_.corner, what_.corner + what_.across})
        editor_.sight().index()->overlapping(editor_.scene(), {end - reach, end + reach},
                                             [&](model::Slot s) { others.push_back(editor_.scene().id(s)); });
    std::sort(others.begin(), others.end());
    others.erase(std::unique(others.begin(), others.end()), others.end());
    return ops::closeCorners(draft_, id_, others);
}

Goes SolidOnItsWay::finish() {
    if (id_) {
        if (what_.shape == Shape::Wall) editor_.report(closeCorners());
        dressDrawn(editor_, draft_, id_);
        editor_.select({id_});
        editor_.keep(draft_);
    }
    if (!editor_.tools().drawsOn) editor_.setTool(Tool::Slide);
    return Goes::Done;
}

void SolidOnItsWay::paint(QPainter& p) const {
    if (!id_) return;
    const model::Solid& solid = *editor_.scene().facet<model::Solid>(editor_.scene().find(id_));
    const base::Vec3 size = solid.size;
    const auto number = [this](double v) { return lengthNumber(v, editor_.unit(), 2); };
    const QString deep = editor_.length(size.z);
    QString text = solid.shape == Shape::Plane ? tr("%1 × %2").arg(number(size.x), deep)
                                               : tr("%1 × %2 × %3").arg(number(size.x), number(size.y), deep);
    if (solid.shape == Shape::Stairs)
        text += tr(" · %1").arg(
            counted(static_cast<std::size_t>(shape::usualParts(query::numbersOf(solid))), tr("step"), tr("steps")));
    view_.note(p, view_.pointer + QPointF(20, -18), text);
}

QString SolidOnItsWay::hint() const {
    if (!rising_) return tr("Drag: its footprint · Tab: type it · Shift: fine · hold 1 2 3 4 6: catch · Esc: let go");
    const bool above = view_.camera.isFlat() && view_.camera.forward().y < -0.99;
    return above ? tr("Move away from it: how high · click: done · Tab: type it · Shift: fine · Esc: let go")
                 : tr("Move: how high · click: done · Tab: type it · Shift: fine · Esc: let go");
}

class DrawSolid : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.tools().tool == Tool::Solid; }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        auto solid = std::make_unique<SolidOnItsWay>(view_);
        if (!solid->begin()) solid.reset();
        return solid;
    }
    QString hint() const override {
        return tr("Drag its footprint on any surface · click: one of a metre · Esc: no more");
    }
};

}  // namespace

GesturePtr drawSolid(ViewContext& view) {
    return std::make_unique<DrawSolid>(view);
}

}  // namespace app
