// The figure that stands in for who plays, dragged over what is under the pointer: what the camera shows follows.
#include "app/names.h"
#include "app/shell/stand_in.h"
#include "app/view/eye.h"
#include "app/view/gestures/all.h"
#include "app/view/gestures/grips.h"

namespace app {
namespace {

struct StandInGrips {
    using Grip = base::Vec3;  // its foot
    static std::vector<Grip> grips(const ViewContext& view) {
        const auto foot = view.editor.standIn().foot();
        return foot ? std::vector<Grip>{*foot + base::Vec3(0, 0.9, 0)} : std::vector<Grip>{};
    }
    static base::Vec3 place(const Grip& grip) { return grip; }
    static bool isSame(const Grip&, const Grip&) { return true; }
    static QString hint(const Grip&, bool) {
        return InView::tr("Drag: put the stand-in elsewhere, and see what the camera shows · Esc: back");
    }
    static void paint(QPainter& p, const ViewContext& view, const Grip&, const QPointF& at, bool lit) {
        p.setPen(QPen(lit ? view.editor.theme().text : view.editor.theme().window, 1.5));
        p.setBrush(view.editor.theme().honey);
        p.drawEllipse(at, lit ? 8 : 6, lit ? 8 : 6);
    }
};

class MoveStandIn : public Hold {
  public:
    MoveStandIn(ViewContext& view, const base::Vec3&) : Hold(view), before_(*editor_.standIn().foot()) {}
    ~MoveStandIn() override {
        if (!done_) editor_.standIn().put(before_);
    }
    Goes move(Qt::KeyboardModifiers) override {
        const auto hit = editor_.surfaceUnder(view_.rayAt(view_.pointer), false);
        if (hit) editor_.standIn().put(hit->point);
        view_.update();
        return Goes::On;
    }
    Goes release(Qt::KeyboardModifiers) override {
        done_ = true;
        return Goes::Done;
    }
    QString hint() const override { return StandInGrips::hint({}, true); }

  private:
    base::Vec3 before_;
    bool done_ = false;
};

}  // namespace

GesturePtr moveStandIn(ViewContext& view) {
    return std::make_unique<GripGesture<StandInGrips, MoveStandIn>>(view);
}

}  // namespace app
