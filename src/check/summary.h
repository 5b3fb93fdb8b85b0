#pragma once
// Facts of a scene beside its findings: what is in it, what it costs, what is hidden or linked to nothing.
#include <string>
#include <utility>
#include <vector>

#include "check/facts.h"

namespace check {

/// For people: what, and how much. Counts by kind come last, the most frequent first.
std::vector<std::pair<std::string, std::string>> summaryOf(const model::Scene& scene, const Facts& facts);

}  // namespace check
