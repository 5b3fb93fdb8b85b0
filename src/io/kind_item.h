#pragma once
// The model of a kind that becomes something to be placed; ops::putInStock() makes the item.
#include <optional>

#include "io/workspace.h"
#include "model/facets/solid.h"

namespace io {

/// What it looks like in the Stock; neither: a mark.
struct StockLook {
    std::optional<model::Solid::Shape> shape;  ///< a solid of a metre
    std::string like;                          ///< an item: its model, and what is said of that
};
/// The item that has the model now, and what is to be said of it. For a mark both are empty.
struct StockModel {
    std::string key;
    model::ItemFacts facts;
};

/// Brings the model into the project, within the draft's step. Errors: NotFound (of the kind, of the item); Refused for
/// an item without a model of its own; those of reading it.
base::Result<StockModel> bringModelOf(Workspace& workspace, edit::Draft& draft, const std::string& kind,
                                      const StockLook& look);

}  // namespace io
