#include "script/shelf.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <map>

#include "base/files.h"
#include "check/rule.h"

namespace script {

namespace fs = std::filesystem;

namespace {

/// A file is read for what it declares, nothing else: that takes no time. All of them together have a few seconds.
constexpr Limits kForReading{std::size_t{64} << 20, 5'000'000, 1};
constexpr double kSecondsToRead = 5;

std::vector<fs::path> filesIn(const fs::path& folder, std::vector<std::string>& unreadable) {
    std::vector<fs::path> files;
    const auto all = base::listFolder(folder);
    if (!all) unreadable.push_back(all.error().message);
    for (const fs::path& file : all.value_or(std::vector<fs::path>{}))
        if (file.extension() == ".lua" && base::isFileName(file.filename().string())) files.push_back(file);
    return files;
}

/// A script's text; never what a link leads to outside of its folder.
base::Result<std::string> readScript(const fs::path& folder, const std::string& name) {
    auto file = base::inside(folder, name);
    return file ? base::readFile(*file, base::most::kSmall) : base::Result<std::string>(tl::unexpected(file.error()));
}

std::string ownerWord(Owner owner) {
    return owner == Owner::Project ? "project" : "personal";
}

}  // namespace

void Shelf::setFolder(Owner owner, fs::path folder, std::string menu) {
    places_[static_cast<std::size_t>(owner)] = {std::move(folder), std::move(menu)};
}

Source Shelf::source(const Script& script) const {
    Source source;
    source.name = script.name;
    source.text = script.text;
    source.module = modulesIn(script.file.parent_path());
    return source;
}

std::function<std::optional<std::string>(const std::string&)> modulesIn(const fs::path& folder) {
    return [folder](const std::string& name) -> std::optional<std::string> {
        auto text = readScript(folder, name + ".lua");
        return text ? std::optional(*text) : std::nullopt;
    };
}

const Script* Shelf::script(const fs::path& file) const {
    for (const Script& one : scripts_)
        if (one.file == file) return &one;
    return nullptr;
}

bool Shelf::refresh() {
    std::vector<Script> now;
    bool changed = false;
    unreadable_.clear();
    using Clock = std::chrono::steady_clock;
    const Clock::time_point began = Clock::now();
    std::map<fs::path, std::size_t> before;
    for (std::size_t i = 0; i < scripts_.size(); ++i) before[scripts_[i].file] = i;
    for (const Owner owner : {Owner::Project, Owner::Personal}) {
        const Folder& place = places_[static_cast<std::size_t>(owner)];
        if (place.folder.empty()) continue;
        for (const fs::path& file : filesIn(place.folder, unreadable_)) {
            const auto bytes = readScript(place.folder, file.filename().string());
            Script one;
            if (const auto had = before.find(file); had != before.end())
                one = scripts_[had->second];
            else
                changed = true;
            one.owner = owner;
            one.file = file;
            one.name = file.filename().string();
            if (!bytes) {
                one.problem = bytes.error().message;
            } else if (*bytes != one.seen || !before.contains(file)) {
                changed = true;
                one.seen = *bytes;
                Script read = one;
                read.text = *bytes;
                Limits limits = kForReading;
                const double passed = std::chrono::duration<double>(Clock::now() - began).count();
                limits.seconds = std::clamp(kSecondsToRead - passed, 0.0, limits.seconds);
                const Reading reading = declare(source(read), limits);
                one.wasStopped = reading.outcome.ending == Ending::Cap;
                one.problem = reading.outcome.message;
                one.problemLine = reading.outcome.line;
                if (reading.outcome.done()) {
                    one.text = *bytes;
                    one.declared = reading.declared;
                    one.acts = reading.acts;
                }
            }
            now.push_back(std::move(one));
        }
    }
    changed = changed || now.size() != scripts_.size();
    scripts_ = std::move(now);
    if (changed) gatherOffers();
    if (changed) gatherChecks();
    return changed;
}

void Shelf::gatherChecks() {
    checks_.clear();
    std::map<std::string, std::string> ids;  // with who has it
    for (const check::Rule& rule : check::builtInRules()) ids[rule.id] = "the editor itself";
    for (std::size_t i = 0; i < scripts_.size(); ++i)
        for (std::size_t k = 0; k < scripts_[i].declared.checks.size(); ++k) {
            const std::string& id = scripts_[i].declared.checks[k].id;
            const auto [had, isNew] = ids.try_emplace(id, scripts_[i].name);
            if (isNew)
                checks_.emplace_back(i, k);
            else
                conflicts_.push_back(
                    fmt::format("The check “{}” is brought by {} and by {} ({}); the first one counts.", id,
                                had->second, scripts_[i].name, ownerWord(scripts_[i].owner)));
        }
}

void Shelf::gatherOffers() {
    offers_.clear();
    conflicts_.clear();
    std::map<std::string, std::string> names, shortcuts;  // with the file that has it
    auto add = [&](Offer offer, const Script& script) {
        const std::string path = offer.menu + "/" + offer.spec.name;
        auto [had, isNew] = names.try_emplace(path, script.name);
        if (!isNew) {
            conflicts_.push_back(fmt::format("“{}” is offered by {} and by {} ({}); the first one keeps the name.",
                                             path, had->second, script.name, ownerWord(script.owner)));
            return;
        }
        if (!offer.spec.shortcut.empty()) {
            auto [keys, isFree] = shortcuts.try_emplace(offer.spec.shortcut, script.name);
            if (!isFree) {
                conflicts_.push_back(
                    fmt::format("The shortcut {} is wanted by {} and by {} ({}); the first one keeps it.",
                                offer.spec.shortcut, keys->second, script.name, ownerWord(script.owner)));
                offer.spec.shortcut.clear();
            }
        }
        offers_.push_back(std::move(offer));
    };
    for (std::size_t i = 0; i < scripts_.size(); ++i) {
        const Script& script = scripts_[i];
        const std::string stem = script.file.stem().string();
        const std::string head = fmt::format("script.{}.{}", ownerWord(script.owner), stem);
        const std::string& own = places_[static_cast<std::size_t>(script.owner)].menu;
        for (const CommandSpec& spec : script.declared.commands)
            add({head + "." + spec.name, spec.menu.empty() ? own : spec.menu, spec, i, false}, script);
        if (script.declared.plain() && script.acts) {
            CommandSpec spec;
            spec.name = stem;
            spec.help = "Runs " + script.name;
            add({head, own, spec, i, true}, script);
        }
    }
}

}  // namespace script
