#include "app/view/overlays/overlay.h"

namespace app {

std::vector<OverlayPtr> allOverlays(ViewContext& view) {
    constexpr OverlayPtr (*kInOrder[])(ViewContext&) = {
        rehearsed, lightMarks,  reach,     brackets, labels,    zones,      points,    routes,
        bodies,    scriptMarks, findings,  badges,   links,     cueLines,   relations, directions,
        scaleBar,  basePoint,   seatDrops, actMarks, shotMarks, soundMarks, inset,
    };
    std::vector<OverlayPtr> all;
    for (const auto make : kInOrder) all.push_back(make(view));
    return all;
}

}  // namespace app
