#pragma once
// Files in a project's folder media: images that surfaces and properties show.
#include <filesystem>
#include <string>

#include "base/result.h"

namespace io {

/// Puts a file into media once: what is there already, byte for byte, is used again; another file of that name gets a
/// number. Gives the name in media. Errors: NotFound, Io, BadInput for a name that is none.
base::Result<std::string> addMedia(const std::filesystem::path& project, const std::filesystem::path& file);
/// The same for bytes that come from elsewhere.
base::Result<std::string> addMediaBytes(const std::filesystem::path& project, const std::string& name,
                                        std::string_view bytes);

}  // namespace io
