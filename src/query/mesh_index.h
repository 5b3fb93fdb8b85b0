#pragma once
// One mesh made ready for rays. Immutable once made; any thread may query it. Cost: about 60 bytes a triangle.
#include <functional>
#include <memory>
#include <mutex>
#include <optional>

#include "base/math.h"
#include "shape/mesh.h"
#include "shape/topology.h"

struct RTCSceneTy;

namespace query {

class MeshIndex {
  public:
    explicit MeshIndex(std::shared_ptr<const shape::Mesh> mesh);
    ~MeshIndex();
    MeshIndex(const MeshIndex&) = delete;
    MeshIndex& operator=(const MeshIndex&) = delete;

    const shape::Mesh& mesh() const { return *mesh_; }
    struct Hit {
        double distance = 0;  ///< in lengths of the ray's direction
        base::Vec3 normal;    ///< of the triangle, not of unit length
        std::uint32_t triangle = 0;
    };
    /// The nearest triangle from either side, nearer than `farthest` lengths of the direction.
    std::optional<Hit> intersect(const base::Ray& ray, double farthest) const;
    /// Calls `visit` for each triangle whose own box meets `box`, in the mesh's axes.
    void overlapping(const base::Aabb& box, const std::function<void(std::uint32_t triangle)>& visit) const;

    /// What lies next to what. Made when it is first asked for.
    const shape::Topology& topology() const;

  private:
    std::shared_ptr<const shape::Mesh> mesh_;  // shared with the view
    mutable std::once_flag topologyOnce_;
    mutable std::unique_ptr<const shape::Topology> topology_;
    RTCSceneTy* scene_ = nullptr;
};

}  // namespace query
