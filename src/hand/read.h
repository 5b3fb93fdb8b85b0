#pragma once
// The text of a file as the entries of a list, by the recipe that wrote it or one for lists that others wrote. Pure;
// any thread.
#include <string_view>

#include "hand/recipe.h"

namespace hand {

struct ReadEntry {
    std::size_t row = 0;                              ///< its place in the list, the first is 1
    std::ptrdiff_t below = -1;                        ///< of a tree: the entry that it stands in
    std::vector<std::optional<model::Value>> values;  ///< by field; nothing: it says nothing there
};
struct ListProblem {
    std::size_t row = 0;  ///< of the list; 0: of the file
    std::string field, message;
};
struct ReadList {
    std::vector<ReadEntry> entries;
    std::vector<ListProblem> problems;
    std::vector<std::string> others;  ///< names of fields that the recipe does not know
};
/// `file` is what messages call it. Errors: BadInput when it is no such list at all, with its line.
base::Result<ReadList> read(const Recipe& recipe, std::string_view bytes, const std::string& file);

/// Any of our encodings, told by its mark or, without one, by the recipe, as UTF-8. Errors: BadInput, with the line.
base::Result<std::string> decoded(std::string_view bytes, Recipe::Encoding encoding, const std::string& file);

/// Do a list's angles look like radians: three or more, none beyond a full turn of them, and not all whole?
bool looksLikeRadians(const Recipe& recipe, const ReadList& list);

/// A recipe for a list that others wrote: its form, and what its columns seem to be by their names.
base::Result<Recipe> guessed(std::string_view bytes, const std::string& file);

}  // namespace hand
