#pragma once
// What rules look at besides a scene: the project as it is at a moment. Values; shared by workers, never changed.
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <set>
#include <span>
#include <string>

#include "check/finding.h"
#include "model/prefab.h"
#include "model/project.h"
#include "query/scene_index.h"

namespace check {

struct Rule;

/// A file in media/.
struct MediaFacts {
    int width = 0, height = 0;  ///< pixels; 0: it could not be read
    std::uintmax_t bytes = 0;
    double seconds = 0;     ///< of a sound; 0: it is none, or could not be read
    double peak = 0;        ///< its largest sample, 1: as loud as a file can say
    std::string problem{};  ///< why a sound could not be read
};

/// The files in media/ by name. They are looked at when one first asks: sounds are read whole. Any thread.
class Media {
  public:
    using All = std::map<std::string, MediaFacts>;
    Media() = default;
    explicit Media(std::function<All()> look) : own_(std::make_shared<Own>()) { own_->look = std::move(look); }
    const All& all() const;

  private:
    struct Own {
        std::once_flag looked;
        std::function<All()> look;
        All all;
    };
    std::shared_ptr<Own> own_;  // copies share what was found
};

/// What a project says of one rule, beside its usual ways.
struct RuleSetting {
    std::optional<Severity> severity;
    bool off = false;
    std::set<std::string> offKinds;  ///< kinds that it passes over
    model::ValueMap values;          ///< of its parameters
};
using RuleSettings = std::map<std::string, RuleSetting, std::less<>>;
/// As a project's document has it. What is wrong is named in `problems` and left out.
RuleSettings settingsFrom(const model::DataEntries& entries, std::span<const Rule> rules,
                          std::vector<std::string>& problems);

struct Facts {
    std::shared_ptr<const std::vector<Rule>> rules;  // shared with whoever looks
    model::Library library;
    model::ProjectFacts project;
    std::vector<std::string> scenes;                                            ///< the names of all of the project's
    std::map<base::ObjectId, std::shared_ptr<const model::Scene>> definitions;  // shared with whoever looks
    std::map<base::ObjectId, std::string> prefabNames;
    Media media;
    std::set<base::ObjectId> usedPrefabs;  ///< by any scene or prefab
    bool thorough = false;                 ///< rules may take seconds: as mellow check does, and no window
    bool knowsUses = false;                ///< all scenes were looked at for it
    RuleSettings settings;
    std::vector<std::string> problems;  ///< of what the project sets of scripts' rules
    query::Shapes shapes;               ///< any thread

    model::Definitions definitionMap() const;
};

}  // namespace check
