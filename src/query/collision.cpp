#include "query/collision.h"

#include <map>
#include <mutex>
#include <optional>
#include <shared_mutex>
#include <tuple>

#include "query/mesh_index.h"
#include "query/names.h"
#include "shape/hull.h"

namespace query {
namespace {

using model::Body;
using model::CollisionShape;

bool followsMesh(const Body& body) {
    return body.fitted || body.shape == Body::Shape::Mesh || body.shape == Body::Shape::Hull;
}

std::optional<shape::Mesh> itemMesh(CollisionShape as, const shape::Mesh& seen) {
    switch (as) {
        case CollisionShape::Box: return shape::simpleMesh(seen, shape::Simple::Box);
        case CollisionShape::Hull: return shape::simpleMesh(seen, shape::Simple::Hull);
        case CollisionShape::Sphere: return shape::simpleMesh(seen, shape::Simple::Sphere);
        case CollisionShape::Capsule: return shape::simpleMesh(seen, shape::Simple::Capsule);
        default: return std::nullopt;
    }
}

class Collisions {
  public:
    Collisions(MeshLookup seen, ItemCollisions items) : seen_(std::move(seen)), items_(std::move(items)) {}

    const MeshIndex* of(const model::Scene& scene, Slot slot) {
        if ((scene.flagsOf(slot) & model::flags::kUntouched) != 0) return nullptr;
        const auto& body = scene.facet<Body>(slot);
        return body ? ofBody(*body, scene.item(slot)) : ofItem(scene.item(slot));
    }

    const MeshIndex* ofItem(base::Name item) {
        const MeshIndex* seen = seen_(item);
        const auto said = items_.find(item);
        if (said == items_.end() || seen == nullptr) return seen;
        const ItemCollision& as = said->second;
        if (as.shape == CollisionShape::None) return nullptr;
        if (as.shape == CollisionShape::Part && as.part == nullptr) return seen;
        return made(madeItems_, item, [&] {
            return as.part ? std::make_shared<const shape::Mesh>(*as.part)
                           : std::make_shared<const shape::Mesh>(*itemMesh(as.shape, seen->mesh()));
        });
    }

  private:
    const MeshIndex* ofBody(const Body& body, base::Name item) {
        const MeshIndex* seen = seen_(item);
        if (followsMesh(body) && (seen == nullptr || body.shape == Body::Shape::Mesh)) return seen;
        const bool follows = followsMesh(body);
        const Key key{body.shape, follows ? item : base::Name{}, follows ? base::Vec3(0.0) : body.centre,
                      follows ? base::Vec3(0.0) : body.size};
        return made(madeBodies_, key, [&] {
            return std::make_shared<const shape::Mesh>(*bodyMesh(body, seen != nullptr ? &seen->mesh() : nullptr));
        });
    }

    struct Key {
        Body::Shape shape;
        base::Name item;  // whose mesh it follows
        base::Vec3 centre, size;
        auto tied() const {
            return std::tuple(shape, item.index, centre.x, centre.y, centre.z, size.x, size.y, size.z);
        }
        friend bool operator<(const Key& a, const Key& b) { return a.tied() < b.tied(); }
    };
    template <class Map, class K, class Make>
    const MeshIndex* made(Map& all, const K& key, const Make& make) {
        {
            const std::shared_lock lock(mutex_);
            if (const auto place = all.find(key); place != all.end()) return place->second.get();
        }
        auto index = std::make_unique<MeshIndex>(make());
        const std::unique_lock lock(mutex_);
        return all.try_emplace(key, std::move(index)).first->second.get();
    }

    MeshLookup seen_;
    ItemCollisions items_;
    std::shared_mutex mutex_;
    std::unordered_map<base::Name, std::unique_ptr<MeshIndex>> madeItems_;
    std::map<Key, std::unique_ptr<MeshIndex>> madeBodies_;
};

}  // namespace

BodyBox bodyBox(const Body& body, const base::Aabb& meshBounds) {
    if (!followsMesh(body) || meshBounds.empty()) return {body.centre, body.size};
    return {meshBounds.centre(), glm::max(meshBounds.size(), base::Vec3(0.001))};
}

std::optional<shape::Mesh> bodyMesh(const Body& body, const shape::Mesh* seen) {
    if (body.shape == Body::Shape::Mesh || (followsMesh(body) && seen == nullptr)) return std::nullopt;
    if (body.shape == Body::Shape::Hull) return shape::convexHull(seen->positions);
    const BodyBox box = bodyBox(body, seen != nullptr ? seen->bounds : base::Aabb{});
    switch (body.shape) {
        case Body::Shape::Sphere: return shape::ballMesh(box.centre, box.size);
        case Body::Shape::Capsule: return shape::capsuleMesh(box.centre, box.size);
        default: return shape::boxMesh({box.centre - box.size / 2.0, box.centre + box.size / 2.0});
    }
}

ItemCollisions itemCollisions(const model::Library& library,
                              const std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>>& parts) {
    ItemCollisions all;
    library.eachItem([&](base::Name key, const model::Item& item) {
        if (item.isSolid || item.collision == CollisionShape::Mesh) return;
        ItemCollision& as = all[key];
        as.shape = item.collision;
        if (const auto part = parts.find(key); item.collision == CollisionShape::Part && part != parts.end())
            as.part = part->second;
    });
    return all;
}

std::vector<Slot> withBody(const model::Scene& scene, std::span<const Slot> slots) {
    std::vector<Slot> all;
    for (Slot s : slots)
        if (scene.alive(s) && scene.facet<Body>(s)) all.push_back(s);
    return all;
}

Shapes shapesOf(MeshLookup seen, ItemCollisions items) {
    const auto collisions = std::make_shared<Collisions>(seen, std::move(items));  // by the copies of what is given
    return {std::move(seen), [collisions](const model::Scene& scene, Slot slot) { return collisions->of(scene, slot); },
            [collisions](base::Name item) { return collisions->ofItem(item); }};
}

CollisionSource collisionSource(const model::Library& library, const model::Scene& scene, Slot slot) {
    if (const auto& body = scene.facet<Body>(slot)) {
        static constexpr const char* kShapes[] = {"mesh", "box", "sphere", "capsule", "hull"};
        return {true, kShapes[static_cast<std::size_t>(body->shape)]};
    }
    static constexpr const char* kShapes[] = {"mesh", "box", "hull", "sphere", "capsule", "part", "none"};
    const model::Item* item = library.item(scene.item(slot));
    if (item == nullptr) return {false, "none"};
    return {false, kShapes[static_cast<std::size_t>(item->collision)]};
}

}  // namespace query
