#pragma once
// What a check has found: plain values that panels, reports and fixes read. Any thread.
#include <string>
#include <vector>

#include "model/mark.h"

namespace check {

enum class Severity : std::uint8_t { Hint, Caution, Error };
/// "hint", "caution", "error".
std::string_view severityWord(Severity severity);
std::optional<Severity> severityFrom(std::string_view word);

struct Finding {
    std::string rule;       ///< its id
    base::ObjectId object;  ///< zero: the scene, or the project
    base::ObjectId other;   ///< the second of a pair
    std::string part;       ///< what tells two of one rule at one object apart: a property, a budget, a file
    Severity severity = Severity::Caution;
    std::string message;             ///< a sentence with the measure; changes when the thing does
    std::vector<model::Mark> marks;  ///< what explains it in the view
    double amount = 0;               ///< a measure that the fix goes by
    bool mendable = false;           ///< the rule has a fix for this one
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// The same for the same fault in every run, wherever the object stands: 16 letters.
std::string fingerprint(const std::string& scene, const Finding& finding);

}  // namespace check
