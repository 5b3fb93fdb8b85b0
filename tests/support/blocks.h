#pragma once
// A project with a few plain bodies to put on one another: what geometry tests need.
#include <memory>
#include <unordered_map>

#include "query/scene_index.h"
#include "support/test_project.h"

namespace test {

/// The triangles of a convex prism: `profile` (x, y) counter-clockwise, extruded along z from -depth/2 to depth/2.
shape::Mesh prismMesh(const std::vector<base::Vec2>& profile, double depth);

/// Items: "cube" (1 m, base point below its middle), "slab" (40 x 0.5 x 40 m, its top at height 0), "ramp" (10 m long,
/// rising 1 in 2 along x, 10 m deep, its low edge at x = 0), "beam" (0.2 x 0.2 x 6 m along z), "sheet" (40 x 40 m, one
/// surface without an underside, rising 1 in 50 along x).
class Blocks : public TestProject {
  public:
    Blocks();
    /// One more, of any mesh.
    void addItem(const std::string& name, shape::Mesh mesh);
    base::ObjectId put(const std::string& item, const base::Vec3& at, const base::Vec3& turn = {},
                       const base::Vec3& size = base::Vec3(1.0), base::ObjectId parent = {});
    query::MeshLookup lookup();
    /// The same with what is bumped into, as the library says by now.
    query::Shapes shapes();
    /// An index of the scene as it is; it follows what is edited.
    query::SceneIndex& index();
    const base::Aabb& bounds(base::ObjectId id) { return scene().bounds(slot(id)); }

  private:
    std::unordered_map<base::Name, std::unique_ptr<query::MeshIndex>> meshes_;
    std::unique_ptr<query::SceneIndex> index_;
};

}  // namespace test
