#pragma once
// Filters over objects as a designer types them: `lantern kind:Lantern item:bench*`. Every word must fit; a plain word
// is part of the name, or a pattern when it holds * or ?; "quoted words" may hold spaces. Letters fit in either case.
#include <string>
#include <string_view>
#include <vector>

#include "model/scene.h"

namespace query {

class ObjectFilter {
  public:
    explicit ObjectFilter(std::string_view text);
    /// True for a filter without words, which everything fits.
    bool empty() const { return words_.empty(); }
    bool fits(const model::Scene& scene, model::Slot slot) const;

  private:
    enum class Field { Name, Kind, Item };
    struct Word {
        Field field;
        std::string pattern;
        bool wildcard;
    };
    std::vector<Word> words_;
};

}  // namespace query
