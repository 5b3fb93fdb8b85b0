#pragma once
// Texts with words in braces: "{scene}.json". Pure.
#include <map>
#include <string>

namespace hand {

/// What each word stands for; the words without their braces.
using Words = std::map<std::string, std::string>;
/// Words that are not known stay as they stand; "{{" and "}}" are braces.
std::string withWords(const std::string& text, const Words& words);

}  // namespace hand
