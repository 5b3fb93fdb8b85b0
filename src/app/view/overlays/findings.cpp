// A quiet sign at what checks have found, and what explains the one that is looked at.
#include "app/look/colour.h"
#include "app/names.h"
#include "app/shell/checks.h"
#include "app/view/overlays/overlay.h"

namespace app {

namespace {

class Findings : public Overlay {
  public:
    using Overlay::Overlay;
    void paint(QPainter& p) override;
};

void Findings::paint(QPainter& p) {
    constexpr std::size_t kMostSigns = 300;
    const Checks& checks = editor_.checks();
    const Theme& theme = editor_.theme();
    auto colourOf = [&](check::Severity s) {
        return s == check::Severity::Error ? theme.rose : s == check::Severity::Caution ? theme.lemon : theme.dim;
    };
    std::size_t left = kMostSigns;
    for (const check::Finding& f : checks.findings()) {
        const Slot slot = editor_.scene().find(f.object);
        if (slot == kNoSlot || left == 0 || editor_.isHidden(slot)) continue;
        const base::Aabb box = editor_.scene().subtreeBounds(slot);
        const base::Vec3 top = box.empty() ? editor_.scene().world(slot).translation
                                           : base::Vec3(box.centre().x, box.high.y, box.centre().z);
        const auto at = view_.pixelOf(top);
        if (!at) continue;
        --left;
        const QPointF o = *at + QPointF(0, -9);
        p.setPen(QPen(theme.window, 1));
        p.setBrush(colourOf(f.severity));
        if (f.severity == check::Severity::Error)
            p.drawRect(QRectF(o.x() - 4, o.y() - 4, 8, 8));
        else if (f.severity == check::Severity::Caution)
            p.drawPolygon(QPolygonF{o + QPointF(0, -5), o + QPointF(5, 4), o + QPointF(-5, 4)});
        else
            p.drawEllipse(o, 3.5, 3.5);
    }
    p.setBrush(Qt::NoBrush);
    if (!checks.current()) return;
    for (script::Mark mark : checks.current()->marks) {
        if (!mark.colour) mark.colour = toLinear(colourOf(checks.current()->severity));
        paintMark(p, view_, mark);
    }
}

}  // namespace

OverlayPtr findings(ViewContext& view) {
    return std::make_unique<Findings>(view);
}

}  // namespace app
