#pragma once
// The optional parts of an object. An object with none of them is a group or a bare point.
#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "base/math.h"
#include "model/value.h"

namespace model {

enum class LightShape { Point, Spot };

/// A light at the object's origin; a spot shines along the object's -Z axis (as glTF's punctual lights do).
struct Light {
    LightShape shape = LightShape::Point;
    base::Vec3 colour{1.0};      ///< linear RGB, 0..1
    double intensity = 40.0;     ///< candela, above 0
    double reachMetres = 8.0;    ///< beyond it the light has no effect
    double innerDegrees = 20.0;  ///< spot: half angle of the full cone
    double outerDegrees = 35.0;  ///< spot: half angle where it ends, above inner, at most 90
    std::string unknownKeys;     ///< as in Detail
    friend bool operator==(const Light&, const Light&) = default;
};

/// A camera at the object's origin looking along its -Z axis.
struct Camera {
    double verticalDegrees = 50.0;  ///< field of view, 1..170
    double nearMetres = 0.1;
    double farMetres = 1000.0;
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const Camera&, const Camera&) = default;
};

/// A remark pinned in the scene.
struct Note {
    std::string text;
    friend bool operator==(const Note&, const Note&) = default;
};

/// The first child repeated, in the object's own axes (ops::setArray keeps the children so).
struct Array {
    enum class Shape : std::uint8_t { Row, Grid, Ring };
    Shape shape = Shape::Row;
    std::array<int, 3> counts{3, 1, 1};  ///< row and ring: the first; grid: along x, y, z; the original counts
    base::Vec3 spacing{2, 0, 0};         ///< metres; row: from one to the next; grid: along each axis
    double radiusMetres = 3;             ///< ring
    double sweepDegrees = 360;           ///< ring: of a part of one, from the first to the last
    double turnDegrees = 0;              ///< from one to the next, about up
    double size = 1;                     ///< times, from one to the next
    double jitterMetres = 0;             ///< by chance, level, up to so much either way; not the original
    double jitterDegrees = 0;            ///< about up
    double jitterSize = 0;               ///< a share, 0..0.9
    std::uint64_t seed = 1;
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const Array&, const Array&) = default;
};

/// A plain body made here: its mesh follows from these numbers. Its base stands on the object's origin.
struct Solid {
    enum class Shape : std::uint8_t { Box, Wedge, Cylinder, Cone, Sphere, Plane, Stairs, Wall };
    Shape shape = Shape::Box;
    base::Vec3 size{1.0};     ///< metres along the own axes, each above 0; a plane's y is not used
    int parts = 0;            ///< sides of what is round, steps of stairs; 0: as many as suits the size
    std::string unknownKeys;  ///< as in Detail
    friend bool operator==(const Solid&, const Solid&) = default;
};

/// What physics does with an object, and what others bump into instead of its mesh.
struct Body {
    enum class Role : std::uint8_t { Fixed, Guided, Loose, LooseWhenTouched };
    enum class Shape : std::uint8_t { Mesh, Box, Sphere, Capsule, Hull };
    Role role = Role::Fixed;
    Shape shape = Shape::Box;
    bool fitted = true;        ///< the shape follows from the mesh; a mesh and a hull always do
    base::Vec3 centre{0.0};    ///< when not fitted; own axes, metres
    base::Vec3 size{1.0};      ///< when not fitted; a sphere is as wide as the largest, a capsule lies along it
    double massKilograms = 0;  ///< 0: as the game reckons it
    ValueMap unknown;          ///< members of a newer version, kept
    friend bool operator==(const Body&, const Body&) = default;
};

/// One of an object's points. Its number is its place in the list.
struct PlacePoint {
    std::string name;
    base::Vec3 at{0.0};                 ///< metres; own axes, or the world's when the set stays
    std::optional<double> turnDegrees;  ///< which way one faces there, about up
    double radiusMetres = 0;            ///< 0: a bare point
    std::optional<base::Vec3> colour;   ///< linear RGB; nothing: the set's
    ValueMap unknown;
    friend bool operator==(const PlacePoint&, const PlacePoint&) = default;
};
struct PointSet {
    bool stays = false;  ///< the points are where they are in the world, wherever the object goes
    base::Vec3 colour{0.29, 0.55, 0.85};
    std::vector<PlacePoint> points;
    ValueMap unknown;
    friend bool operator==(const PointSet&, const PointSet&) = default;
};

/// A volume that means something. It stands on the object's origin; a sphere lies round it.
struct Zone {
    enum class Shape : std::uint8_t { Box, Sphere, Polygon };
    Shape shape = Shape::Box;
    base::Vec3 size{4, 3, 4};         ///< metres, own axes; a sphere's x is its diameter, a polygon's y its height
    std::vector<base::Vec2> corners;  ///< of a polygon: x and z, metres, own axes; three or more
    base::Vec3 colour{0.45, 0.62, 0.32};
    ValueMap unknown;
    friend bool operator==(const Zone&, const Zone&) = default;
};

/// How an image lies on the faces of a slot.
enum class ImageFit : std::uint8_t { Tile, Fit, Fill, Stretch };
/// What one slot (a material of the mesh, by its name) shows instead of its own.
struct SlotSurface {
    std::string slot;
    std::string surface;             ///< of the project's library; empty: the mesh's own
    std::optional<base::Vec3> tint;  ///< linear RGB
    std::string image;               ///< a file in media/, over the surface's own
    ImageFit fit = ImageFit::Tile;
    ValueMap unknown;
    friend bool operator==(const SlotSurface&, const SlotSurface&) = default;
};
struct Surfaces {
    std::vector<SlotSurface> slots;
    friend bool operator==(const Surfaces&, const Surfaces&) = default;
};

struct PrefabLink;  // model/prefab.h
/// What makes an object an instance of a prefab. Shared as Detail is; equal when what it says is equal.
struct PrefabFacet {
    std::shared_ptr<const PrefabLink> link;  // shared by history, snapshots, instances and the scene
    explicit operator bool() const { return link != nullptr; }
    const PrefabLink* operator->() const { return link.get(); }
    const PrefabLink& operator*() const { return *link; }
    friend bool operator==(const PrefabFacet& a, const PrefabFacet& b);
};

/// What few objects have, kept apart from the columns. Values never change once made: an edit makes a new
/// one, so history, snapshots and the scene share it.
struct Detail {
    std::optional<Light> light;
    std::optional<Camera> camera;
    std::optional<Note> note;
    std::optional<base::Vec3> tint;  ///< what the mesh's colours are multiplied with, linear RGB, 0..1
    std::optional<Array> array;
    std::optional<Solid> solid;
    std::optional<Body> body;
    std::optional<PointSet> points;
    std::optional<Zone> zone;
    std::optional<Surfaces> surfaces;
    PrefabFacet prefab;
    ValueMap properties;
    std::string unknownKeys;  ///< members of a newer version, as JSON text without braces, kept as they were
    bool empty() const {
        return !light && !camera && !note && !tint && !array && !solid && !body && !points && !zone && !surfaces &&
               !prefab && properties.empty() && unknownKeys.empty();
    }
    friend bool operator==(const Detail&, const Detail&) = default;
};
using DetailPtr = std::shared_ptr<const Detail>;  // shared by history, snapshots and the scene; null is "none"

/// Equal values, whether or not they are the same piece of memory.
inline bool sameDetail(const DetailPtr& a, const DetailPtr& b) {
    return a == b || (a && b && *a == *b);
}

}  // namespace model
