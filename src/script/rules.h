#pragma once
// The checks of scripts as rules beside those that the editor has. Each thread that asks has a program of its own,
// which looks at a snapshot; one that fails or takes too long is said as a finding of its rule.
#include "check/rule.h"
#include "script/shelf.h"

namespace script {

/// Those that have an id of their own.
std::vector<check::Rule> rulesOf(const Shelf& shelf);

}  // namespace script
