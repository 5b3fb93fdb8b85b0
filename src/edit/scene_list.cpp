#include "edit/scene_list.h"

#include <fmt/format.h>

#include <algorithm>

#include "base/files.h"
#include "edit/become.h"
#include "edit/names.h"

namespace edit {
namespace {

const std::string kProject(model::data::kItems);

/// Writes to a scene within the step, and turns back to where the draft was.
Status writeScene(Draft& draft, const std::string& name, const model::Scene& like) {
    const std::string before = draft.scene().name();
    if (Status turned = draft.turnTo(name); !turned) return turned;
    if (Status done = become(draft, like); !done) return done;
    return draft.turnTo(before);
}

}  // namespace

bool isScene(const Session& session, const std::string& name) {
    const auto& names = session.project().sceneNames;
    return std::find(names.begin(), names.end(), name) != names.end();
}

Status usableSceneName(const Session& session, const std::string& name) {
    if (!base::isPlainFileName(name))
        return fail(
            ErrorCode::BadInput,
            fmt::format("“{}” cannot be a scene's name: letters, digits, spaces, dots, dashes and underscores can.",
                        name));
    if (isScene(session, name)) return fail(ErrorCode::Refused, fmt::format("There is a scene {} already.", name));
    return {};
}

std::string freeSceneName(const Session& session, const std::string& wanted) {
    const std::string plain = base::plainFileName(wanted);
    for (int n = 1;; ++n)
        if (std::string name = n == 1 ? plain : fmt::format("{} {}", plain, n); usableSceneName(session, name))
            return name;
}

Status changeFacts(Draft& draft, const std::function<Status(model::ProjectFacts&)>& change) {
    if (!draft.state()) return draft.state();
    model::ProjectFacts facts = draft.session().project();
    if (Status done = change(facts); !done) return done;
    if (facts.name.empty()) return fail(ErrorCode::BadInput, "A project has a name.");
    const auto& entries = draft.session().entries(kProject);
    const auto held = entries.find("");
    model::ValueMap head = held == entries.end() ? model::ValueMap{} : held->second;
    model::putFacts(head, facts);
    const std::string key;
    const std::optional<model::ValueMap> value = std::move(head);
    return draft.setEntries(kProject, {&key, 1}, {&value, 1});
}

Status addScene(Draft& draft, const std::string& name, const model::Scene& like) {
    if (!draft.state()) return draft.state();
    if (Status usable = usableSceneName(draft.session(), name); !usable) return usable;
    draft.keepAsWritten();
    const auto mark = draft.mark();
    auto add = [&]() -> Status {
        Status listed = changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
            for (const std::string& other : draft.session().project().sceneNames) facts.entry(other);
            facts.entry(name).made = true;
            facts.entry(name).gone = false;
            return {};
        });
        return listed ? writeScene(draft, name, like) : listed;
    };
    Status done = add();
    if (!done) draft.rollbackTo(mark);
    return done;
}

}  // namespace edit
