#pragma once
// Which scenes a project has, and what it says of itself: the entry "" of the document of project.json. A scene that
// is not there any more loses its file with the next save; undo brings it back.
#include <functional>
#include <string>

#include "edit/draft.h"

namespace edit {

/// Does a document of the history hold a scene: no definition, no project data?
inline bool isSceneDocument(std::string_view document) {
    return !model::prefabOf(document) && !model::data::isData(document);
}
/// Is it there at present?
bool isScene(const Session& session, const std::string& name);
/// Errors: BadInput for a name that no file can have; Refused for one that another scene has.
base::Status usableSceneName(const Session& session, const std::string& name);
/// The name, or with the next number that is free.
std::string freeSceneName(const Session& session, const std::string& wanted);
/// A new scene with what `like` holds; ids stay. Errors: of the name; of writing it.
base::Status addScene(Draft& draft, const std::string& name, const model::Scene& like);
/// Changes what project.json says of the whole. Errors: BadInput for an empty name.
base::Status changeFacts(Draft& draft, const std::function<base::Status(model::ProjectFacts&)>& change);

}  // namespace edit
