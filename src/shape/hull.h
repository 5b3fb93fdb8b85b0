#pragma once
// Simple bodies round a mesh: what physics bumps into. Values, any thread.
#include <array>
#include <span>
#include <vector>

#include "shape/mesh.h"

namespace shape {

/// The convex hull of points as a mesh with flat sides. Over `most` corners, those that lie furthest out in evenly
/// spread directions are kept. Fewer than four points, or all in one plane: the box round them, at least 1 mm thick.
Mesh convexHull(std::span<const Float3> points, std::size_t most = 64);

/// The triangles of the hull of points, as corners' places in `points`; some may be thin. Empty: they lie in one plane.
std::vector<std::array<std::size_t, 3>> hullTriangles(const std::vector<base::Vec3>& points);

/// A capsule's mesh: round ends, lying along the longest side of `size` (metres), as wide as the larger of the others.
Mesh capsuleMesh(const base::Vec3& centre, const base::Vec3& size);
/// A ball's, as wide as the largest of `size`.
Mesh ballMesh(const base::Vec3& centre, const base::Vec3& size);

/// The simple bodies that stand for a mesh.
enum class Simple { Box, Hull, Sphere, Capsule };
Mesh simpleMesh(const Mesh& mesh, Simple shape);

/// Cubic metres inside a closed mesh; triangles turn counter-clockwise seen from outside.
double volumeOf(const Mesh& mesh);

}  // namespace shape
