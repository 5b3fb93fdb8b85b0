#include "io/added.h"

#include "base/files.h"
#include "io/names.h"

namespace io {

namespace fs = std::filesystem;

namespace {

const std::string kDocument(model::data::kAdded);
constexpr const char* kFolders[] = {"items", "media"};

}  // namespace

fs::path addedFile(const fs::path& folder, const std::string& relative) {
    return folder / ".mellow" / "added" / relative;
}

bool isManaged(const fs::path& folder, const std::string& relative) {
    return base::exists(addedFile(folder, relative));
}

Result<fs::path> projectFile(const fs::path& folder, const std::string& relative) {
    for (const fs::path& where : {fs::path(relative), fs::path(".mellow") / "added" / relative}) {
        auto file = base::inside(folder, where);
        if (!file || base::exists(*file)) return file;
    }
    return base::fail(base::ErrorCode::NotFound, relative + ": there is no such file in the project.");
}

Status keepAdded(const fs::path& folder, const std::string& relative, std::string_view bytes) {
    auto file = base::inside(folder, fs::path(".mellow") / "added" / relative);
    if (!file) return tl::unexpected(file.error());
    if (Status made = base::makeFolder(file->parent_path()); !made) return made;
    return base::writeFileWhole(*file, bytes);
}

Status noteAdded(edit::Draft& draft, const std::string& relative) {
    const std::optional<model::ValueMap> is = model::ValueMap{};
    return draft.setEntries(kDocument, {&relative, 1}, {&is, 1});
}

namespace {

Status place(const fs::path& folder, const std::string& relative, const fs::path& waiting, bool wanted) {
    auto file = base::inside(folder, relative);
    if (!file) return tl::unexpected(file.error());
    if (wanted == base::exists(*file)) return {};
    auto bytes = base::readFile(waiting, base::most::kModel);
    if (!bytes) return tl::unexpected(bytes.error());
    if (wanted) {
        if (Status made = base::makeFolder(file->parent_path()); !made) return made;
        return base::writeFileWhole(*file, *bytes);
    }
    const auto held = base::readFile(*file, base::most::kModel);
    return held && *held == *bytes ? base::removeFile(*file) : Status{};
}

}  // namespace

Status placeAdded(const fs::path& folder, const model::DataEntries& present) {
    for (const char* part : kFolders) {
        const auto all = base::listFolder(folder / ".mellow" / "added" / part);
        if (!all) return tl::unexpected(all.error());
        for (const fs::path& waiting : *all) {
            const std::string relative = std::string(part) + "/" + waiting.filename().string();
            if (!base::isFileName(waiting.filename().string())) continue;
            if (Status placed = place(folder, relative, waiting, present.contains(relative)); !placed) return placed;
        }
    }
    return {};
}

std::set<std::string> mediaNames(const edit::Session& session) {
    const fs::path& folder = session.project().folder;
    const model::DataEntries& present = session.entries(kDocument);
    std::set<std::string> names;
    for (const fs::path& where : {folder / "media", folder / ".mellow" / "added" / "media"})
        for (const fs::path& file : base::listFolder(where).value_or(std::vector<fs::path>{})) {
            const std::string name = file.filename().string(), relative = "media/" + name;
            if (base::isFileName(name) && (!isManaged(folder, relative) || present.contains(relative)))
                names.insert(name);
        }
    return names;
}

}  // namespace io
