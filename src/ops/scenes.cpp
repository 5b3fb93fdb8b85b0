#include "ops/scenes.h"

#include <fmt/format.h>

#include <algorithm>

#include "ops/names.h"

namespace ops {
namespace {

using edit::addScene;
using edit::changeFacts;
using edit::isScene;

Status noScene(const std::string& name) {
    return fail(ErrorCode::NotFound, fmt::format("There is no scene “{}”.", name));
}

/// What a scene holds, without being it.
Result<model::Scene> contentOf(edit::Session& session, const std::string& name) {
    auto scene = session.scene(name);
    if (!scene) return tl::unexpected(scene.error());
    return **scene;
}

}  // namespace

bool isScratch(const edit::Session& session, const std::string& name) {
    const model::SceneEntry* entry = session.project().scene(name);
    return entry != nullptr && entry->scratch;
}

std::vector<std::string> scenesInPlay(const edit::Session& session) {
    std::vector<std::string> names = session.project().sceneNames;
    std::erase_if(names, [&](const std::string& name) { return isScratch(session, name); });
    return names;
}

Status duplicateScene(edit::Draft& draft, const std::string& from, const std::string& name) {
    if (!isScene(draft.session(), from)) return noScene(from);
    auto content = contentOf(draft.session(), from);
    return content ? addScene(draft, name, *content) : Status(tl::unexpected(content.error()));
}

Status renameScene(edit::Draft& draft, const std::string& from, const std::string& to) {
    if (!isScene(draft.session(), from)) return noScene(from);
    if (from == to) return {};
    const auto mark = draft.mark();
    if (Status copied = duplicateScene(draft, from, to); !copied) return copied;
    Status done = changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
        // In its place, with all that was said of it.
        model::SceneEntry& made = facts.entry(to);
        if (const model::SceneEntry* was = facts.scene(from)) {
            made.scratch = was->scratch;
            made.isTemplate = was->isTemplate;
            made.craft = was->craft;
        }
        const model::SceneEntry moved = made;
        std::erase_if(facts.scenes, [&](const auto& s) { return s.name == to; });
        std::vector<model::SceneEntry> order;
        for (const std::string& name : draft.session().project().sceneNames) {
            if (name == to) continue;
            order.push_back(name == from ? moved : facts.entry(name));
        }
        for (const model::SceneEntry& other : facts.scenes)
            if (other.name != from && !isScene(draft.session(), other.name)) order.push_back(other);
        order.push_back(facts.entry(from));
        order.back().gone = true;
        order.back().made = false;
        facts.scenes = std::move(order);
        if (facts.firstScene == from) facts.firstScene = to;
        return {};
    });
    if (!done) draft.rollbackTo(mark);
    return done;
}

Status deleteScene(edit::Draft& draft, const std::string& name) {
    if (!isScene(draft.session(), name)) return noScene(name);
    const auto& names = draft.session().project().sceneNames;
    if (names.size() < 2) return fail(ErrorCode::Refused, "A project has at least one scene.");
    return changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
        facts.entry(name).gone = true;
        facts.entry(name).made = false;
        if (facts.firstScene == name)
            facts.firstScene = *std::find_if(names.begin(), names.end(), [&](const auto& n) { return n != name; });
        return {};
    });
}

Status changeScene(edit::Draft& draft, const std::string& name, const std::function<void(model::SceneEntry&)>& change) {
    if (!isScene(draft.session(), name)) return noScene(name);
    return changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
        model::SceneEntry& entry = facts.entry(name);
        change(entry);
        if (entry.scratch && facts.firstScene == name)
            return fail(ErrorCode::Refused, fmt::format("{} is the first scene: it cannot be a scratch one.", name));
        return {};
    });
}

Status orderScenes(edit::Draft& draft, const std::vector<std::string>& names) {
    std::vector<std::string> is = draft.session().project().sceneNames, wanted = names;
    std::sort(is.begin(), is.end());
    std::sort(wanted.begin(), wanted.end());
    if (is != wanted) return fail(ErrorCode::BadInput, "All scenes are to be named, each once.");
    return changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
        std::vector<model::SceneEntry> order;
        for (const std::string& name : names) order.push_back(facts.entry(name));
        for (const model::SceneEntry& other : facts.scenes)
            if (!isScene(draft.session(), other.name)) order.push_back(other);
        facts.scenes = std::move(order);
        return {};
    });
}

Status makeFirstScene(edit::Draft& draft, const std::string& name) {
    if (!isScene(draft.session(), name)) return noScene(name);
    if (isScratch(draft.session(), name))
        return fail(ErrorCode::Refused, fmt::format("{} is a scratch scene: it cannot be the first.", name));
    return changeFacts(draft, [&](model::ProjectFacts& facts) -> Status {
        facts.firstScene = name;
        return {};
    });
}

}  // namespace ops
