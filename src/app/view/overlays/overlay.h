#pragma once
// What lies over the picture and does nothing: names, marks, links, values. One file each; all.cpp has their order.
#include <memory>
#include <vector>

#include "app/view/view_context.h"

namespace app {

class Overlay : public InView {
  public:
    using InView::InView;
    virtual ~Overlay() = default;
    /// Letters and brush are as the one before left them.
    virtual void paint(QPainter& p) = 0;
    /// Is it seen by whoever plays, too?
    virtual bool isInPlay() const { return false; }
};

using OverlayPtr = std::unique_ptr<Overlay>;

OverlayPtr lightMarks(ViewContext& view);
OverlayPtr reach(ViewContext& view);
OverlayPtr brackets(ViewContext& view);
OverlayPtr labels(ViewContext& view);
OverlayPtr zones(ViewContext& view);
OverlayPtr points(ViewContext& view);
OverlayPtr routes(ViewContext& view);
OverlayPtr bodies(ViewContext& view);
OverlayPtr scriptMarks(ViewContext& view);
OverlayPtr findings(ViewContext& view);
OverlayPtr badges(ViewContext& view);
OverlayPtr links(ViewContext& view);
OverlayPtr cueLines(ViewContext& view);
OverlayPtr relations(ViewContext& view);
OverlayPtr actMarks(ViewContext& view);
OverlayPtr shotMarks(ViewContext& view);
OverlayPtr soundMarks(ViewContext& view);
OverlayPtr directions(ViewContext& view);
OverlayPtr scaleBar(ViewContext& view);
OverlayPtr basePoint(ViewContext& view);
OverlayPtr seatDrops(ViewContext& view);
OverlayPtr inset(ViewContext& view);
OverlayPtr rehearsed(ViewContext& view);

/// All of them, the lowest first.
std::vector<OverlayPtr> allOverlays(ViewContext& view);

/// A mark that a script or a check draws.
void paintMark(QPainter& p, ViewContext& view, const script::Mark& mark);
/// Where a link to or from an object ends.
base::Vec3 linkEnd(const model::Scene& scene, model::Slot slot);

}  // namespace app
