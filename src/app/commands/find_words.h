#pragma once
// What people type when they look for something: other words of the trade for what is called otherwise here, and words
// with a letter wrong.
#include <string>
#include <string_view>

namespace app {

/// Do other words for the command `id` begin with what was typed? How far down it stands among those that are meant by
/// them, from 0; -1: no. Ignores case.
int otherWordPlace(std::string_view id, std::string_view typed);

/// Is a word of `text` what was typed but for one letter (wrong, missing, too many, or two that changed places), for
/// long ones two? Words may go on after it.
bool isNearly(std::string_view text, std::string_view typed);

}  // namespace app
