#pragma once
// The handle that slides, turns and sizes objects: its geometry, its hit test and the mathematics of a drag. Constant
// size on the screen. Slide: three axes, three planes, free in the view's plane. Turn: about three axes, the line of
// sight, and freely. Fit: along three axes, in three planes, all at once. Values; any thread.
#include <array>
#include <optional>
#include <vector>

#include "render/camera.h"

namespace render {

enum class Task { None, Slide, Turn, Fit };

/// A part of the handle. `which`: 0..2 an axis; 3..5 the plane without axis which - 3; 6 all (Slide: in the view's
/// plane, Turn: about the line of sight, Fit: uniform); 7 Turn freely.
struct HandlePart {
    Task task = Task::None;
    int which = 0;
    int axis() const { return task != Task::None && which < 3 ? which : -1; }
    int planeWithout() const { return task != Task::None && which >= 3 && which < 6 ? which - 3 : -1; }
    explicit operator bool() const { return task != Task::None; }
    friend bool operator==(const HandlePart&, const HandlePart&) = default;
};
constexpr int kAll = 6, kFree = 7;

struct Handle {
    Vec3 origin{0.0};
    base::Mat3 axes{1.0};     ///< columns, unit length: for slide and turn
    base::Mat3 fitAxes{1.0};  ///< the objects' own
    bool slide = true, turn = false, fit = false;
    double pixels = 84;  ///< length of an axis on the screen

    /// End of an axis, world.
    Vec3 tip(Task task, int axis, const Camera& camera, const Viewport& viewport) const;
    /// The small square of a plane (by the axis it leaves out), four corners, world.
    std::array<Vec3, 4> planeSquare(Task task, int without, const Camera& camera, const Viewport& viewport) const;
    /// The ring about an axis (kAll: about the line of sight): a closed line, world; `front` says which points face
    /// the eye.
    struct RingPoint {
        Vec3 at;
        bool front;
    };
    std::vector<RingPoint> ring(int which, const Camera& camera, const Viewport& viewport) const;
    /// Radius of the rings on the screen, pixels.
    double ringPixels() const;
    /// An axis seen nearly end on cannot be dragged along, and is not offered.
    bool axisUsable(Task task, int axis, const Camera& camera) const;
    bool planeUsable(Task task, int without, const Camera& camera) const;
    /// What lies under a pixel, the nearest first; none beyond about 8 pixels.
    HandlePart hit(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const;
    const base::Mat3& axesFor(Task task) const { return task == Task::Fit ? fitAxes : axes; }
};

/// What a drag has come to.
struct HandleAmount {
    Vec3 offset{0.0};    ///< Slide: world
    Vec3 axis{0, 1, 0};  ///< Turn: world, unit length
    double radians = 0;  ///< Turn: any number of full turns
    Vec3 factors{1.0};   ///< Fit: along fitAxes
};

/// Multiples an amount snaps to; 0: as it is.
struct Steps {
    double metres = 0, degrees = 0, factor = 0;
    bool onLattice = false;  ///< metres count from the world's zero and not from where the drag began
};

/// One drag of it. What was under the pointer at the press stays there: nothing jumps when it begins.
class HandleDrag {
  public:
    HandleDrag(const Handle& handle, HandlePart part, const Vec2& press, const Camera& camera,
               const Viewport& viewport);
    /// For the pointer's present pixel; the last sensible amount near the horizon. The camera may have moved.
    HandleAmount amount(const Vec2& pixel, const Camera& camera, const Viewport& viewport);
    HandlePart part() const { return part_; }
    const Handle& handle() const { return handle_; }
    HandleAmount snapped(const HandleAmount& amount, const Steps& steps) const;

  private:
    std::optional<Vec3> pointOn(const base::Ray& ray) const;
    Vec3 slideOffset(const base::Ray& ray);
    double turned(const Vec2& pixel, const Camera& camera, const Viewport& viewport);
    double angleAt(const Vec2& pixel, const Camera& camera, const Viewport& viewport) const;

    Handle handle_;
    HandlePart part_;
    Vec3 normal_{0.0};  ///< of the plane the pointer is followed in; Turn: the axis
    Vec3 start_{0.0}, last_{0.0};
    Vec2 pressed_{0.0};
    double length_ = 1;  ///< Fit: metres from the origin to the press, along the axis
    double angle_ = 0, whole_ = 0;
    bool edgeOn_ = false;  ///< Turn: the ring is seen from its edge, so the pointer's way along it counts
    Vec2 along_{1, 0};
};

}  // namespace render
