#pragma once
// The checks of scripts as rules beside those that the editor has. Each thread that asks has a program of its own,
// which looks at a snapshot; one that fails or takes too long is said as a finding of its rule.
#include "check/rule.h"
#include "script/shelf.h"

namespace script {

/// Those that have an id of their own.
std::vector<check::Rule> rulesOf(const Shelf& shelf);

/// Asks all checks of a file about a scene, for whoever writes one: what they find is said, with its marks.
Outcome tryChecks(edit::Draft& draft, const Source& source, const Settings& settings,
                  const std::vector<CheckSpec>& checks);

}  // namespace script
