#include "ops/entries.h"

namespace ops {

base::Status putEntry(edit::Draft& draft, const std::string& document, const std::string& key,
                      std::optional<model::ValueMap> values) {
    std::vector<std::string> keys = {key};
    std::vector<std::optional<model::ValueMap>> entries = {std::move(values)};
    if (!draft.session().entries(document).contains("")) {
        keys.emplace_back();
        entries.emplace_back(model::ValueMap{});
    }
    return draft.setEntries(document, keys, entries);
}

}  // namespace ops
