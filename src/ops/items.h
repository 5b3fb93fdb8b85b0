#pragma once
// What is said of items: their name for people, where the Stock lists them, and that they go. All of it is a step; an
// item's file is found by its key, so nothing that refers to it is lost.
#include "ops/prefab.h"

namespace ops {

/// What is said of an item beyond what its model shows.
struct ItemFacts {
    std::string label, folder, kind;
    model::CollisionShape collision = model::CollisionShape::Mesh;
    bool offered = true;  ///< in the Stock
    friend bool operator==(const ItemFacts&, const ItemFacts&) = default;
};
const model::Fields& itemFields();
ItemFacts factsOf(const model::Item& item);
/// Says it of an item; other members of its entry stay. Errors: NotFound (of a kind, too); BadInput for a name that is
/// empty or too long.
base::Status setItem(edit::Draft& draft, base::Name item, const ItemFacts& facts);
/// Errors: as setItem().
base::Status renameItem(edit::Draft& draft, base::Name item, std::string label, std::string category);

/// What becomes of the objects of an item that goes.
struct DeleteItem {
    enum class Objects { Swap, Keep } objects = Objects::Keep;
    base::Name other;  ///< to swap for
};
/// The item's model goes with the next save, and is back with undo. Errors: NotFound; Refused for protected objects.
base::Status deleteItem(edit::Draft& draft, base::Name item, const DeleteItem& how);

/// Items with a model that no scene and no prefab holds. Loads every scene. Errors: of reading one.
base::Result<std::vector<base::Name>> unusedItems(edit::Session& session);

}  // namespace ops
