#pragma once
// Where objects are: rays against a whole scene. One Embree geometry per cell of a grid over the ground; objects that
// changed since the build are looked up in a small second scene until the next build.
// Threads: build on any thread from a snapshot; afterwards one thread.
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "model/scene.h"
#include "query/mesh_index.h"

namespace query {

/// The mesh of an item, ready for rays; null when it has none. Must stay valid while the index lives.
using MeshLookup = std::function<const MeshIndex*(base::Name item)>;
/// Which objects a query may meet.
using SlotFilter = std::function<bool(model::Slot)>;

struct SceneHit {
    model::Slot slot = model::kNoSlot;
    base::Vec3 point;
    base::Vec3 normal;    ///< unit length, towards the ray's origin
    double distance = 0;  ///< metres
    std::uint32_t triangle = 0;
};

class SceneIndex {
  public:
    SceneIndex(const model::Scene& scene, MeshLookup meshes);
    ~SceneIndex();
    SceneIndex(const SceneIndex&) = delete;
    SceneIndex& operator=(const SceneIndex&) = delete;

    /// These slots were created, moved, got another item, or died. Constant time each.
    void touch(std::span<const model::Slot> slots);
    /// How many objects changed since the build. Past a few ten thousand a new build on a worker pays.
    std::size_t touchedCount() const;

    /// The first triangle that `ray` meets, of the live objects that pass `filter`. Seen from either side.
    std::optional<SceneHit> pick(const model::Scene& scene, const base::Ray& ray, const SlotFilter& filter = {}) const;
    /// Up to `most` objects along the ray, nearest first, each once.
    std::vector<SceneHit> pickAll(const model::Scene& scene, const base::Ray& ray, std::size_t most,
                                  const SlotFilter& filter = {}) const;

    /// Calls `visit` once for each live object whose bounds meet `box`.
    void overlapping(const model::Scene& scene, const base::Aabb& box,
                     const std::function<void(model::Slot)>& visit) const;
    const MeshIndex* meshOf(base::Name item) const;

  private:
    struct Body;
    std::unique_ptr<Body> body_;
};

}  // namespace query
