#include "app/view/gestures/all.h"

namespace app {

std::vector<GesturePtr> allGestures(ViewContext& view) {
    constexpr GesturePtr (*kInOrder[])(ViewContext&) = {
        // What the whole view is for while it is on.
        placeItems,
        giveObject,
        givePoint,
        measuring,
        sweep,
        lay,
        drawZone,
        placePoints,
        drawRoute,
        drawPrism,
        drawSolid,
        clipSolids,
        cutOpening,
        pullParts,
        // What has a grip to be taken by.
        pullArray,
        pullZone,
        pullLight,
        pullScriptHandle,
        moveStandIn,
        pullOpening,
        pullSide,
        pullHandle,
        movePoint,
        moveRoutePoint,
        bendRoute,
        pullSun,
        // The rest of the view.
        carry,
        selectInShape,
        selectByClick,
    };
    std::vector<GesturePtr> all;
    for (const auto make : kInOrder) all.push_back(make(view));
    return all;
}

}  // namespace app
