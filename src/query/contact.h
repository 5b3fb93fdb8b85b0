#pragma once
// How far a body falls straight down before it touches something: by its true triangles, corners, faces and edges.
#include <array>
#include <optional>
#include <span>
#include <vector>

#include "query/scene_index.h"

namespace query {

using Triangle = std::array<base::Vec3, 3>;

/// Triangles in the world that fall together.
struct FallingBody {
    std::vector<Triangle> triangles;
    base::Aabb bounds;
};

/// All meshes of `top` and below, each moved by `adjust` in the world, as `index` knows them. What is bumped into by
/// nothing at all falls as one sees it.
FallingBody fallingBody(const model::Scene& scene, const SceneIndex& index, model::Slot top,
                        const base::Affine& adjust = {});

/// The triangles of `body` that lie lowest, looked for in `cells` by `cells` columns over its footprint: few, for
/// when a body of very many is moved about and an exact fall follows. On flat ground it stands where the body does.
FallingBody underside(const FallingBody& body, std::size_t cells);

constexpr double kFarthestFall = 5000;  ///< metres

/// How far `body` falls onto `supports`, metres; negative: it lies in them by that much and has to come up. Nothing:
/// they do not stop it, or it would fall `best` or farther. Surfaces higher than half the body's height above one of
/// its lower parts lie beside it or over it and do not count, of one that lies in nothing (`beside` not 0) all that are
/// higher than its lower parts, and walls that overlap its sides by up to `beside` metres. Touching sides within 0.1 mm
/// do not hold it.
std::optional<double> fallOnto(const FallingBody& body, std::span<const Triangle> supports, double best,
                               double beside = 0);

/// The same onto the objects of a scene that pass `filter`, down to `farthest` metres below. For who only wants to know
/// whether it is more than `enough`: any fall up to that may be given instead, which takes less time.
std::optional<double> fallOntoScene(const FallingBody& body, const model::Scene& scene, const SceneIndex& index,
                                    const SlotFilter& filter, double farthest = kFarthestFall,
                                    double enough = -kFarthestFall, double beside = 0);

}  // namespace query
