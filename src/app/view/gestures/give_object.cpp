// Pointing at the object that a link is to lead to. What fits has a ring.
#include "app/kit/parts.h"
#include "app/names.h"
#include "app/shell/asking.h"
#include "app/view/gestures/all.h"
#include "app/view/overlays/overlay.h"

namespace app {
namespace {

class GiveObject : public ViewTool {
  public:
    using ViewTool::ViewTool;
    bool claims() const override { return editor_.asking().asksObject(); }
    bool point(const QPointF& pixel) override {
        const Slot slot = targetUnder(pixel);
        view_.light(slot);
        return slot != kNoSlot;
    }
    void withdraw() override { view_.light(kNoSlot); }
    std::unique_ptr<Hold> begin(Qt::KeyboardModifiers) override {
        if (const Slot s = targetUnder(view_.pointer); s != kNoSlot) editor_.asking().giveObject(editor_.scene(), s);
        return nullptr;
    }
    bool putAway() override {
        editor_.asking().askObject({}, {});
        return true;
    }
    void paint(QPainter& p) const override;
    QString hint() const override {
        return tr("Click what it leads to, here or in the Roster; what fits has a ring · Esc: nothing");
    }

  private:
    /// The part of what is under the pointer that the link may lead to: itself, or the nearest thing around it.
    Slot targetUnder(const QPointF& pixel) const {
        const auto hit = editor_.surfaceUnder(view_.rayAt(pixel), false);
        Slot s = hit ? hit->slot : view_.objectUnder(pixel);
        while (s != kNoSlot && !editor_.asking().objectFits(s)) s = editor_.scene().parent(s);
        return s;
    }
};

void GiveObject::paint(QPainter& p) const {
    constexpr std::size_t kMostRings = 400;
    const model::Scene& scene = editor_.scene();
    std::size_t drawn = 0;
    for (Slot s = 0; s < scene.slotEnd() && drawn < kMostRings; ++s) {
        if (!scene.alive(s) || !editor_.asking().objectFits(s) || editor_.isHidden(s)) continue;
        const auto at = view_.pixelInside(linkEnd(scene, s));
        if (!at) continue;
        ++drawn;
        const bool lit = s == view_.lit();
        const double r = lit ? 13 : 9;
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().window, lit ? 6 : 4));
        p.drawEllipse(*at, r, r);
        p.setPen(QPen(theme().lilac, lit ? 3 : 2));
        p.drawEllipse(*at, r, r);
        if (lit) view_.note(p, *at + QPointF(18, -10), toQt(scene.nameText(s)));
    }
}

}  // namespace

GesturePtr giveObject(ViewContext& view) {
    return std::make_unique<GiveObject>(view);
}

}  // namespace app
