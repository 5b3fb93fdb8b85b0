#pragma once
// The optional parts of an object. An object with none of them is a group or a bare point.
#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>

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
    PrefabFacet prefab;
    ValueMap properties;
    std::string unknownKeys;  ///< members of a newer version, as JSON text without braces, kept as they were
    bool empty() const {
        return !light && !camera && !note && !tint && !array && !solid && !prefab && properties.empty() &&
               unknownKeys.empty();
    }
    friend bool operator==(const Detail&, const Detail&) = default;
};
using DetailPtr = std::shared_ptr<const Detail>;  // shared by history, snapshots and the scene; null is "none"

/// Equal values, whether or not they are the same piece of memory.
inline bool sameDetail(const DetailPtr& a, const DetailPtr& b) {
    return a == b || (a && b && *a == *b);
}

}  // namespace model
