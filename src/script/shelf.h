#pragma once
// The scripts that are there: the project's and one's own. Files are read anew when they change; of one that cannot be
// read any more the last good version goes on. Threads: one.
#include <filesystem>
#include <string>
#include <vector>

#include "script/engine.h"

namespace script {

enum class Owner { Project, Personal };

struct Script {
    Owner owner = Owner::Project;
    std::filesystem::path file;
    std::string name;  ///< of its file, with the ending
    std::string text;  ///< of the last good version
    Declared declared;
    bool acts = false;    ///< a plain one that is to be run; else it is a module
    std::string problem;  ///< of the file as it is now; empty: `text` is what it says
    int problemLine = 0;
    bool wasStopped = false;  ///< reading it took too long
    std::string seen;         ///< the file's bytes when it was last read
};

/// One of a script's commands, or a plain script as a command.
struct Offer {
    std::string id;    ///< "script.personal.lanterns.Lanterns between"
    std::string menu;  ///< "Heron Lock/Lanterns", never empty
    CommandSpec spec;
    std::size_t script = 0;
    bool isPlain = false;
};

class Shelf {
  public:
    /// Where scripts of an owner lie; empty: nowhere. Takes effect with the next refresh().
    void setFolder(Owner owner, std::filesystem::path folder, std::string menu);
    const std::filesystem::path& folder(Owner owner) const { return places_[static_cast<std::size_t>(owner)].folder; }
    /// Reads what has changed. True when anything did.
    bool refresh();

    const std::vector<Script>& scripts() const { return scripts_; }
    const Script* script(const std::filesystem::path& file) const;
    const std::vector<Offer>& offers() const { return offers_; }
    /// Of which script, and which of its checks: those whose id nobody else has.
    const std::vector<std::pair<std::size_t, std::size_t>>& checks() const { return checks_; }
    /// Folders that could not be looked into, with why.
    const std::vector<std::string>& unreadable() const { return unreadable_; }
    /// What people should know: names, shortcuts and ids of checks that two scripts want, with both files.
    const std::vector<std::string>& conflicts() const { return conflicts_; }
    /// As an engine takes it, with the modules beside it.
    Source source(const Script& script) const;

  private:
    struct Folder {
        std::filesystem::path folder;
        std::string menu;  ///< for commands that name none
    };
    void gatherOffers();
    void gatherChecks();
    Folder places_[2];
    std::vector<Script> scripts_;  // the project's first, by name
    std::vector<Offer> offers_;
    std::vector<std::pair<std::size_t, std::size_t>> checks_;
    std::vector<std::string> conflicts_, unreadable_;
};

/// The modules in a folder, for Source::module. Never what a link leads to outside of it.
std::function<std::optional<std::string>(const std::string&)> modulesIn(const std::filesystem::path& folder);

}  // namespace script
