#pragma once
// Every gesture of a view. One file each; all.cpp has their order: who is asked first.
#include "app/view/gesture.h"

namespace app {

GesturePtr placeItems(ViewContext& view);
GesturePtr giveObject(ViewContext& view);
GesturePtr moveStandIn(ViewContext& view);
GesturePtr givePoint(ViewContext& view);
GesturePtr measuring(ViewContext& view);
GesturePtr lay(ViewContext& view);
GesturePtr sweep(ViewContext& view);
GesturePtr drawZone(ViewContext& view);
GesturePtr placePoints(ViewContext& view);
GesturePtr drawRoute(ViewContext& view);
GesturePtr drawSolid(ViewContext& view);
GesturePtr drawPrism(ViewContext& view);
GesturePtr clipSolids(ViewContext& view);
GesturePtr cutOpening(ViewContext& view);
GesturePtr pullParts(ViewContext& view);
GesturePtr pullOpening(ViewContext& view);
GesturePtr pullArray(ViewContext& view);
GesturePtr pullZone(ViewContext& view);
GesturePtr pullLight(ViewContext& view);
GesturePtr pullScriptHandle(ViewContext& view);
GesturePtr pullSide(ViewContext& view);
GesturePtr pullHandle(ViewContext& view);
GesturePtr movePoint(ViewContext& view);
GesturePtr moveRoutePoint(ViewContext& view);
GesturePtr bendRoute(ViewContext& view);
GesturePtr pullSun(ViewContext& view);
GesturePtr carry(ViewContext& view);
GesturePtr selectInShape(ViewContext& view);
GesturePtr selectByClick(ViewContext& view);

/// All of them, those that are asked first in front.
std::vector<GesturePtr> allGestures(ViewContext& view);

}  // namespace app
