#pragma once
#include <cstdint>
#include <vector>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// A hole in a solid: a door, a window, an arch.
struct SolidOpening {
    enum class Outline : std::uint8_t { Rectangle, Arch, Drawn };
    std::string name;
    Outline outline = Outline::Rectangle;
    base::Vec3 at{0.0};               ///< the middle of its sill on the face, own axes, metres
    base::Vec3 facing{0, 0, 1};       ///< where that face looks, own axes
    double width = 1, height = 2;     ///< metres, each above 0
    double rise = 0;                  ///< of an arch, from where it springs; 0: half its width
    double depth = 0;                 ///< metres into the solid; 0: through what it lies on
    std::vector<base::Vec2> corners;  ///< of a drawn one: x to the right, y up; its box is brought to the size
    Unknown unknown;
    friend bool operator==(const SolidOpening&, const SolidOpening&) = default;
};

/// How the faces with a tag are dressed: which slot they are, and how an image lies on them.
struct SolidFace {
    enum class Lies : std::uint8_t { Sides, Runs, Fits };
    int tag = 0;
    std::string slot;
    Lies lies = Lies::Sides;
    double metres = 0;            ///< how wide one tile is; 0: as the surface says
    double turnDegrees = 0;       ///< of the image
    double across = 0, down = 0;  ///< metres it is shifted
    Unknown unknown;
    friend bool operator==(const SolidFace&, const SolidFace&) = default;
};

/// A convex piece of a plain solid. Faces name its corners, counter-clockwise as seen from outside.
struct SolidPiece {
    struct Face {
        int tag = 0;  ///< faces that are dressed alike have the same
        std::vector<std::uint32_t> loop;
        friend bool operator==(const Face&, const Face&) = default;
    };
    std::vector<base::Vec3> corners;  ///< own axes, metres
    std::vector<Face> faces;
    Unknown unknown;
    friend bool operator==(const SolidPiece&, const SolidPiece&) = default;
};

/// A plain body made here: its mesh follows from these numbers. Its base stands on the object's origin.
struct Solid {
    enum class Shape : std::uint8_t {
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
    static constexpr std::size_t kMostPieces = 4096, kMostFaces = 1000;
    Shape shape = Shape::Box;
    base::Vec3 size{1.0};  ///< metres along the own axes, each above 0; a plane's y is not used
    int parts = 0;         ///< sides of what is round, pieces, steps; 0: as many as suits the size
    double thickness = 0.2;
    double startDegrees = 0, sweepDegrees = 180;  ///< of what goes round, from +X by way of up, or of -Z
    double rise = 0;                    ///< metres from piece to piece; above 0 an arch lies and winds upwards
    bool filled = false;                ///< an arch out to its box; what winds down to the ground
    double top = 0.5;                   ///< of a frustum: its top, times its base
    std::vector<base::Vec2> footprint;  ///< of a prism: x and z; its box is brought to the size
    std::vector<SolidPiece> pieces;     ///< of a plain one
    std::vector<SolidOpening> openings;
    std::vector<SolidFace> faces;
    Unknown unknown;
    static const FacetType& type();
    friend bool operator==(const Solid&, const Solid&) = default;
};

/// What a shape is called in files: "box", "curved wall".
const std::string& solidName(Solid::Shape shape);
/// The shape of that name.
std::optional<Solid::Shape> solidShape(std::string_view name);
/// A new one of that shape, with the numbers it usually has.
Solid usualSolid(Solid::Shape shape, const base::Vec3& size = base::Vec3(1.0), int parts = 0);
/// What it is made from, as lists and hand-overs say it: of a plain one the number of its pieces.
ValueMap solidFacts(const Solid& solid);
/// Equal for solids that look the same.
std::string solidKey(const Solid& solid);

}  // namespace model
