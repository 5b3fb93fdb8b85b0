#include "io/media.h"

#include <fmt/format.h>

#include "base/files.h"

namespace io {

namespace fs = std::filesystem;
using base::ErrorCode;
using base::fail;
using base::Result;

Result<std::string> addMediaBytes(const fs::path& project, const std::string& name, std::string_view bytes) {
    const fs::path wanted = fs::path(name).filename();
    if (wanted.empty() || wanted == "." || wanted == "..")
        return fail(ErrorCode::BadInput, fmt::format("“{}” is no name for a file.", name));
    for (int n = 1;; ++n) {
        const std::string free =
            n == 1 ? wanted.string() : fmt::format("{} {}{}", wanted.stem().string(), n, wanted.extension().string());
        const fs::path target = project / "media" / free;
        if (const auto held = base::readFile(target)) {
            if (*held == bytes) return free;
            continue;
        }
        std::error_code failed;
        fs::create_directories(target.parent_path(), failed);
        if (base::Status written = base::writeFileWhole(target, std::string(bytes)); !written)
            return tl::unexpected(written.error());
        return free;
    }
}

Result<std::string> addMedia(const fs::path& project, const fs::path& file) {
    auto bytes = base::readFile(file);
    if (!bytes) return tl::unexpected(bytes.error());
    return addMediaBytes(project, file.filename().string(), *bytes);
}

}  // namespace io
