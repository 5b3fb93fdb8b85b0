#include "ops/keep.h"
#include "ops/names.h"

#include <fmt/format.h>

#include <algorithm>

namespace ops {
namespace {

Status checkName(std::string_view name) {
    const bool control =
        std::any_of(name.begin(), name.end(), [](char c) { return static_cast<unsigned char>(c) < 32; });
    if (name.empty() || name.size() > 200 || control)
        return fail(ErrorCode::BadInput, "A name of one to 200 characters is needed, without line breaks.");
    return {};
}

template <class Entry>
auto named(std::vector<Entry>& all, std::string_view name) {
    return std::find_if(all.begin(), all.end(), [&](const Entry& e) { return e.name == name; });
}

template <class Entry>
Status keep(edit::Draft& draft, std::vector<Entry> model::SceneSettings::*list, Entry entry) {
    if (Status fine = checkName(entry.name); !fine) return fine;
    model::SceneSettings settings = draft.scene().settings();
    auto& all = settings.*list;
    if (auto place = named(all, entry.name); place != all.end())
        *place = std::move(entry);
    else
        all.push_back(std::move(entry));
    return draft.setSettings(settings);
}

template <class Entry>
Status change(edit::Draft& draft, std::vector<Entry> model::SceneSettings::*list, std::string_view name,
              const std::string* to) {
    model::SceneSettings settings = draft.scene().settings();
    auto& all = settings.*list;
    const auto place = named(all, name);
    if (place == all.end()) return fail(ErrorCode::NotFound, fmt::format("Nothing is kept under “{}”.", name));
    if (to == nullptr) {
        all.erase(place);
        return draft.setSettings(settings);
    }
    if (Status fine = checkName(*to); !fine) return fine;
    if (*to != name && named(all, *to) != all.end())
        return fail(ErrorCode::BadInput, fmt::format("“{}” is taken already.", *to));
    place->name = *to;
    return draft.setSettings(settings);
}

Status change(edit::Draft& draft, Kept what, std::string_view name, const std::string* to) {
    return what == Kept::Views ? change(draft, &model::SceneSettings::bookmarks, name, to)
                               : change(draft, &model::SceneSettings::selections, name, to);
}

}  // namespace

Status keepView(edit::Draft& draft, model::Bookmark view) {
    return keep(draft, &model::SceneSettings::bookmarks, std::move(view));
}

Status keepSelection(edit::Draft& draft, model::SavedSelection selection) {
    return keep(draft, &model::SceneSettings::selections, std::move(selection));
}

Status renameKept(edit::Draft& draft, Kept what, std::string_view name, std::string_view to) {
    const std::string wanted(to);
    return change(draft, what, name, &wanted);
}

Status dropKept(edit::Draft& draft, Kept what, std::string_view name) {
    return change(draft, what, name, nullptr);
}

Status setFirstView(edit::Draft& draft, const base::Vec3& from, const base::Vec3& to) {
    model::SceneSettings settings = draft.scene().settings();
    settings.viewFrom = from;
    settings.viewTo = to;
    return draft.setSettings(settings);
}

}  // namespace ops
