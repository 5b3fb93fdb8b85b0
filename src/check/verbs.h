#pragma once
// What people do about findings: mend them, live with them, switch a rule off, set it. All through a draft.
#include "check/rule.h"

namespace check {

/// Mends findings of the draft's scene by their rules' fixes; those that are no more are passed over. With `facts` each
/// rule is asked again, and a fix after which the same is found is taken back. Errors: of the first fix that refuses;
/// NotFound when none of them has a fix; Refused when none has helped.
struct Mended {
    std::size_t count = 0;
    std::vector<std::string> helpless;  ///< for people: the fixes that were taken back
};
base::Result<Mended> mend(edit::Draft& draft, std::span<const Rule> rules, std::span<const Finding> findings,
                          const query::SceneIndex& index, const Facts* facts = nullptr);

/// Keeps findings in the scene as accepted. Errors: BadInput for an empty or overlong reason.
base::Status accept(edit::Draft& draft, std::span<const Finding> findings, const std::string& reason);
/// They are found again.
base::Status acceptNoMore(edit::Draft& draft, std::span<const Finding> findings);

/// A rule counts no more for an object, or (zero) for the whole scene; or again.
base::Status setRuleOff(edit::Draft& draft, const std::string& rule, base::ObjectId object, bool off);
/// The same for all objects of a kind, in the whole project.
base::Status setRuleOffForKind(edit::Draft& draft, const std::string& rule, const std::string& kind, bool off);
/// What the project says of a rule. Errors: NotFound for a parameter; BadInput for a value that does not fit.
base::Status setParameter(edit::Draft& draft, const Rule& rule, const std::string& parameter,
                          const model::Value& value);
/// Nothing: its usual one.
base::Status setSeverity(edit::Draft& draft, const Rule& rule, std::optional<Severity> severity);
base::Status setOff(edit::Draft& draft, const std::string& rule, bool off);

}  // namespace check
