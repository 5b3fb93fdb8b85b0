#pragma once
// Recipes to begin with, as docs/recipes has them.
#include <string>
#include <vector>

namespace hand {

struct Example {
    std::string name, text;  ///< the text of a recipe's file
};
const std::vector<Example>& examples();

}  // namespace hand
