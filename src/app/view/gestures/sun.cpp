// The sun as a disc in the sky, to be dragged: while nothing is selected, and the view shows the scene's own light.
#include <cmath>

#include "app/kit/parts.h"
#include "app/names.h"
#include "app/view/gestures/all.h"
#include "app/view/looks.h"
#include "edit/session.h"
#include "model/scene_fields.h"

namespace app {
namespace {

constexpr double kRadius = 9, kReach = 14;  // pixels
constexpr double kFarOff = 5000;            // metres: beyond all there is to see
constexpr double kStepDegrees = 5;

/// Where it stands in the view; nothing: it is not shown.
std::optional<QPointF> sunIn(const ViewContext& view) {
    const Editor& editor = view.editor;
    if (!editor.isOpen() || !editor.selection().empty() || editor.looks().clean || view.camera.isFlat() ||
        editor.looks().daylight != render::Daylight::AsSet || model::prefabOf(editor.sceneName()))
        return std::nullopt;
    const base::Vec3 to = -glm::normalize(editor.scene().settings().sunDirection);
    return view.pixelInside(view.camera.eye + to * kFarOff);
}

void paintSun(QPainter& p, const QPointF& at, QColor ink, bool isLit) {
    ink.setAlpha(isLit ? 255 : 170);
    p.setPen(QPen(ink, isLit ? 2 : 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, kRadius, kRadius);
    for (int ray = 0; ray < 8; ++ray) {
        const double angle = ray * M_PI / 4;
        const QPointF way(std::cos(angle), std::sin(angle));
        p.drawLine(at + way * (kRadius + 3), at + way * (kRadius + 6));
    }
}

class SunInHand : public Hold {
  public:
    using Hold::Hold;
    Goes move(Qt::KeyboardModifiers modifiers) override {
        model::SunPlace place = model::sunPlace(-view_.rayAt(view_.pointer).direction);
        if ((modifiers & Qt::ShiftModifier) != 0)
            for (double* degrees : {&place.heightDegrees, &place.bearingDegrees})
                *degrees = std::round(*degrees / kStepDegrees) * kStepDegrees;
        draft_.reset();  // gives back what the last move did
        draft_ = std::make_unique<edit::Draft>(editor_.session(), editor_.sceneName(), "Move the sun");
        if (!draft_->state()) return editor_.report(draft_->state()) ? Goes::On : Goes::Back;
        model::SceneSettings settings = editor_.scene().settings();
        settings.sunDirection = model::sunDirection(place);
        return editor_.report(draft_->setSettings(settings)) ? Goes::On : Goes::Back;
    }
    Goes release(Qt::KeyboardModifiers) override {
        if (draft_) editor_.keep(*draft_);
        return Goes::Done;
    }
    void paint(QPainter& p) const override {
        const auto at = sunIn(view_);
        if (!at) return;
        paintSun(p, *at, theme().honey, true);
        const model::SunPlace place = model::sunPlace(editor_.scene().settings().sunDirection);
        view_.note(
            p, *at + QPointF(14, -8),
            InView::tr("%1° high, bearing %2°").arg(fixed(place.heightDegrees, 1), fixed(place.bearingDegrees, 1)));
    }
    QString hint() const override { return InView::tr("Drag the sun; Shift: in steps of 5°; Esc: back"); }

  private:
    std::unique_ptr<edit::Draft> draft_;
};

class PullSun : public Gesture {
  public:
    using Gesture::Gesture;
    std::optional<int> offer(const QPointF& pixel) override {
        const auto at = editor_.session().readOnlyReason().empty() ? sunIn(view_) : std::nullopt;
        const bool over = at && std::hypot(at->x() - pixel.x(), at->y() - pixel.y()) <= kReach;
        if (over != over_) view_.update();
        over_ = over;
        return over ? std::optional(0) : std::nullopt;
    }
    void withdraw() override { over_ = false; }
    Taken press(Qt::KeyboardModifiers) override {
        if (!offer(view_.pointer)) return {};  // something was selected since the pointer moved last
        return {true, std::make_unique<SunInHand>(view_)};
    }
    void paint(QPainter& p) const override {
        const auto at = sunIn(view_);
        if (!at) return;
        paintSun(p, *at, theme().honey, over_);
    }
    QString hint() const override { return InView::tr("Drag: move the sun of this scene"); }
    std::vector<QPointF> grips() const override {
        const auto at = sunIn(view_);
        return at ? std::vector<QPointF>{*at} : std::vector<QPointF>{};
    }

  private:
    bool over_ = false;
};

}  // namespace

GesturePtr pullSun(ViewContext& view) {
    return std::make_unique<PullSun>(view);
}

}  // namespace app
