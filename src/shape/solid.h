#pragma once
// Plain bodies from their numbers: the convex pieces of solids, and what they look like. Base on y = 0, middle of the
// footprint at the origin; what rises rises towards -Z. Values; any thread.
#include "shape/solid_mesh.h"

namespace shape {

/// In the order of model::Solid::Shape.
enum class SolidShape {
    Box,
    Wedge,
    Cylinder,
    Cone,
    Sphere,
    Plane,
    Stairs,
    Wall,
    Arch,
    CurvedWall,
    Frustum,
    Ramp,
    Torus,
    Pipe,
    Prism,
    Room,
    Plain
};

/// A hole that goes through what it lies on.
struct Opening {
    enum class Outline { Rectangle, Arch, Drawn };
    Outline outline = Outline::Rectangle;
    base::Vec3 at{0.0};             ///< the middle of its sill, on the face
    base::Vec3 facing{0, 0, 1};     ///< where that face looks
    base::Vec2 size{1, 2};          ///< metres, each above 0
    double rise = 0;                ///< of an arch, from where it springs; 0: half its width
    double depth = 0;               ///< metres into the solid; 0: to the other side of what it lies on
    std::vector<base::Vec2> drawn;  ///< corners of a drawn one; its box is brought to `size`
};

/// All that a solid follows from. What a shape has no use for is not looked at.
struct SolidNumbers {
    SolidShape shape = SolidShape::Box;
    base::Vec3 size{1.0};  ///< metres, each above 0; a plane's y is not used
    int parts = 0;         ///< sides of what is round, pieces, steps; 0: as many as suits
    double thickness = 0.2;
    double startDegrees = 0, sweepDegrees = 180;  ///< of what goes round, from +X by way of up, or of -Z
    double rise = 0;                              ///< from piece to piece; above 0 it lies and winds
    bool filled = false;                          ///< an arch out to its box, what winds down to the ground
    double top = 0.5;                             ///< of a frustum: how large its top is, times its base
    std::vector<base::Vec2> footprint;            ///< (x, z) of a prism; its box is brought to the size
    Pieces pieces;                                ///< of a plain one
    std::vector<Opening> openings;
    std::vector<FaceLook> looks;
};

/// Faces of the opening with number k have the tag kOpeningTag + k.
inline constexpr int kOpeningTag = 1000;
/// The convex pieces, openings cut; none: it is a plane.
Pieces solidPieces(const SolidNumbers& numbers);
/// Without the openings.
Pieces wholePieces(const SolidNumbers& numbers);
Mesh solidMesh(const SolidNumbers& numbers);

/// How many parts a solid has when none are asked for.
int usualParts(const SolidNumbers& numbers);

/// How an opening lies: x to the right for whoever looks at the face, y up, z out of it.
base::Affine frameOf(const Opening& opening);
/// Its outline in that frame, counter-clockwise; the sill lies on y = 0.
std::vector<base::Vec2> outlineOf(const Opening& opening);
/// What it takes out of such pieces, in convex parts; none: its outline crosses itself.
Pieces holeOf(const Opening& opening, std::span<const Convex> pieces);
/// How thick the pieces are behind a point of a face, straight in, metres; nothing: none is there.
std::optional<double> thicknessAt(std::span<const Convex> pieces, const base::Vec3& point, const base::Vec3& facing);

}  // namespace shape
