#pragma once
// Where the pointer is on a route, as it is seen.
#include <optional>

#include "app/view/view_context.h"

namespace app {

struct OnRoute {
    double metres = 0, pixels = 0;  ///< along it; from it
};
/// The nearest place of a route's curve within so many pixels; nothing: it is not there, or has too many points to be
/// looked at with every move of the pointer.
std::optional<OnRoute> onRoute(const ViewContext& view, model::Slot route, const QPointF& pixel, double within);
/// Of all routes that are shown, the one whose line is under a pixel; kNoSlot: none.
model::Slot routeUnder(const ViewContext& view, const QPointF& pixel);

}  // namespace app
