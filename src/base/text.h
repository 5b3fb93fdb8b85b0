#pragma once
// Small work on text: numbers in shortest form, wildcards, folding for search. Texts are UTF-8; what is not valid is
// compared byte by byte.
#include <concepts>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace base {

/// The shortest text that reads back as the same double ("-0" for minus zero). `value` must be finite.
std::string shortest(double value);
void appendShortest(std::string& out, double value);

/// Digits for the interface: `decimals` places, no "-0", a true minus sign stays '-'.
std::string fixed(double value, int decimals);

enum class Letters { EitherCase, AsWritten };
/// Does the whole of `text` fit `pattern`, where * is any run and ? any one character; letters match either case, if
/// not said otherwise. Linear time in practice, never worse than pattern x text.
bool matchesWildcard(std::string_view pattern, std::string_view text, Letters letters = Letters::EitherCase);
/// Are they the same but for the case of letters, of any script?
bool sameFolded(std::string_view a, std::string_view b);
/// Is `part` somewhere in `text`, letters in either case?
bool containsFolded(std::string_view text, std::string_view part);
/// In small letters, so that what differs in case alone becomes the same.
std::string lowered(std::string_view text);

/// Without the spaces at both ends.
std::string_view trimmed(std::string_view text);
/// What stands between the signs `at`, without the spaces round it; also what is empty. Of an empty text: nothing.
std::vector<std::string_view> split(std::string_view text, char at);
template <std::same_as<std::string> Gone>
void split(Gone&&, char) = delete;  // its parts would outlive the text
/// Line by line, as they stand; a line end at the end begins no other.
std::vector<std::string> linesOf(std::string_view text);

/// Splits "Lantern post 7" into "Lantern post " and 7; the number is -1 when there is none.
struct NumberedName {
    std::string stem;
    int number = -1;
};
NumberedName splitNumber(std::string_view name);

bool isValidUtf8(std::string_view text);
/// The code point that begins at byte `at` and how many bytes it takes; U+FFFD and 1 when none does.
std::pair<char32_t, std::size_t> codePointAt(std::string_view text, std::size_t at);
/// Is there a control character (C0 but tab and line end, DEL, C1) or a mark that turns the direction of writing?
/// Such have no place in a name, and on a terminal they give orders.
bool hasControl(std::string_view text);
/// The text with such characters, and what is no UTF-8, written out as JSON has them (\u001b); line ends and tabs stay.
std::string forTerminal(std::string_view text);
/// The text without them; line ends and tabs stay.
std::string withoutControl(std::string_view text);
/// `text` as a JSON string, with quotes.
void appendJsonString(std::string& out, std::string_view text);

/// Where in `query` order `text` should stand in a list of suggestions: smaller is better, negative: no match.
/// Start of text, then start of a word, then anywhere.
int matchRank(std::string_view text, std::string_view query);

}  // namespace base
