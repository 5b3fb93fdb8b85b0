#pragma once
// What is said of something that can be placed, beyond what its model shows. Values.
#include <optional>
#include <string>
#include <vector>

#include "base/math.h"
#include "model/facet.h"

namespace model {

/// What of an item others bump into, stand on and walk on.
enum class CollisionShape { Mesh, Box, Hull, Sphere, Capsule, Part, None };
/// What one unit of its file is.
enum class FileUnit { Metre, Centimetre, Millimetre, Inch, Foot };
/// Which axis of its file points up.
enum class FileUp { Y, Z, X };

/// A named place of an item, in its own axes.
struct ItemPlace {
    std::string name;
    base::Vec3 at{0.0};      ///< metres
    double turnDegrees = 0;  ///< about up, from the item's front, which is -z
    friend bool operator==(const ItemPlace&, const ItemPlace&) = default;
};
/// The turn of it.
base::Quat turnOf(const ItemPlace& place);

struct ItemFacts {
    std::string label;   ///< for people
    std::string folder;  ///< where the Stock lists it
    std::string kind;    ///< what placed objects become
    CollisionShape collision = CollisionShape::Mesh;
    std::string collisionPart;  ///< the node of its file that is the collision and is not shown
    FileUnit unit = FileUnit::Metre;
    FileUp up = FileUp::Y;
    std::optional<base::Vec3> basePoint;              ///< what lands on the surface; nothing: below its origin
    std::optional<double> smallestSize, largestSize;  ///< times its own; nothing: as its kind says
    std::optional<double> cost;                       ///< of the level's budget; nothing: as its kind says
    bool offered = true;                              ///< in the Stock; else it stays in scenes, and is placed no more
    bool favourite = false;                           ///< of everybody in the project
    std::vector<ItemPlace> uses;                      ///< where one stands, and the way one faces, to use it
    std::vector<ItemPlace> berths;                    ///< where other things go
    friend bool operator==(const ItemFacts&, const ItemFacts&) = default;
};
const Fields& itemFields();
/// From what project.json says of it; what is wrong is named in `problems`, and as if not said.
ItemFacts itemFactsFrom(const ValueMap& entry, std::vector<std::string>& problems);
/// Makes an entry of project.json say it; other members stay.
void putFacts(ValueMap& entry, const ItemFacts& facts);
/// What turns the axes and units of its file into metres with Y up.
base::Affine correctionOf(const ItemFacts& facts);

}  // namespace model
