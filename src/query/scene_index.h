#pragma once
// Where objects are: rays against a whole scene. One Embree geometry per cell of a grid over the ground; objects that
// changed since the build are looked up in a small second scene until the next build. The same index knows what is seen
// of objects and, by solid(), what is bumped into.
// Threads: build on any thread from a snapshot; afterwards one thread.
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "model/scene.h"
#include "query/mesh_index.h"
#include "query/shapes.h"

namespace query {

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
    SceneIndex(const model::Scene& scene, Shapes shapes);
    ~SceneIndex();
    SceneIndex(const SceneIndex&) = delete;
    SceneIndex& operator=(const SceneIndex&) = delete;

    /// The same objects by what others bump into. It lives as long as this one and costs nothing.
    const SceneIndex& solid() const { return solid_ != nullptr ? *solid_ : *this; }
    /// The same by what is seen.
    const SceneIndex& seen() const { return seen_ != nullptr ? *seen_ : *this; }
    /// Asks these from now on: for one that was built elsewhere, of the same objects.
    void use(Shapes shapes);

    /// These slots were created, moved, got another item or body, or died. Constant time each.
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
    /// The mesh of an object, in its own axes; null: it has none.
    const MeshIndex* meshOf(const model::Scene& scene, model::Slot slot) const;
    /// Its bounds in the world.
    base::Aabb boundsOf(const model::Scene& scene, model::Slot slot) const;

  private:
    struct Body;
    SceneIndex(std::shared_ptr<Body> body, const SceneIndex& seen);

    std::shared_ptr<Body> body_;  // shared with solid()
    std::unique_ptr<SceneIndex> solid_;
    const SceneIndex* seen_ = nullptr;  // in solid()
};

}  // namespace query
