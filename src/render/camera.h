#pragma once
// The eye of a view: where it stands, how it is moved by the mouse, and how points and pixels correspond.
// Pixels: origin top left, y down. Pure values; any thread.
#include <optional>
#include <string>

#include "base/math.h"
#include "query/frustum.h"

namespace render {

using base::Vec2;
using base::Vec3;

struct Viewport {
    double width = 1, height = 1;
};

/// A camera's look through one viewport, worked out once: for many points and pixels at a time.
struct Sight {
    Vec3 eye, forward, right, up;
    Viewport viewport;
    double scale = 1;   ///< pixels a metre: at a metre's depth, or anywhere when flat
    double before = 0;  ///< flat: how far before the eye things are seen, metres
    double nearMetres = 0.1;
    bool flat = false;

    base::Ray rayThrough(const Vec2& pixel) const;
    std::optional<Vec2> project(const Vec3& point) const;
    double metresPerPixel(const Vec3& point) const;
    base::Ray rayTo(const Vec3& point) const;
};

class Camera {
  public:
    Vec3 eye{0, 2, 10};
    double yawDegrees = 0;    ///< 0 looks along -Z (north); positive turns left (west)
    double pitchDegrees = 0;  ///< positive looks up; kept within +-89
    double rollDegrees = 0;   ///< about the way it looks; positive tips the picture left. Turning levels it
    double verticalDegrees = 50;
    double nearMetres = 0.08;
    double farMetres = 9000;
    /// Orthographic: how many metres of the scene the picture is high. The eye is then the middle of what is seen;
    /// things before it are seen up to most of a picture's height, nearer ones are cut away. 0: perspective.
    double heightMetres = 0;

    static Camera looking(const Vec3& from, const Vec3& to);
    /// As a camera that stands like `pose` sees: along its -Z, its own +Y up, roll and all.
    static Camera at(const base::Affine& pose);
    /// Orthographic, with `centre` in the middle.
    static Camera flat(const Vec3& centre, double yaw, double pitch, double height);
    bool isFlat() const { return heightMetres > 0; }

    Vec3 forward() const;
    Vec3 right() const;
    Vec3 up() const;
    base::Mat4 viewMatrix() const;
    base::Mat4 projection(const Viewport& viewport) const;

    Sight sight(const Viewport& viewport) const;
    base::Ray rayThrough(const Vec2& pixel, const Viewport& viewport) const;
    /// The pixel a point appears at; nothing when it lies behind the eye.
    std::optional<Vec2> project(const Vec3& point, const Viewport& viewport) const;
    /// The unit direction one looks in to see a point.
    Vec3 sightTo(const Vec3& point) const;
    /// The line of sight to a point, from the eye.
    base::Ray rayTo(const Vec3& point) const;
    /// How far along its line of sight a point lies, metres.
    double distanceTo(const Vec3& point) const;
    /// Metres that one pixel covers at a point's depth.
    double metresPerPixel(const Vec3& point, const Viewport& viewport) const;
    query::Frustum frustum(const Viewport& viewport) const;
    /// The part of it behind a rectangle of pixels.
    query::Frustum frustum(const Viewport& viewport, Vec2 from, Vec2 to) const;

    /// Turns about `pivot`, which stays at its pixel.
    void orbit(const Vec3& pivot, double yaw, double pitch);
    void look(double yaw, double pitch);
    /// Moves so that what lies at `depth` metres follows the pointer.
    void pan(const Vec2& pixels, double depth, const Viewport& viewport);
    /// Goes a share of the way towards a point (negative: back); never passes it.
    void zoomTowards(const Vec3& point, double share);
    /// A share of the way to `other`; exactly the one or the other at the ends.
    Camera between(const Camera& other, double share) const;
    /// Stands back, looking the same way, so that the box fills the view.
    void frame(const base::Aabb& box, const Viewport& viewport);

    /// Orthographic: how far before the eye things are still seen, metres.
    double flatBefore() const;

    /// "looking north-west, down 18°"
    std::string describe() const;
    friend bool operator==(const Camera&, const Camera&) = default;
};

}  // namespace render
