#pragma once
// What of a scene a recipe puts into its list: entry by entry, field by field, in their terms. Pure; any thread, with a
// snapshot of the scene and a copy of the library.
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "hand/recipe.h"
#include "model/library.h"
#include "model/scene.h"

namespace hand {

struct Source {
    const model::Scene& scene;
    const model::Library& library;
    std::function<std::string(base::ObjectId)> prefabName;  ///< what people call it
};

struct Entry {
    base::ObjectId id;                                ///< the object it tells of
    std::string part;                                 ///< the file it goes to, when there are several
    std::ptrdiff_t below = -1;                        ///< the entry whose object is the nearest above; -1: none
    std::vector<std::optional<model::Value>> values;  ///< by field; nothing: left out
};
struct Gathered {
    std::vector<Entry> entries;
    std::vector<std::string> remarks;  ///< what could not be said as it is, one sentence each
    std::size_t passedOver = 0;        ///< objects that the recipe’s filter does not take
    std::map<std::string, std::map<std::string, std::size_t>> unnamed;  ///< by table: names it lacks, and how often
    double farthestRounded = 0;                                         ///< how far a position is off at most, metres
};
/// In the scene's order.
Gathered gather(const Source& source, const Recipe& recipe);

/// The outermost group made on purpose that an object lies in or is; kNoSlot: none.
model::Slot outermostGroup(const model::Scene& scene, model::Slot slot);
/// From where a recipe counts: the world, each thing's parent, or a thing that it names.
struct Frame {
    bool fromParent = false;
    base::Affine world{}, back{};  ///< of the thing, and to it
    /// Where something stands as the recipe counts; `sheared`: set when no pose can hold it.
    base::Transform poseOf(const model::Scene& scene, model::Slot slot, bool& sheared) const;
};
/// Errors: NotFound, when the thing that it names is not there or is flat.
base::Result<Frame> frameOf(const model::Scene& scene, const Recipe& recipe);
/// By its id; of words a property, a member of a facet or a formula has none.
enum class Is {
    Id,
    Name,
    Kind,
    Item,
    Prefab,
    Parent,
    ParentName,
    Path,
    Group,
    Scene,
    Number,
    Acts,
    X,
    Y,
    Z,
    Position,
    TurnX,
    TurnY,
    TurnZ,
    Turn,
    Rotation,
    SizeX,
    SizeY,
    SizeZ,
    Size,
    Matrix,
    Width,
    Depth,
    Height,
    Hidden,
    Protected,
    Unseen,
    Untouched,
    Absent,
    Properties,
    Cue,
    When,
    Then,
    Armed,
    Count,
    Property,
    Member,
    Formula,
    Constant
};
Is sourceOf(const Field& field);
/// Does it follow from the pose?
constexpr bool isPose(Is is) {
    return is >= Is::X && is <= Is::Matrix;
}

}  // namespace hand
