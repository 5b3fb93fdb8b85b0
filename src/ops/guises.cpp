#include "ops/guises.h"

#include <fmt/format.h>

#include <algorithm>

#include "ops/entries.h"
#include "ops/names.h"

namespace ops {
namespace {

const std::string kDocument(model::data::kGuises);

Status usable(const model::Library& library, const model::Guise& guise) {
    if (guise.name.empty() || guise.name.size() > 100)
        return fail(ErrorCode::BadInput, "A guise’s name is not empty and at most 100 bytes long.");
    const auto known = [&](const std::string& name) {
        return std::any_of(library.items().begin(), library.items().end(),
                           [&](const model::Item& item) { return item.name == name; });
    };
    for (const auto& [from, to] : guise.surfaces)
        if (!library.surfaces().contains(to))
            return fail(ErrorCode::NotFound, fmt::format("There is no surface “{}”.", to));
    for (const auto& [from, to] : guise.items)
        for (const std::string& name : {from, to})
            if (!known(name)) return fail(ErrorCode::NotFound, fmt::format("There is no item “{}”.", name));
    for (const auto& [kind, tint] : guise.tints)
        if (library.kindNamed(kind) == nullptr)
            return fail(ErrorCode::NotFound, fmt::format("There is no kind “{}”.", kind));
    std::vector<std::string> problems;
    (void)model::guiseFrom(guise.name, model::toValues(guise), problems);
    if (!problems.empty()) return fail(ErrorCode::BadInput, guise.name + ": " + problems.front());
    return {};
}

Status noGuise(const std::string& name) {
    return fail(ErrorCode::NotFound, fmt::format("There is no guise “{}”.", name));
}

/// Every scene that is shown in one is shown in another.
Status turnScenes(edit::Draft& draft, const std::string& from, const std::string& to) {
    const std::string here = draft.scene().name();
    const std::vector<std::string> scenes = draft.session().project().sceneNames;
    for (const std::string& scene : scenes) {
        if (Status turned = draft.turnTo(scene); !turned) return turned;
        if (draft.scene().settings().guise != from) continue;
        model::SceneSettings settings = draft.scene().settings();
        settings.guise = to;
        if (Status set = draft.setSettings(settings); !set) return set;
    }
    return draft.turnTo(here);
}

}  // namespace

Status putGuise(edit::Draft& draft, const model::Guise& guise) {
    if (!draft.state()) return draft.state();
    if (Status fine = usable(draft.session().library(), guise); !fine) return fine;
    return putEntry(draft, kDocument, guise.name, model::toValues(guise));
}

Status renameGuise(edit::Draft& draft, std::string from, std::string to) {
    if (!draft.state()) return draft.state();
    const model::Guise* known = draft.session().library().guise(from);
    if (known == nullptr) return noGuise(from);
    if (draft.session().library().guise(to) != nullptr)
        return fail(ErrorCode::BadInput, fmt::format("There is a guise “{}” already.", to));
    model::Guise renamed = *known;
    renamed.name = to;
    if (renamed.name.empty() || renamed.name.size() > 100) return usable(draft.session().library(), renamed);
    if (Status put = putEntry(draft, kDocument, to, model::toValues(renamed)); !put) return put;
    if (Status gone = putEntry(draft, kDocument, from, std::nullopt); !gone) return gone;
    return turnScenes(draft, from, to);
}

Status removeGuise(edit::Draft& draft, std::string name) {
    if (!draft.state()) return draft.state();
    if (draft.session().library().guise(name) == nullptr) return noGuise(name);
    if (Status gone = putEntry(draft, kDocument, name, std::nullopt); !gone) return gone;
    return turnScenes(draft, name, {});
}

}  // namespace ops
