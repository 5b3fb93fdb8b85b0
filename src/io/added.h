#pragma once
// Files that steps bring into the project: models, images. One waits in .mellow/added, and an entry of the document
// "@added" says that it is in the project at present: Save puts it there, and takes it away again when the step was
// undone. docs/formats/ledger.md.
#include <filesystem>
#include <set>
#include <string>

#include "edit/draft.h"

namespace io {

/// A file of the project by its relative name ("media/notice.png"): as it lies there, or as it waits. Errors: Refused
/// (leads out of the project), NotFound.
base::Result<std::filesystem::path> projectFile(const std::filesystem::path& folder, const std::string& relative);
/// Where it waits.
std::filesystem::path addedFile(const std::filesystem::path& folder, const std::string& relative);
/// Was it brought by a step, of whichever branch?
bool isManaged(const std::filesystem::path& folder, const std::string& relative);
/// Puts the bytes where they wait. Errors: Refused, Io.
base::Status keepAdded(const std::filesystem::path& folder, const std::string& relative, std::string_view bytes);
/// It is in the project from this step on.
base::Status noteAdded(edit::Draft& draft, const std::string& relative);
/// Makes the files lie as `present` says. What others have changed since is left alone. Errors: Io.
base::Status placeAdded(const std::filesystem::path& folder, const model::DataEntries& present);

/// The names of images in the project at present.
std::set<std::string> mediaNames(const edit::Session& session);

}  // namespace io
