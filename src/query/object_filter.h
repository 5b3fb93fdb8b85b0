#pragma once
// Filters over objects as a designer types them: `lantern kind:Lantern item:bench*`. Every word must fit; a plain word
// is part of the name, or a pattern when it holds * or ?; "quoted words" may hold spaces. `state=open`, `oil>3`,
// `oil<9` ask for properties, `hidden` and `protected` for what is so, by itself or with what it lies in. Letters fit
// in either case.
#include <map>
#include <memory>
#include <set>
#include <string>
#include <string_view>
#include <vector>

#include "model/scene.h"

namespace query {

class ObjectFilter {
  public:
    /// Words that only the asker can answer ("unseated", "findings"), each with the objects that fit it.
    using Known = std::map<std::string, std::set<base::ObjectId>, std::less<>>;
    explicit ObjectFilter(std::string_view text, std::shared_ptr<const Known> known = nullptr);
    /// Does it ask for one of the known words? Then what fits may change without any edit.
    bool asksKnown() const;
    /// True for a filter without words, which everything fits.
    bool empty() const { return words_.empty(); }
    bool fits(const model::Scene& scene, model::Slot slot) const;

  private:
    enum class Field { Name, Kind, Item, Property, Flag, Known };
    struct Word {
        Field field;
        std::string pattern;
        bool wildcard;
        std::string key;  ///< of a property
        char sign;        ///< '=', '<' or '>'
    };
    static bool hasProperty(const model::Scene& scene, model::Slot slot, const Word& word);
    std::shared_ptr<const Known> known_;
    std::vector<Word> words_;
};

/// Every object of the scene that a filter as typed fits, in the scene’s order.
std::vector<base::ObjectId> fitting(const model::Scene& scene, std::string_view filter);

}  // namespace query
