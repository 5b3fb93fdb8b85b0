#pragma once
// How verbs and groups of them are put on the command line, and how they find the objects that were named.
#include <functional>
#include <memory>
#include <string>

#include "cli/opened.h"

namespace CLI {
class App;
}

namespace cli {

/// A verb on what a path names, which `into` is given: what it gives back is what `mellow` will return.
CLI::App* addPathVerb(CLI::App& to, const char* name, const char* help, const char* path, std::string& into,
                      const Verbs& verbs, std::function<int()> run);

/// A verb on what a path names. What it is given is shared by the callbacks, which run while parsing.
template <class Arguments>
CLI::App* addVerb(CLI::App& to, const char* name, const char* help, const char* path,
                  const std::shared_ptr<Arguments>& arguments, const Verbs& verbs,
                  int (*run)(const Arguments&, const Verbs&)) {
    return addPathVerb(to, name, help, path, arguments->path, verbs,
                       [arguments, verbs, run] { return run(*arguments, verbs); });
}

/// Verbs that stand behind one word, of which one must be given.
CLI::App& addGroup(CLI::App& app, const char* name, const char* help);

/// An object by its id or its name; of several of one name, the first in order. Errors: NotFound.
base::Result<base::ObjectId> objectOf(const model::Scene& scene, const std::string& text);
/// What --where names. Errors: NotFound, when nothing fits.
base::Result<std::vector<base::ObjectId>> chosen(const model::Scene& scene, const std::string& where);

}  // namespace cli
