// Drawing a zone: its corners clicked one after the other on the ground.
#include "app/shell/tools.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/corners.h"
#include "edit/session.h"
#include "ops/facets.h"

namespace app {
namespace {

constexpr double kUsualHeight = 3;

class ZoneOnItsWay : public CornersHold {
  public:
    using CornersHold::CornersHold;

  private:
    Goes closed() override;
};

Goes ZoneOnItsWay::closed() {
    const ops::DrawnZone drawn = ops::drawnZone(corners_, kUsualHeight);
    const bool done = editor_.run("Draw a zone", [&](edit::Draft& draft) -> base::Status {
        auto made = ops::addZone(draft, drawn.zone, drawn.at, editor_.entered());
        if (!made) return tl::unexpected(made.error());
        editor_.session().select({*made});
        return {};
    });
    if (done) editor_.setTool(Tool::Slide);  // its sides can be pulled at once
    return Goes::Done;
}

class DrawZone : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.tools().tool == Tool::Zone; }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        const auto at = CornersHold::cornerAt(view_);
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
