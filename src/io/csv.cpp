#include "io/csv.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <ostream>

namespace io {
namespace {

/// What separates cells: whichever of tab, semicolon and comma the first line has most of, outside of quotes.
char separatorOf(std::string_view text) {
    std::size_t counts[3] = {};
    bool quoted = false;
    for (char c : text) {
        if (c == '"') quoted = !quoted;
        if (c == '\n' && !quoted) break;
        if (quoted) continue;
        counts[0] += c == ',' ? 1 : 0;
        counts[1] += c == '\t' ? 1 : 0;
        counts[2] += c == ';' ? 1 : 0;
    }
    return ",\t;"[std::max_element(counts, counts + 3) - counts];
}

/// Would a spreadsheet take it for a formula? A number is none.
bool looksLikeFormula(std::string_view cell) {
    if (cell.empty() || std::string_view("=+-@\t\r").find(cell.front()) == std::string_view::npos) return false;
    double number = 0;
    const auto read = std::from_chars(cell.data(), cell.data() + cell.size(), number);
    return read.ec != std::errc{} || read.ptr != cell.data() + cell.size();
}
/// A formula behind any number of apostrophes: one more keeps a spreadsheet from running it, one less reads it back.
bool isGuarded(std::string_view cell) {
    const std::size_t marks = std::min(cell.find_first_not_of('\''), cell.size());
    return looksLikeFormula(cell.substr(marks));
}
std::string unguarded(std::string cell) {
    return cell.starts_with('\'') && isGuarded(cell) ? cell.substr(1) : cell;
}

std::string_view unmarked(std::string_view text) {
    return text.starts_with("\xEF\xBB\xBF") ? text.substr(3) : text;  // a byte order mark, as spreadsheets write it
}

base::Result<std::vector<CsvRow>> parse(std::string_view text, char separator, std::string (*asMeant)(std::string)) {
    std::vector<CsvRow> rows;
    CsvRow row;
    std::string cell;
    bool quoted = false, any = false;
    int line = 1, opened = 0;
    auto endRow = [&] {
        row.push_back(asMeant(std::move(cell)));
        cell.clear();
        rows.push_back(std::move(row));
        row.clear();
        any = false;
    };
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\n') ++line;
        if (quoted) {
            if (c != '"')
                cell += c;
            else if (i + 1 < text.size() && text[i + 1] == '"')
                cell += text[++i];
            else
                quoted = false;
            continue;
        }
        if (c == '"' && cell.empty()) {
            quoted = any = true;
            opened = line;
        } else if (c == separator) {
            row.push_back(asMeant(std::move(cell)));
            cell.clear();
            any = true;
        } else if (c == '\n') {
            if (any || !cell.empty()) endRow();
        } else if (c != '\r') {
            cell += c;
        }
    }
    if (quoted)
        return base::fail(base::ErrorCode::BadInput, fmt::format("A quote opened in line {} is not closed.", opened));
    if (any || !cell.empty()) endRow();
    return rows;
}

}  // namespace

base::Result<std::vector<CsvRow>> parseCsv(std::string_view text) {
    text = unmarked(text);
    return parse(text, separatorOf(text), unguarded);
}

base::Result<std::vector<CsvRow>> parseCells(std::string_view text, char separator) {
    return parse(unmarked(text), separator, [](std::string cell) { return cell; });
}

void CsvWriter::row(const CsvRow& cells) {
    for (std::size_t i = 0; i < cells.size(); ++i) {
        if (i > 0) out_ << ',';
        const std::string cell = (isGuarded(cells[i]) ? "'" : "") + cells[i];
        if (cell.find_first_of(",;\t\"\n\r") == std::string::npos) {
            out_ << cell;
            continue;
        }
        out_ << '"';
        for (char c : cell) out_ << (c == '"' ? "\"\"" : std::string(1, c));
        out_ << '"';
    }
    out_ << '\n';
}

}  // namespace io
