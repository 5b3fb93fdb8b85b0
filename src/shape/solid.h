#pragma once
// Meshes of plain bodies from their sizes: what solids look like. Base on y = 0, middle of the footprint at the
// origin; what rises rises towards -Z.
#include "shape/mesh.h"

namespace shape {

/// In the order of model::Solid::Shape.
enum class SolidShape { Box, Wedge, Cylinder, Cone, Sphere, Plane, Stairs, Wall };

/// `size`: metres, each above 0. `parts`: sides of what is round, 3 or more; steps of stairs; 0: as many as suits.
Mesh solidMesh(SolidShape shape, const base::Vec3& size, int parts);

/// How many parts a solid has when none are asked for.
int usualParts(SolidShape shape, const base::Vec3& size);

}  // namespace shape
