#pragma once
// Files in a project's folder media: images that surfaces and properties show.
#include <filesystem>
#include <string>

#include "edit/draft.h"

namespace io {

/// Puts an image into the project once, within the draft's step: what is there already, byte for byte, is used again;
/// another file of that name gets a number. Its file comes with Save. Gives the name in media. Errors: BadInput for a
/// name that is none; Io.
base::Result<std::string> addMedia(edit::Draft& draft, const std::string& name, std::string_view bytes);

}  // namespace io
