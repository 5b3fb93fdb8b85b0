#pragma once
// What others bump into of an object: the shape of its body, else what is said of its item. It is what seating,
// carrying, contact, walking and the checks of overlap and reach ask; there is no second answer.
// Threads: any. Shapes are made when they are first asked for and kept as long as what gives them.
#include <memory>
#include <optional>
#include <unordered_map>

#include "model/facets/body.h"
#include "model/item.h"
#include "model/library.h"
#include "query/shapes.h"
#include "shape/mesh.h"

namespace query {

/// Where the box, the ball or the capsule of a body is, and how large: own axes, metres.
struct BodyBox {
    base::Vec3 centre{0.0}, size{1.0};
};
BodyBox bodyBox(const model::Body& body, const base::Aabb& meshBounds);
/// The body's shape in its object's own axes; `seen` is the mesh of the object, if it has one. Nothing: it is that
/// mesh, or should follow one that is not there.
std::optional<shape::Mesh> bodyMesh(const model::Body& body, const shape::Mesh* seen);

/// How items collide whose collision is not their mesh.
struct ItemCollision {
    model::CollisionShape shape = model::CollisionShape::Mesh;
    std::shared_ptr<const shape::Mesh> part;  ///< of the file, shared with the project; null: it has none
    friend bool operator==(const ItemCollision&, const ItemCollision&) = default;
};
using ItemCollisions = std::unordered_map<base::Name, ItemCollision>;
/// Those of a library; `parts` are meshes that are collision and nothing else.
ItemCollisions itemCollisions(const model::Library& library,
                              const std::unordered_map<base::Name, std::shared_ptr<const shape::Mesh>>& parts);

/// Both shapes of objects: what is seen, and what is bumped into by the rule above.
Shapes shapesOf(MeshLookup seen, ItemCollisions items);

/// What decides how an object collides, for people and for lists.
struct CollisionSource {
    bool ofBody = false;  ///< else of the item
    std::string shape;    ///< "mesh", "box", "hull", "sphere", "capsule", "part", "none"
};
CollisionSource collisionSource(const model::Library& library, const model::Scene& scene, model::Slot slot);

}  // namespace query
