#pragma once
// Light to look at a scene by, whatever light it has of its own: nothing of it is kept in the scene.
#include "model/scene.h"

namespace render {

enum class Daylight { AsSet, Day, Dusk, Night };

/// The scene's settings with their sun and sky replaced by those of a time of day; AsSet: as they are.
model::SceneSettings litBy(const model::SceneSettings& settings, Daylight daylight);

}  // namespace render
