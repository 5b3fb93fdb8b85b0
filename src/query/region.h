#pragma once
// What a shape drawn on the screen touches or holds: objects by their true triangles, as they appear.
#include <functional>
#include <optional>
#include <vector>

#include "query/scene_index.h"
#include "shape/mesh.h"

namespace query {

/// A closed outline in pixels; any number of corners, may be concave.
struct Region {
    std::vector<base::Vec2> outline;
    base::Vec2 low{1e300}, high{-1e300};

    explicit Region(std::vector<base::Vec2> corners);
    bool holds(const base::Vec2& p) const;
    /// Does the outline cross the line from `a` to `b`?
    bool crosses(const base::Vec2& a, const base::Vec2& b) const;
};

using Project = std::function<std::optional<base::Vec2>(const base::Vec3& point)>;

/// Does any triangle of a mesh appear in the region, or, when `whole`, all of every one? What lies behind the eye is
/// outside.
bool inRegion(const Region& region, const shape::Mesh& mesh, const base::Affine& world, const Project& project,
              bool whole);

}  // namespace query
