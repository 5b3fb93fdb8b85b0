#include "cli/verbs.h"

#include <fmt/format.h>

#include <CLI/CLI.hpp>

#include "cli/names.h"
#include "query/object_filter.h"

namespace cli {

CLI::App* addPathVerb(CLI::App& to, const char* name, const char* help, const char* path, std::string& into,
                      const Verbs& verbs, std::function<int()> run) {
    auto* command = to.add_subcommand(name, help);
    command->add_option(path, into)->required();
    command->callback([verbs, run = std::move(run)] { verbs.code = run(); });
    return command;
}

CLI::App& addGroup(CLI::App& app, const char* name, const char* help) {
    auto* made = app.add_subcommand(name, help);
    made->require_subcommand(1);
    return *made;
}

Result<ObjectId> objectOf(const model::Scene& scene, const std::string& text) {
    const auto id = base::parseObjectId(text);
    if (id && scene.find(*id) != kNoSlot) return *id;
    for (Slot s : scene.subtree(kNoSlot))
        if (scene.nameText(s) == text) return scene.id(s);
    return base::fail(ErrorCode::NotFound, fmt::format("There is no object “{}”: a name or an id was expected.", text));
}

Result<std::vector<ObjectId>> chosen(const model::Scene& scene, const std::string& where) {
    auto ids = query::fitting(scene, where);
    if (ids.empty()) return base::fail(ErrorCode::NotFound, fmt::format("Nothing fits --where “{}”.", where));
    return ids;
}

}  // namespace cli
