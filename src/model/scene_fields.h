#pragma once
// What of a scene's settings is filled in by fields: for the form, scripts and the command line.
#include "model/facet.h"
#include "model/scene.h"

namespace model {

const Fields& sceneFields();

/// Where the sun stands, of the way its light travels: degrees above the horizon, and degrees from north (-Z) by east.
struct SunPlace {
    double heightDegrees = 0, bearingDegrees = 0;
};
SunPlace sunPlace(const base::Vec3& direction);
/// The way its light travels, of unit length.
base::Vec3 sunDirection(const SunPlace& place);

/// The settings with a guise's light in place of their own.
SceneSettings inGuise(SceneSettings settings, const Guise& guise);

}  // namespace model
