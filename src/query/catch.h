#pragma once
// What a drag catches on: the corner, edge, face or centre of what is there, nearest to a pixel and in sight.
#include <array>
#include <functional>
#include <optional>

#include "query/scene_index.h"

namespace query {

/// Gap: the middle between what lies to both sides of the place under the pointer. Route: of those that are drawn,
/// which catchAt() knows nothing of.
enum class CatchKind { Corner, Edge, Face, Centre, End, Gap, Route };

struct CatchPoint {
    CatchKind kind = CatchKind::Face;
    base::Vec3 point;
    base::Vec3 normal;  ///< of the surface under the pointer, unit length, towards the eye
    model::Slot slot = model::kNoSlot;
    double gapMetres = 0;  ///< how wide the gap is
    double metres = 0;     ///< along the route
};

/// Where one looks from, and how far from the pointer something may be.
struct Aim {
    base::Vec2 pixel;
    std::function<base::Ray(const base::Vec3& point)> rayTo;  ///< the line of sight to a point, from the eye
    std::function<base::Ray(const base::Vec2& pixel)> rayThrough;
    std::function<std::optional<base::Vec2>(const base::Vec3& point)> project;
    std::function<double(const base::Vec3& point)> metresPerPixel;
    double reachPixels = 14;
};

/// The middles of an object's two ends along its longest own axis, world; its origin twice without a mesh.
std::array<base::Vec3, 2> endsOf(const model::Scene& scene, const SceneIndex& index, model::Slot slot);

/// The nearest of that kind. Edges are where surfaces meet at an angle or end; the seams of a flat face are none, and
/// corners are ends of edges. Objects that do not pass `filter` are neither caught on nor in the way.
std::optional<CatchPoint> catchAt(const model::Scene& scene, const SceneIndex& index, const Aim& aim, CatchKind kind,
                                  const SlotFilter& filter);

}  // namespace query
