#pragma once
// The shapes that physics collides, made from what is bumped into of objects, each once for a mesh and a size.
// One thread; it lives as long as the world that uses its shapes.
#include <map>
#include <memory>
#include <tuple>
#include <unordered_map>
#include <vector>

#include "rehearse/level.h"

class btCollisionShape;

namespace rehearse {

/// A shape where it stands.
struct FormAt {
    btCollisionShape* shape = nullptr;
    Pose pose;
    double volume = 0;  ///< cubic metres; of triangles: of the box round them
};

class Forms {
  public:
    explicit Forms(const Level& level);
    ~Forms();
    Forms(const Forms&) = delete;
    Forms& operator=(const Forms&) = delete;

    /// What stands of an object, hollows and all. Nothing: it bumps into nothing.
    std::optional<FormAt> standing(model::Slot slot);
    /// The convex bodies of a thing that falls: what is hollow is as its parts, each closed over.
    std::vector<FormAt> falling(const Thing& thing);
    /// Those of what is moved on purpose: hollows stay.
    std::vector<FormAt> guided(const Thing& thing);
    /// Faces and edges of a convex shape of few corners, so that it is met exactly. It takes long: only what is near
    /// something that falls needs it.
    static void sharpen(btCollisionShape& shape);
    /// Several as one, in a frame.
    btCollisionShape* joined(const std::vector<FormAt>& parts, const Pose& frame, bool many);
    /// Takes it over.
    template <class Shape>
    Shape* keep(std::unique_ptr<Shape> shape) {
        Shape* made = shape.get();
        kept_.push_back(std::move(shape));
        return made;
    }

  private:
    struct Look;
    Look& lookAt(const query::MeshIndex& mesh);
    FormAt hull(std::vector<base::Vec3> world);
    std::optional<FormAt> convex(model::Slot slot, const query::MeshIndex& mesh, bool falls);
    btCollisionShape* triangles(Look& look, const base::Vec3& scale);
    FormAt bakedTriangles(const query::MeshIndex& mesh, const base::Affine& world);
    void hollow(model::Slot slot, const query::MeshIndex& mesh, std::vector<FormAt>& into);

    const Level& level_;
    std::unordered_map<const query::MeshIndex*, std::unique_ptr<Look>> looks_;
    using Key = std::tuple<const query::MeshIndex*, double, double, double>;
    std::map<Key, FormAt> standing_, falling_;  // what is convex, about its own frame
    std::map<Key, btCollisionShape*> trianglesOf_;
    std::vector<std::unique_ptr<btCollisionShape>> kept_;
    std::vector<std::shared_ptr<void>> bytes_;  // what shapes read from
};

}  // namespace rehearse
