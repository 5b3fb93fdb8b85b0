#pragma once
// What a project offers for placing: kinds (what objects are) and items (what can be placed).
// Values, filled by io when a project is opened; scenes share one library.
#include <deque>
#include <string>
#include <unordered_map>
#include <vector>

#include "base/id.h"
#include "base/math.h"
#include "base/names.h"
#include "model/facets.h"

namespace model {

/// What an object is.
struct Kind {
    std::string name;
    std::string category;
    std::string help;
    std::string colourMark;  ///< "#rrggbb", the square before the name in lists
    double smallestSize = 0.01;
    double largestSize = 100.0;
    double cost = 1.0;
    DetailPtr facets;  ///< what a placed object starts with; null: nothing
};

/// What of an item others bump into, stand on and walk on.
enum class CollisionShape { Mesh, Box, None };

/// Something that can be placed.
struct Item {
    std::string name;      ///< its key, the file's name without ending
    std::string label;     ///< for people
    std::string category;  ///< where the Stock lists it
    std::string kind;      ///< what placed objects become
    CollisionShape collision = CollisionShape::Mesh;
    std::string problem;  ///< why its model could not be read; empty when it could
    base::Aabb bounds;    ///< of its mesh, own axes, metres; empty without a mesh
    std::size_t triangles = 0;
    std::size_t materials = 0;
    std::vector<std::string> remarks;  ///< what the import left out
    bool isSolid = false;              ///< the mesh of a solid: not offered for placing
    base::ObjectId prefab;             ///< placing it makes an instance of this; zero: it is no prefab
};

class Library {
  public:
    /// Adds or replaces by name.
    void add(base::Name key, Item item);
    void add(base::Name key, Kind kind);
    const Item* item(base::Name key) const;
    const Kind* kind(base::Name key) const;
    void removeItem(base::Name key);
    /// A new one leaves the others where they are in memory.
    const std::deque<Item>& items() const { return items_; }
    const std::deque<Kind>& kinds() const { return kinds_; }

  private:
    std::deque<Item> items_;
    std::deque<Kind> kinds_;
    std::unordered_map<base::Name, std::size_t> itemIndex_;
    std::unordered_map<base::Name, std::size_t> kindIndex_;
};

}  // namespace model
