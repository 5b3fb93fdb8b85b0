#pragma once
// A name entered into a list in another program's settings: at one place, everything else byte for byte as it was.
// Pure; any thread.
#include <string>

#include "base/result.h"
#include "hand/receiver.h"

namespace hand {

/// The text with the value in its list; the same text when it is there already. `at`: of JSON a pointer (RFC 6901) to a
/// list; of XML the way to an element, and after a space what is added to it: "game/levels level@file" or
/// "game/levels level"; of INI "section key", the value being one of several with commas between, or "section key[]"
/// for a line of its own; of text the line before which it goes. Errors: BadInput naming file and what was not found.
base::Result<std::string> entered(const std::string& text, const Enter& enter, const std::string& value);

}  // namespace hand
