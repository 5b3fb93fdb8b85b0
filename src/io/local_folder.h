#pragma once
// The folder beside a project's files where what is of this machine only lies: history, lock, files of steps.
#include <filesystem>

#include "base/result.h"

namespace io {

/// Errors: BadInput where it is a link, which could lead anywhere, or no folder.
base::Result<std::filesystem::path> localFolder(const std::filesystem::path& project);

}  // namespace io
