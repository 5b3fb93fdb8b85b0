#pragma once
// A kind becomes something that can be placed.
#include <optional>

#include "io/workspace.h"
#include "model/facets/solid.h"

namespace io {

/// What it looks like in the Stock; neither: a mark, until a model of its name comes.
struct StockLook {
    std::optional<model::Solid::Shape> shape;  ///< a body of a metre
    std::string like;                          ///< an item: its model, and what is said of that
};

/// Within the draft's step; gives the item's key. Errors: NotFound (of the kind, of the item); Refused for an item
/// without a model of its own; those of reading it.
base::Result<std::string> putInStock(Workspace& workspace, edit::Draft& draft, const std::string& kind,
                                     const StockLook& look);

}  // namespace io
