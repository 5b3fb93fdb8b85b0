#pragma once
// How the scene is looked at, in all panes. Nothing of it belongs to the scene; it is remembered with the window.
#include <optional>
#include <string>

#include "app/view/gl_renderer.h"
#include "render/daylight.h"

namespace app {

struct Looks {
    Paint paint = Paint::Shaded;
    render::Daylight daylight = render::Daylight::AsSet;
    bool lamp = false;                 ///< a light on the selection
    bool clean = false;                ///< nothing over the picture
    bool inset = true;                 ///< what the selected camera sees, in a corner
    bool drops = false;                ///< how far the selection would fall
    bool piercedBy = false;            ///< rings where the handle's axes go through surfaces
    bool states = true;                ///< objects look as their properties are at the start; else as their items are
    bool clock = true;                 ///< looks that change with time do so; else they stand
    bool allLinks = false;             ///< lines for every link, not only the selection's
    bool follow = false;               ///< the camera goes along with what is dragged
    std::optional<std::string> guise;  ///< shown instead of the scene's own; empty: as it is
    std::string label;  ///< what is written at every object: "name", "kind", "item" or a property; empty: nothing
    friend bool operator==(const Looks&, const Looks&) = default;
};

}  // namespace app
