#pragma once
// What is said of items: their name for people, where the Stock lists them, and that they go. All of it is a step; an
// item's file is found by its key, so nothing that refers to it is lost.
#include "ops/prefab.h"

namespace ops {

/// Says it of an item; other members of its entry stay. Errors: NotFound (of a kind and of a node of its file, too);
/// BadInput for a name that is empty or too long, sizes or places that cannot be.
base::Status setItem(edit::Draft& draft, base::Name item, const model::ItemFacts& facts);
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
