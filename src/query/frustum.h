#pragma once
// What lies inside a pyramid of sight: for box selection and culling.
#include <array>

#include "base/math.h"
#include "shape/mesh.h"

namespace query {

/// A plane's inside is where dot(normal, p) + offset >= 0.
struct Plane {
    base::Vec3 normal{0, 1, 0};
    double offset = 0;
    double distance(const base::Vec3& p) const { return glm::dot(normal, p) + offset; }
};

/// Left, right, bottom, top, near.
struct Frustum {
    std::array<Plane, 5> planes;
};

enum class Side { Outside, Crossing, Inside };
/// Conservative: a box near a corner of the frustum may be called Crossing though it is outside.
Side sideOf(const Frustum& frustum, const base::Aabb& box);

/// Does any triangle of the mesh, placed by `world`, reach into the frustum? Exact.
bool touches(const Frustum& frustum, const shape::Mesh& mesh, const base::Affine& world);

}  // namespace query
