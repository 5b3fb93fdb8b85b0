#pragma once
// The handle that slides objects: three axes, three planes, and free in the view's plane. Geometry, hit test and the
// mathematics of a drag. Constant size on the screen.
#include <array>
#include <optional>
#include <vector>

#include "render/camera.h"

namespace render {

enum class SlidePart { None, X, Y, Z, YZ, ZX, XY, Free };

struct SlideHandle {
    Vec3 origin{0.0};
    std::array<Vec3, 3> axes{Vec3(1, 0, 0), Vec3(0, 1, 0), Vec3(0, 0, 1)};
    double pixels = 84;  ///< length of an axis on the screen

    /// End of an axis, world.
    Vec3 tip(int axis, const Camera& camera, const Viewport& viewport) const;
    /// The small square of a plane (by the axis it leaves out), four corners, world.
    std::array<Vec3, 4> planeSquare(int without, const Camera& camera, const Viewport& viewport) const;
    /// An axis seen nearly end on cannot be dragged along, and is not offered.
    bool axisUsable(int axis, const Camera& camera) const;
    bool planeUsable(int without, const Camera& camera) const;
    /// What lies under a pixel, the nearest first; None beyond about 8 pixels.
    SlidePart hit(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const;
};

/// One drag of it. The offset at the press is kept, so nothing jumps when it begins.
class SlideDrag {
  public:
    SlideDrag(const SlideHandle& handle, SlidePart part, const base::Ray& press, const Camera& camera);
    /// How far to move, world, for the pointer's present ray; the last sensible one near the horizon.
    Vec3 offset(const base::Ray& ray);
    SlidePart part() const { return part_; }

  private:
    std::optional<Vec3> pointOn(const base::Ray& ray) const;
    SlideHandle handle_;
    SlidePart part_;
    Vec3 normal_{0.0};
    Vec3 start_{0.0};
    Vec3 last_{0.0};
};

/// The offset with each of the handle's own components at a multiple of `step` (0: as it is). Free: world axes.
Vec3 snapOffset(const SlideHandle& handle, SlidePart part, const Vec3& offset, double step);

}  // namespace render
