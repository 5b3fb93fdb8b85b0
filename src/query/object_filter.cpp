#include "query/object_filter.h"

#include "base/text.h"

namespace query {

ObjectFilter::ObjectFilter(std::string_view text) {
    std::string word;
    bool quoted = false;
    auto finish = [&] {
        if (word.empty()) return;
        Field field = Field::Name;
        for (auto [key, which] :
             {std::pair{std::string_view("kind:"), Field::Kind}, {"item:", Field::Item}, {"name:", Field::Name}})
            if (word.starts_with(key)) {
                field = which;
                word.erase(0, key.size());
                break;
            }
        words_.push_back({field, word, word.find_first_of("*?") != std::string::npos});
        word.clear();
    };
    for (char c : text) {
        if (c == '"')
            quoted = !quoted;
        else if (c == ' ' && !quoted)
            finish();
        else
            word += c;
    }
    finish();
}

bool ObjectFilter::fits(const model::Scene& scene, model::Slot slot) const {
    for (const Word& word : words_) {
        const std::string_view text = word.field == Field::Name   ? scene.nameText(slot)
                                      : word.field == Field::Kind ? scene.kindText(slot)
                                                                  : scene.itemText(slot);
        const bool fit =
            word.wildcard ? base::matchesWildcard(word.pattern, text) : base::containsFolded(text, word.pattern);
        if (!fit) return false;
    }
    return true;
}

}  // namespace query
