// Drawing a prism: the corners of its footprint clicked one after the other, then a height.
#include <algorithm>

#include "app/kit/parts.h"
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/corners.h"
#include "app/view/gestures/dress_drawn.h"
#include "app/view/pixels.h"
#include "base/units.h"
#include "edit/session.h"
#include "ops/move.h"
#include "ops/solid.h"

namespace app {
namespace {

class PrismOnItsWay : public CornersHold {
  public:
    using CornersHold::CornersHold;
    Goes move(Qt::KeyboardModifiers modifiers) override;
    Goes press() override { return rising_ ? finish() : CornersHold::press(); }
    std::optional<Goes> enter() override { return rising_ ? std::optional(finish()) : CornersHold::enter(); }
    bool stepBack() override { return !rising_ && CornersHold::stepBack(); }
    void type() override {
        if (rising_)
            view_.amount.open(tr("Height (%1)").arg(base::traits(editor_.unit()).sign),
                              view_.pointer + QPointF(22, -44));
    }
    std::optional<Goes> typed(const QString& text) override;
    void paint(QPainter& p) const override;
    QString hint() const override {
        return rising_ ? tr("Move: how high · click: done · Tab: type it · Shift: fine · Esc: let go")
                       : CornersHold::hint();
    }

  private:
    Goes closed() override;
    bool raise(double metres);
    Goes finish();

    bool rising_ = false;
    double height_ = 0;
    std::unique_ptr<edit::Draft> draft_;
    base::ObjectId id_;
};

bool PrismOnItsWay::raise(double metres) {
    const auto drawn = ops::drawnPrism(corners_, metres);
    if (!drawn) return editor_.report(tl::unexpected(drawn.error()));
    height_ = metres;
    view_.update();
    if (id_) return editor_.report(ops::setSolid(*draft_, id_, drawn->solid));
    draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Draw Prism");
    auto id = ops::addSolid(*draft_, drawn->solid, drawn->frame, editor_.entered());
    if (!id) return editor_.report(tl::unexpected(id.error()));
    id_ = *id;
    view_.catcher.setMine([this](model::Slot s) { return editor_.scene().id(s) == id_; });
    return true;
}

Goes PrismOnItsWay::closed() {
    const double step = editor_.tools().activeSteps().metres;
    rising_ = raise(step > 0 ? step : 0.05);
    return Goes::On;
}

Goes PrismOnItsWay::move(Qt::KeyboardModifiers modifiers) {
    if (view_.amount.isOpen()) return Goes::On;
    if (!rising_) return CornersHold::move(modifiers);
    base::Aabb box;
    for (const base::Vec3& corner : corners_) box.add(corner);
    const auto at = nearestOnLine(view_.rayAt(view_.pointer), box.baseCentre(), {0, 1, 0});
    const double step = view_.catcher.steps(modifiers).metres, least = step > 0 ? step : 0.05;
    if (at) raise(std::max(ops::snapped(at->y - box.low.y, step), least));
    return Goes::On;
}

std::optional<Goes> PrismOnItsWay::typed(const QString& text) {
    const auto height =
        base::evaluateQuantity(base::typedIn(text.toStdString(), editor_.unit()), base::Quantity::Length, height_);
    if (!height) {
        editor_.report(tl::unexpected(height.error()));
        return std::nullopt;
    }
    return raise(*height) ? std::optional(finish()) : std::nullopt;
}

Goes PrismOnItsWay::finish() {
    dressDrawn(editor_, *draft_, id_);
    editor_.select({id_});
    editor_.keep(*draft_);
    if (!editor_.tools().drawsOn) editor_.setTool(Tool::Slide);
    return Goes::Done;
}

void PrismOnItsWay::paint(QPainter& p) const {
    if (!rising_) return CornersHold::paint(p);
    view_.note(p, view_.pointer + QPointF(20, -18), tr("%1 high").arg(editor_.length(height_)));
}

class DrawPrism : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override {
        return editor_.tools().tool == Tool::Solid && editor_.tools().solid == model::Solid::Shape::Prism;
    }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        const auto at = CornersHold::cornerAt(view_);
        return at ? std::make_unique<PrismOnItsWay>(view_, *at) : nullptr;
    }
    QString hint() const override {
        return tr("Click the corners of its footprint · hold 1 corner, 2 edge, 6 end: catch · Esc: no more");
    }
};

}  // namespace

GesturePtr drawPrism(ViewContext& view) {
    return std::make_unique<DrawPrism>(view);
}

}  // namespace app
