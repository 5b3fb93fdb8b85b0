#pragma once
// How the handle looks.
#include "app/view/view_context.h"
#include "render/handle.h"

namespace app {

struct HandleLook {
    render::HandlePart active;  ///< under the pointer, or dragged
    render::HandlePart typed;   ///< what Tab types for
    bool dragged = false;       ///< nothing but the active part is shown
    bool middle = true;
};
void paintHandle(QPainter& p, const ViewContext& view, const render::Handle& handle, const HandleLook& look);
/// Where the handle's axes go through something: a ring on each surface, in the axis's colour; when that is wanted.
void paintPierced(QPainter& p, const ViewContext& view, const render::Handle& handle);

}  // namespace app
