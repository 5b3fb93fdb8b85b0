#pragma once
// What was drawn gets the surface that is chosen, when one draws so.
#include "app/shell/tools.h"
#include "edit/session.h"
#include "ops/surfaces.h"

namespace app {

inline void dressDrawn(Editor& editor, edit::Draft& draft, base::ObjectId solid) {
    const Tools& tools = editor.tools();
    if (!tools.drawsDressed || !editor.session().library().surfaces().contains(tools.chosenSurface)) return;
    const std::string surface = tools.chosenSurface;
    editor.report(ops::setSlot(draft, {&solid, 1}, "plaster", [&](model::SlotSurface& s) { s.surface = surface; }));
}

}  // namespace app
