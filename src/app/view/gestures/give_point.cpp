// Pointing at a place that was asked for.
#include "app/shell/asking.h"
#include "app/view/gestures/all.h"

namespace app {
namespace {

class GivePoint : public PlaceTool {
  public:
    using PlaceTool::PlaceTool;
    bool claims() const override { return editor_.asking().asksPoint(); }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        const auto at = view_.caughtOrLanding(view_.pointer);
        view_.catcher.forget();
        if (at) editor_.asking().givePoint(*at);
        return nullptr;
    }
    bool putAway() override {
        editor_.asking().askPoint({});
        return true;
    }
    QString hint() const override {
        return tr("Click: the place · hold 1 corner, 2 edge, 3 face, 4 centre, 6 end: catch");
    }
};

}  // namespace

GesturePtr givePoint(ViewContext& view) {
    return std::make_unique<GivePoint>(view);
}

}  // namespace app
