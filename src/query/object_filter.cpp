#include "query/object_filter.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <optional>

#include "base/text.h"
#include "model/facets/solid.h"

namespace query {

ObjectFilter::ObjectFilter(std::string_view text, std::shared_ptr<const Known> known) : known_(std::move(known)) {
    std::string word;
    bool quoted = false, wasQuoted = false;
    auto finish = [&] {
        if (word.empty()) return;
        // `key=value`, `key>3`: a property. Quotes keep these signs as part of a name.
        const std::size_t sign = wasQuoted ? std::string::npos : word.find_first_of("=<>");
        if (sign != std::string::npos && sign > 0) {
            const std::string value = word.substr(sign + 1);
            words_.push_back({Field::Property, value, value.find_first_of("*?") != std::string::npos,
                              word.substr(0, sign), word[sign]});
            word.clear();
            return;
        }
        if (!wasQuoted && (base::sameFolded(word, "hidden") || base::sameFolded(word, "protected"))) {
            words_.push_back({Field::Flag, base::sameFolded(word, "hidden") ? "hidden" : "protected", false, {}, 0});
            word.clear();
            return;
        }
        if (!wasQuoted && known_)
            for (const auto& [name, ids] : *known_)
                if (base::sameFolded(word, name)) {
                    words_.push_back({Field::Known, name, false, {}, 0});
                    word.clear();
                    return;
                }
        Field field = Field::Name;
        for (auto [key, which] :
             {std::pair{std::string_view("kind:"), Field::Kind}, {"item:", Field::Item}, {"name:", Field::Name}})
            if (word.starts_with(key)) {
                field = which;
                word.erase(0, key.size());
                break;
            }
        words_.push_back({field, word, word.find_first_of("*?") != std::string::npos, {}, 0});
        word.clear();
    };
    for (char c : text) {
        if (c == '"')
            quoted = !quoted, wasQuoted = true;
        else if (c == ' ' && !quoted)
            finish(), wasQuoted = false;
        else
            word += c;
    }
    finish();
}

namespace {

/// A property's value as one types it: text as it is, numbers shortest, truth as true or false; lists have none.
std::optional<std::string> typed(const model::Value& value) {
    if (const auto* text = std::get_if<std::string>(&value.data)) return *text;
    if (const auto* flag = std::get_if<bool>(&value.data)) return *flag ? "true" : "false";
    if (const auto* whole = std::get_if<std::int64_t>(&value.data)) return std::to_string(*whole);
    if (const auto* real = std::get_if<double>(&value.data)) return fmt::format("{}", *real);
    return std::nullopt;
}

/// What stands for a drawn solid is nobody's business.
std::string_view itemOf(const model::Scene& scene, model::Slot slot) {
    return scene.facet<model::Solid>(slot) != nullptr ? std::string_view() : scene.itemText(slot);
}

std::optional<double> numberIn(const std::string& text) {
    char* end = nullptr;
    const double number = std::strtod(text.c_str(), &end);
    return !text.empty() && *end == '\0' ? std::optional(number) : std::nullopt;
}

}  // namespace

bool ObjectFilter::hasProperty(const model::Scene& scene, model::Slot slot, const Word& word) {
    const auto& detail = scene.detail(slot);
    if (!detail) return false;
    for (const auto& [key, value] : detail->properties) {
        if (!base::sameFolded(key, word.key)) continue;
        const auto text = typed(value);
        if (!text) return false;
        const auto is = numberIn(*text), wanted = numberIn(word.pattern);
        if (word.sign != '=') return is && wanted && (word.sign == '<' ? *is < *wanted : *is > *wanted);
        if (is && wanted) return *is == *wanted;
        return word.wildcard ? base::matchesWildcard(word.pattern, *text) : base::sameFolded(*text, word.pattern);
    }
    return false;
}

bool ObjectFilter::asksKnown() const {
    return std::any_of(words_.begin(), words_.end(), [](const Word& w) { return w.field == Field::Known; });
}

bool ObjectFilter::fits(const model::Scene& scene, model::Slot slot) const {
    for (const Word& word : words_) {
        if (word.field == Field::Flag) {
            if (word.pattern == "hidden" ? !scene.hiddenInTree(slot) : !scene.protectedInTree(slot)) return false;
            continue;
        }
        if (word.field == Field::Known) {
            if (!known_->at(word.pattern).contains(scene.id(slot))) return false;
            continue;
        }
        if (word.field == Field::Property) {
            if (!hasProperty(scene, slot, word)) return false;
            continue;
        }
        const std::string_view text = word.field == Field::Name   ? scene.nameText(slot)
                                      : word.field == Field::Kind ? scene.kindText(slot)
                                                                  : itemOf(scene, slot);
        const bool fit =
            word.wildcard ? base::matchesWildcard(word.pattern, text) : base::containsFolded(text, word.pattern);
        if (!fit) return false;
    }
    return true;
}

std::vector<base::ObjectId> fitting(const model::Scene& scene, std::string_view filter) {
    const ObjectFilter asked(filter);
    std::vector<base::ObjectId> ids;
    for (const model::Slot s : scene.subtree(model::kNoSlot))
        if (asked.fits(scene, s)) ids.push_back(scene.id(s));
    return ids;
}

}  // namespace query
