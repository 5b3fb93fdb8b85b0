#include "io/local_folder.h"

namespace io {

namespace fs = std::filesystem;

base::Result<fs::path> localFolder(const fs::path& project) {
    std::error_code ignored;
    const fs::path local = project / ".mellow";
    const auto status = fs::symlink_status(local, ignored);
    if (fs::exists(status) && !fs::is_directory(status))
        return base::fail(base::ErrorCode::BadInput, local.string() + ": is no folder of the project's own.");
    return local;
}

}  // namespace io
