#pragma once
// Convex pieces: what solids are made of. A piece is closed (each edge lies between exactly two faces) and has no
// hollow. Cutting keeps both so. Values; metres; any thread.
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "base/math.h"
#include "base/result.h"

namespace shape {

/// Corners nearer than this, in metres, are one; what is nearer to a plane lies on it.
inline constexpr double kSame = 1e-7;

/// The points p with dot(normal, p) = offset. `normal` has unit length and looks to the front.
struct Plane {
    base::Vec3 normal{0, 1, 0};
    double offset = 0;
    double height(const base::Vec3& p) const { return glm::dot(normal, p) - offset; }
    Plane turned() const { return {-normal, -offset}; }
};
Plane planeThrough(const base::Vec3& point, const base::Vec3& normal);

/// A side of a piece: its corners, counter-clockwise as seen from outside.
struct ConvexFace {
    std::vector<std::uint32_t> loop;
    int tag = 0;  ///< faces that are one for whoever dresses them have the same
    friend bool operator==(const ConvexFace&, const ConvexFace&) = default;
};
struct Convex {
    std::vector<base::Vec3> corners;
    std::vector<ConvexFace> faces;
    friend bool operator==(const Convex&, const Convex&) = default;
};
using Pieces = std::vector<Convex>;  ///< the insides of no two meet

/// Of a face; looks outwards (Newell's method).
Plane planeOf(const Convex& piece, const ConvexFace& face);
base::Aabb boundsOf(const Convex& piece);
base::Aabb boundsOf(std::span<const Convex> pieces);
double volumeOf(const Convex& piece);
double volumeOf(std::span<const Convex> pieces);
std::size_t faceCount(std::span<const Convex> pieces);
/// A tag that no face has.
int freeTag(std::span<const Convex> pieces);

/// Nothing is wrong with it: closed, flat faces, no hollow, some volume. Errors: BadInput saying what is.
base::Status wellFormed(const Convex& piece);

/// How far along a ray it first enters one of the pieces, in lengths of its direction; from inside it enters none.
std::optional<double> firstHit(std::span<const Convex> pieces, const base::Ray& ray);
/// The same of one piece, with the face that it enters by.
struct ConvexHit {
    double distance = 0;
    const ConvexFace* face = nullptr;
};
std::optional<ConvexHit> enter(const Convex& piece, const base::Ray& ray);

/// A prism on a convex outline (x, z), of which each turn goes from x to z; tags: 0 bottom, 1 top, 2 + i the side from
/// corner i to the next.
Convex prismOf(std::span<const base::Vec2> outline, double bottom, double top);
Convex boxOf(const base::Aabb& box);
/// The smallest piece round some points; faces take the tag of the one of `like` that looks nearly the same way, else
/// `otherTag`. Nothing: they lie in one plane.
std::optional<Convex> hullOf(std::span<const base::Vec3> points, const Convex& like, int otherTag);

/// What lies behind a plane and what lies before it; where it is cut, both get a face with `tag`. One of them is
/// nothing when the plane misses the piece.
struct Halves {
    std::optional<Convex> behind, before;
};
Halves cut(const Convex& piece, const Plane& plane, int tag);
/// All pieces, one by one.
struct PieceHalves {
    Pieces behind, before;
};
PieceHalves cut(std::span<const Convex> pieces, const Plane& plane, int tag);

/// What of `piece` lies outside of `tool`; the piece itself, when that does not enter it. Cuts get `tag`, or with -1
/// the tag of the tool's face that made them.
Pieces without(const Convex& piece, const Convex& tool, int tag);
Pieces without(std::span<const Convex> pieces, std::span<const Convex> tools, int tag);
/// What of `piece` lies inside of `tool`. Nothing: they do not meet.
std::optional<Convex> within(const Convex& piece, const Convex& tool, int tag);
Pieces within(std::span<const Convex> pieces, std::span<const Convex> tools, int tag);
/// All of them, with what lies in several given to the first.
Pieces together(std::span<const Convex> first, std::span<const Convex> others);
/// Two pieces that are one convex piece are made so, again and again; faces must agree in their tags.
Pieces mended(Pieces pieces);

/// Moves, turns and sizes; a map that mirrors turns the faces over.
Convex mapped(Convex piece, const base::Affine& map);
Pieces mapped(Pieces pieces, const base::Affine& map);

/// Convex parts of an outline (x, y) that does not cross itself, counter-clockwise each. Nothing: it crosses itself or
/// has no area (Hertel and Mehlhorn 1983, on triangles cut off ear by ear).
std::optional<std::vector<std::vector<base::Vec2>>> convexParts(std::vector<base::Vec2> outline);

}  // namespace shape
