#pragma once
// Filters over objects as a designer types them: `lantern kind:Lantern item:bench*`. Every word must fit; a plain word
// is part of the name, or a pattern when it holds * or ?; "quoted words" may hold spaces. `state=open`, `oil>3`,
// `oil<9` ask for properties. Letters fit in either case.
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
    enum class Field { Name, Kind, Item, Property };
    struct Word {
        Field field;
        std::string pattern;
        bool wildcard;
        std::string key;  ///< of a property
        char sign;        ///< '=', '<' or '>'
    };
    static bool hasProperty(const model::Scene& scene, model::Slot slot, const Word& word);
    std::vector<Word> words_;
};

}  // namespace query
