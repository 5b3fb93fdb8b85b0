#pragma once
// A list comes back into a scene: what is new in it, changed or gone, looked at before anything is written, then
// written as part of one step. What was only rounded on the way out stays as it is to the bit.
#include <map>
#include <set>
#include <string>
#include <vector>

#include "edit/draft.h"
#include "hand/entries.h"
#include "hand/read.h"
#include "ops/table.h"

namespace hand {

/// One thing that would be otherwise.
struct TakenChange {
    base::ObjectId id;
    std::string field, before, after;
    std::size_t row = 0;
};
struct TakeInPlan {
    std::vector<TakenChange> changes;       ///< of objects that are there
    std::set<base::ObjectId> changed;       ///< those
    std::size_t added = 0, same = 0;        ///< entries
    std::vector<base::ObjectId> gone;       ///< of the recipe’s objects, those that the list does not have
    std::vector<base::ObjectId> removable;  ///< of them, those below which nothing lies that the list has
    std::map<std::string, std::map<std::string, std::size_t>> unknown;  ///< by table ("" of none): names of no item
    std::vector<ListProblem> problems;                                  ///< their entries, or cells, are left out
    std::vector<std::string> told;  ///< what was brought into range, passed over, and so on
    // The same as values to be written.
    struct Written {
        std::vector<base::ObjectId> posed;
        std::vector<base::Transform> poses;
        std::vector<ops::CellInput> cells;
        std::vector<model::ObjectRecord> records;  ///< those above first
    } written;
    bool empty() const { return changes.empty() && added == 0; }
};

/// A list, read, beside the scene. `random` gives new objects their ids.
TakeInPlan planTakeIn(const Source& source, edit::Session& session, const Recipe& recipe, const ReadList& list);

/// Their names for ours, told once: the recipe keeps them. Errors: NotFound; of the draft.
base::Status remember(edit::Draft& draft, const std::string& recipe, const std::string& table,
                      const Recipe::Names& theirsToOurs);
/// What a file of that folder says, data::kRecipes or data::kReceivers; nothing: it goes. Errors: BadInput for a name
/// that can be no file’s.
base::Status putPaper(edit::Draft& draft, const model::data::Foldered& folder, const std::string& name,
                      std::optional<model::ValueMap> values);
/// The same of a recipe.
base::Status putRecipe(edit::Draft& draft, const std::string& name, std::optional<model::ValueMap> values);

struct TakeInChoice {
    bool removeGone = false;
    bool despiteProblems = false;  ///< what is wrong is left out; else it refuses
};
/// Writes it. Errors: BadInput naming the first problem; of the draft.
base::Status takeIn(edit::Draft& draft, const TakeInPlan& plan, const TakeInChoice& choice);

}  // namespace hand
