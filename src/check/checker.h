#pragma once
// Checks a scene: all of it, or again only what an edit could have changed. After any edits the findings are those of
// checking all of it anew. Threads: one; give it snapshots. Checking all of it takes as many threads as it is given.
#include <map>
#include <span>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "base/progress.h"
#include "check/rule.h"

namespace check {

class Checker {
  public:
    explicit Checker(std::shared_ptr<const Facts> facts, std::size_t threads = 1);  // facts: shared with who gathered
    ~Checker();

    /// `only`: these rules; empty: all. Cancelled: what was found until then.
    void checkAll(const model::Scene& scene, base::Progress* progress = nullptr,
                  std::span<const std::string> only = {});
    /// These slots were created, moved, changed, or died since the last time.
    void update(const model::Scene& scene, std::span<const model::Slot> slots, base::Progress* progress = nullptr);
    /// Errors first, then by rule and object. Accepted ones are not among them.
    std::vector<Finding> findings(const model::Scene& scene) const;
    /// Those that the scene's accepted ones cover.
    std::vector<Finding> accepted(const model::Scene& scene) const;
    /// The same project and rules, in which items, images or prefabs came since: what is changed from now on is asked
    /// with these.
    void take(std::shared_ptr<const Facts> facts);
    std::size_t unitsLookedAt() const { return looked_; }

  private:
    using FoundBy = std::unordered_map<base::ObjectId, std::vector<Finding>>;  // by who was asked
    /// What a thread asks with.
    struct Asker {
        std::vector<Find> finds;             // by rule; empty: it is not asked
        std::vector<Parameters> parameters;  // by rule
        std::vector<Severity> severities;
    };
    /// What came of it.
    struct Answers {
        FoundBy own, around;
        std::vector<Finding> scene;
        std::map<std::size_t, std::pair<model::Slot, Finding>> failed;  // by rule: it is asked no more
        std::vector<std::pair<base::ObjectId, base::ObjectId>> looks;   // at whom, by whom
    };
    enum class Part { Own, Around, Scene };
    std::unique_ptr<query::SceneIndex> newIndex(const model::Scene& scene) const;
    Asker makeAsker(const std::function<bool(std::size_t rule)>& isWanted) const;
    void ask(const Asker& asker, const Subject& subject, model::Slot slot, Part part, Answers& answers) const;
    void askAll(const model::Scene& scene, base::Progress* progress,
                const std::function<bool(std::size_t rule)>& isWanted);
    void add(Answers&& answers);
    bool isAsked(std::size_t rule) const;
    bool looksAround(const model::Scene& scene, model::Slot slot) const;
    void remember(const model::Scene& scene, model::Slot slot);
    void forget(model::Slot slot);
    std::vector<Finding> sorted(const model::Scene& scene, bool accepted) const;

    std::shared_ptr<const Facts> facts_;
    std::size_t threads_;
    std::unique_ptr<query::SceneIndex> index_;
    std::vector<std::string> only_;
    Asker asker_;                                       // of this thread
    Answers held_;                                      // all that is known
    std::vector<base::Aabb> bounds_;                    // by slot, as of the last time
    double lowest_ = 0, highest_ = 0;                   // of all of them, since all was looked at
    std::vector<base::ObjectId> ids_;                   // by slot
    std::vector<base::ObjectId> units_, parents_;       // by slot, as of the last time
    std::unordered_map<model::Slot, double> watchers_;  // how far beyond their boxes they look, metres
    std::unordered_map<base::ObjectId, std::unordered_set<base::ObjectId>> lookers_;  // who looked at it
    std::size_t looked_ = 0;
    std::uint64_t pass_ = 0;
};

/// Is it one that the scene's people live with?
bool isAccepted(const model::Scene& scene, const Finding& finding);

}  // namespace check
