// Which rows of a table are shown, and in which order.
#include <algorithm>
#include <cstdlib>

#include "base/text.h"
#include "ops/names.h"
#include "ops/table.h"
#include "query/object_filter.h"

namespace ops {

struct TableFilter::Parts {
    struct Word {
        TableColumn column;
        char sign = '=';
        std::string pattern;
        std::optional<double> low, high;  ///< of "2..5"
    };
    std::vector<Word> words;
    query::ObjectFilter rest{""};
};

TableFilter::TableFilter(std::string_view text, const std::vector<TableColumn>& columns)
    : parts_(std::make_unique<Parts>()) {
    auto number = [](const std::string& typed) -> std::optional<double> {
        char* end = nullptr;
        const double value = std::strtod(typed.c_str(), &end);
        return !typed.empty() && *end == '\0' ? std::optional(value) : std::nullopt;
    };
    std::string rest;
    for (std::size_t from = 0; from < text.size();) {
        std::size_t to = from;
        for (bool quoted = false; to < text.size() && (quoted || text[to] != ' '); ++to)
            if (text[to] == '"') quoted = !quoted;
        const std::string word(text.substr(from, to - from));
        from = to + 1;
        const std::size_t sign = word.find_first_of("=<>");
        const auto column = std::find_if(columns.begin(), columns.end(), [&](const TableColumn& c) {
            return sign != std::string::npos && base::sameFolded(c.key, word.substr(0, sign));
        });
        if (column == columns.end()) {
            rest += word + " ";
            continue;
        }
        Parts::Word one{*column, word[sign], word.substr(sign + 1), {}, {}};
        std::erase(one.pattern, '"');
        if (const std::size_t dots = one.pattern.find(".."); dots != std::string::npos && one.sign == '=') {
            one.low = number(one.pattern.substr(0, dots));
            one.high = number(one.pattern.substr(dots + 2));
        }
        parts_->words.push_back(std::move(one));
    }
    parts_->rest = query::ObjectFilter(rest);
}
TableFilter::~TableFilter() = default;
TableFilter::TableFilter(TableFilter&&) noexcept = default;

bool TableFilter::fits(const TableSource& source, Slot slot) const {
    if (!parts_->rest.empty() && !parts_->rest.fits(source.scene, slot)) return false;
    for (const Parts::Word& word : parts_->words) {
        const std::optional<double> number = cellNumber(source, slot, word.column);
        if (word.low || word.high) {
            if (!number || *number < word.low.value_or(*number) || *number > word.high.value_or(*number)) return false;
            continue;
        }
        char* end = nullptr;
        const double wanted = std::strtod(word.pattern.c_str(), &end);
        const bool isNumber = !word.pattern.empty() && *end == '\0';
        if (word.sign != '=') {
            if (!number || !isNumber || (word.sign == '<' ? *number >= wanted : *number <= wanted)) return false;
        } else if (number && isNumber) {
            if (std::abs(*number - wanted) > 1e-9 * std::max(1.0, std::abs(wanted))) return false;
        } else if (!base::matchesWildcard(word.pattern, cellText(source, slot, word.column))) {
            return false;
        }
    }
    return true;
}

void sortRows(const TableSource& source, std::vector<Slot>& rows, const TableColumn& column, bool descending) {
    struct Key {
        std::optional<double> number;
        std::string text;
        Slot slot;
    };
    std::vector<Key> keys;
    keys.reserve(rows.size());
    for (Slot s : rows) {
        Key key{cellNumber(source, s, column), {}, s};
        if (!key.number) key.text = base::lowered(cellText(source, s, column));
        // "Post 9" stands before "Post 10".
        if (auto [stem, count] = base::splitNumber(key.text); count >= 0)
            key.text = stem + fmt::format("{:010}", count);
        keys.push_back(std::move(key));
    }
    auto before = [](const Key& a, const Key& b) {
        if (a.number && b.number) return *a.number < *b.number;
        if (a.number || b.number) return a.number.has_value();
        return a.text < b.text;
    };
    std::stable_sort(keys.begin(), keys.end(),
                     [&](const Key& a, const Key& b) { return descending ? before(b, a) : before(a, b); });
    for (std::size_t i = 0; i < rows.size(); ++i) rows[i] = keys[i].slot;
}

}  // namespace ops
