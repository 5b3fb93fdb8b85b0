#pragma once
// The facts of an open project, gathered for a check.
#include "check/facts.h"
#include "edit/session.h"

namespace check {

/// What of files it cannot know by itself is given: media by name. With `uses`, every scene is loaded to know which
/// prefabs are used; without, what `before` knows of that still counts. Errors of loading: what could not be read
/// counts as using nothing. `thorough`: where nobody edits meanwhile, and seconds may be spent on a scene.
std::shared_ptr<const Facts> gatherFacts(edit::Session& session, std::shared_ptr<const std::vector<Rule>> rules,
                                         query::Shapes shapes, Media media, bool uses, const Facts* before = nullptr,
                                         bool thorough = false);

}  // namespace check
