#pragma once
// The designer's verbs on scenes as wholes; a new one: edit/scene_list.h. Each is a step.
#include <functional>
#include <string>
#include <vector>

#include "edit/scene_list.h"

namespace ops {

/// A new scene with what another holds. Errors: of the name; NotFound.
base::Status duplicateScene(edit::Draft& draft, const std::string& from, const std::string& name);
/// What names it follows: the project's first scene. Errors: of the name; NotFound.
base::Status renameScene(edit::Draft& draft, const std::string& from, const std::string& to);
/// Errors: NotFound; Refused for the last one that there is.
base::Status deleteScene(edit::Draft& draft, const std::string& name);
/// Changes what is said of a scene: scratch, template. Errors: NotFound.
base::Status changeScene(edit::Draft& draft, const std::string& name,
                         const std::function<void(model::SceneEntry&)>& change);
/// All scenes, in their new order. Errors: BadInput when that is not them.
base::Status orderScenes(edit::Draft& draft, const std::vector<std::string>& names);
/// Errors: NotFound; Refused for a scratch scene.
base::Status makeFirstScene(edit::Draft& draft, const std::string& name);

/// A place to try: never exported or checked.
bool isScratch(const edit::Session& session, const std::string& name);
/// Those that a check or an export of the whole project is about.
std::vector<std::string> scenesInPlay(const edit::Session& session);

}  // namespace ops
