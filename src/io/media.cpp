#include "io/media.h"

#include <fmt/format.h>

#include "base/files.h"
#include "io/added.h"
#include "io/names.h"

namespace io {

namespace fs = std::filesystem;

Result<std::string> addMedia(edit::Draft& draft, const std::string& name, std::string_view bytes) {
    const fs::path wanted = fs::path(name).filename();
    if (!base::isFileName(wanted.string()))
        return base::fail(base::ErrorCode::BadInput, fmt::format("“{}” is no name for a file.", name));
    const fs::path& folder = draft.session().project().folder;
    for (int n = 1;; ++n) {
        const std::string free =
            n == 1 ? wanted.string() : fmt::format("{} {}{}", wanted.stem().string(), n, wanted.extension().string());
        const std::string relative = "media/" + free;
        auto file = projectFile(folder, relative);
        const bool isNew = !file && file.error().code == base::ErrorCode::NotFound;
        if (!file && !isNew) return tl::unexpected(file.error());
        if (!isNew && base::readFile(*file, base::most::kTable).value_or("") != bytes) continue;
        if (isNew)
            if (Status kept = keepAdded(folder, relative, bytes); !kept) return tl::unexpected(kept.error());
        if (isManaged(folder, relative))
            if (Status noted = noteAdded(draft, relative); !noted) return tl::unexpected(noted.error());
        return free;
    }
}

}  // namespace io
