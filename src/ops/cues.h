#pragma once
// The designer's verbs on cues. Each writes through a draft, or refuses before anything is touched.
#include "model/facets/cues.h"
#include "ops/facets.h"

namespace ops {

/// Changes the cues of one object; when none is left, it has no such facet any more. Errors: NotFound, Refused for what
/// is protected, BadInput for too many, or what `change` says.
base::Status changeCues(edit::Draft& draft, base::ObjectId id, const std::function<base::Status(model::Cues&)>& change);
/// Whose the cues of the scene itself are: an object that is nothing but its cues. When there is none, it is made.
base::Result<base::ObjectId> sceneCues(edit::Draft& draft);
/// From a cue to what it has to do with.
struct CueLine {
    base::ObjectId from, to;  ///< cause, owner; or owner, target
    std::size_t cue = 0;      ///< of the owner
    bool isCause = false;
    double after = 0;  ///< seconds; of an effect
    bool armed = true;
    std::string text;
};
/// Of all cues of a scene, in its order. What is gone, or found by a filter while one plays, has none.
std::vector<CueLine> cueLines(const model::Scene& scene);

}  // namespace ops
