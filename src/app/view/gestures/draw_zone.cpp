// Drawing a zone: its corners clicked one after the other on the ground.
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "edit/session.h"
#include "ops/facets.h"
#include "ops/move.h"

namespace app {
namespace {

constexpr double kFirstReach = 9;  // pixels: a click so near to the first corner closes it
constexpr double kUsualHeight = 3;

class ZoneOnItsWay : public Hold {
  public:
    ZoneOnItsWay(ViewContext& view, const base::Vec3& corner) : Hold(view), corners_{corner} {}
    Goes move(Qt::KeyboardModifiers) override {
        view_.catcher.look(view_.pointer);
        view_.update();
        return Goes::On;
    }
    Goes release(Qt::KeyboardModifiers) override { return Goes::On; }
    Goes press() override;
    std::optional<Goes> enter() override {
        if (corners_.size() < 3) return Goes::On;
        finish();
        return Goes::Done;
    }
    bool stepBack() override {
        corners_.pop_back();
        return !corners_.empty();
    }
    bool catches() const override { return true; }
    void paint(QPainter& p) const override;
    QString hint() const override {
        return corners_.size() < 3
                   ? tr("Click its corners on the ground · hold 1 corner, 2 edge, 6 end: catch · Esc: one back")
                   : tr("Click: a corner more · the first one, or Enter: done · Esc: one back");
    }

  private:
    void finish();

    std::vector<base::Vec3> corners_;
};

std::optional<base::Vec3> cornerAt(ViewContext& view) {
    auto at = view.caughtOrLanding(view.pointer);
    if (!at) {
        view.editor.say(InView::tr("There is nothing here for a corner to stand on."));
        return std::nullopt;
    }
    const double step = view.editor.tools().activeSteps().metres;
    for (int axis : {0, 2})
        if (!view.catcher.caught()) (*at)[axis] = ops::snapped((*at)[axis], step);
    return at;
}

Goes ZoneOnItsWay::press() {
    const auto first = view_.pixelOf(corners_.front());
    if (corners_.size() >= 3 && first &&
        std::hypot(first->x() - view_.pointer.x(), first->y() - view_.pointer.y()) < kFirstReach) {
        finish();
        return Goes::Done;
    }
    if (const auto at = cornerAt(view_)) corners_.push_back(*at);
    view_.update();
    return Goes::On;
}

void ZoneOnItsWay::finish() {
    const ops::DrawnZone drawn = ops::drawnZone(corners_, kUsualHeight);
    const bool done = editor_.run("Draw a zone", [&](edit::Draft& draft) -> base::Status {
        auto made = ops::addZone(draft, drawn.zone, drawn.at, editor_.entered());
        if (!made) return tl::unexpected(made.error());
        editor_.session().select({*made});
        return {};
    });
    if (done) editor_.setTool(Tool::Slide);  // its sides can be pulled at once
}

void ZoneOnItsWay::paint(QPainter& p) const {
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

class DrawZone : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.tools().tool == Tool::Zone; }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        const auto at = cornerAt(view_);
        return at ? std::make_unique<ZoneOnItsWay>(view_, *at) : nullptr;
    }
    QString hint() const override {
        return tr("Click its corners on the ground · hold 1 corner, 2 edge, 6 end: catch · Esc: no more");
    }
};

}  // namespace

GesturePtr drawZone(ViewContext& view) {
    return std::make_unique<DrawZone>(view);
}

}  // namespace app
