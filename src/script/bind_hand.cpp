// Files of the project as texts and tables, and lists written by a recipe once the step is kept.
#include <fmt/format.h>

#include <algorithm>

#include "base/files.h"
#include "base/text.h"
#include "hand/write.h"
#include "io/csv.h"
#include "script/bindings.h"
#include "script/names.h"
#include "script/reader.h"

namespace script {
namespace {

namespace fs = std::filesystem;

/// A file inside the project, wherever a name leads.
std::string bytesOf(Context& c, const std::string& name) {
    const fs::path& folder = c.session().project().folder;
    const fs::path relative = fs::path(name).lexically_normal();
    if (relative.is_absolute() || relative.empty() || *relative.begin() == ".mellow" || *relative.begin() == "..")
        trouble(fmt::format("“{}” is not inside the project", name));
    auto bytes = base::readFile(taken(base::inside(folder, relative)), base::most::kTable);
    if (!bytes) trouble(bytes.error().message);
    if (!base::isValidUtf8(*bytes)) trouble(fmt::format("“{}” is no text", name));
    return std::move(*bytes);
}

Data readText(Context& c, const Data& a) {
    Reader r(c, a);
    return {bytesOf(c, r.text())};
}

/// The head of a table, then all cells of its rows one after the other, as many in each as the head has.
Data tableOf(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string name = r.text();
    auto rows = io::parseCsv(bytesOf(c, name));
    if (!rows) trouble(name + ": " + rows.error().message);
    if (rows->empty()) trouble(fmt::format("“{}” is empty; a head line was expected", name));
    std::vector<std::string> cells;
    for (std::size_t i = 1; i < rows->size(); ++i) {
        if ((*rows)[i].size() != rows->front().size())
            trouble(fmt::format("{}:{}: has {} cells; the head has {}", name, i + 1, (*rows)[i].size(),
                                rows->front().size()));
        cells.insert(cells.end(), (*rows)[i].begin(), (*rows)[i].end());
    }
    return {rows->front(), cells};
}

Data writeHandover(Context& c, const Data& a) {
    Reader r(c, a);
    const std::string name = r.text(), folder = r.text("");
    (void)c.create();  // whoever only looks writes no files
    std::vector<std::string> problems;
    const auto& recipes = c.library().recipes;
    const auto held = recipes.find(name);
    if (held == recipes.end()) trouble(fmt::format("there is no recipe “{}”", name));
    const hand::Recipe recipe = hand::recipeFrom(name, held->second, problems);
    if (problems.empty())
        if (const std::string why = hand::unusable(recipe); !why.empty()) problems.push_back(why);
    if (!problems.empty()) trouble(name + ": " + problems.front());
    if (!folder.empty() && !base::isPlainFileName(folder)) trouble(fmt::format("“{}” is no name of a folder", folder));
    const hand::Source source{c.scene(), c.library(), [&](ObjectId id) { return c.prefabName(id); }};
    hand::Written written = hand::write(source, recipe);
    std::vector<std::string> names;
    for (hand::WrittenFile& file : written.files) {
        const fs::path to = (fs::path("handover") / folder / file.name).lexically_normal();
        if (to.begin()->string() != "handover")
            trouble(fmt::format("“{}” leads out of the folder handover", file.name));
        names.push_back(to.string());
        c.files.push_back({to.string(), std::move(file.coded)});
    }
    return {names, static_cast<double>(written.entries)};
}

}  // namespace

base::Status keepFiles(const fs::path& project, std::span<const FileOut> files) {
    for (const FileOut& file : files) {
        std::error_code problem;
        const fs::path relative(file.name);
        auto target = base::inside(project, relative);
        if (!target) return tl::unexpected(target.error());
        fs::create_directories(target->parent_path(), problem);
        if (base::Status done = base::writeFileWhole(*target, file.bytes); !done) return done;
    }
    return {};
}

Bindings handBindings() {
    constexpr auto kScene = Binding::Needs::Scene;
    return {
        {{"readText", "path", "The text of a file inside the project."}, kScene, false, readText},
        {{"writeHandover", "recipe [, folder]",
          "Writes the scene as a list by a recipe into the folder handover of the project, once the step is kept: the "
          "names of the files, and how many entries."},
         kScene,
         false,
         writeHandover},
    };
}

Binding tablePrimitive() {
    return {{"tableOf", "", ""}, Binding::Needs::Scene, false, tableOf};
}

}  // namespace script
