#pragma once
// The mesh of convex pieces: what is seen of them from outside, without cracks. Values; any thread.
#include <span>
#include <string>
#include <vector>

#include "shape/convex.h"
#include "shape/mesh.h"

namespace shape {

/// How the faces of a tag are dressed.
struct FaceLook {
    /// From the side it looks to most; on from face to face, round corners; once over all of the tag.
    enum class Lies { Sides, Runs, Fits };
    int tag = 0;
    std::string slot;  ///< what the material is called
    Lies lies = Lies::Sides;
    double metres = 0;       ///< of one tile; 0: the surface's own
    double turnDegrees = 0;  ///< of the image on the face
    base::Vec2 shift{0.0};   ///< metres along the image
};

/// A flat face, counter-clockwise as seen from outside.
struct FacePolygon {
    std::vector<base::Vec3> corners;
    base::Vec3 normal{0, 1, 0};
    int tag = 0;
};
/// What is seen of the pieces: faces that lie against one another are left out.
std::vector<FacePolygon> outsideOf(std::span<const Convex> pieces);

/// Points of others that lie on an edge become corners of it: each edge of one is an edge of another.
std::vector<FacePolygon> jointed(std::vector<FacePolygon> polygons);

/// Corners in one place are one vertex where they are lit alike; faces of one tag that turn by less than 40 degrees
/// are lit as round. An edge of one triangle is an edge of another, also where faces of several sizes meet.
Mesh meshOf(std::vector<FacePolygon> polygons, std::span<const FaceLook> looks);
Mesh meshOf(std::span<const Convex> pieces, std::span<const FaceLook> looks);

}  // namespace shape
