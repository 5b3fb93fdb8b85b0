#pragma once
// Checks a scene: all of it, or again only what an edit could have changed. After any edits the findings are those of
// checking all of it anew. Threads: one; give it snapshots.
#include <span>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "base/progress.h"
#include "check/rule.h"

namespace check {

class Checker {
  public:
    explicit Checker(std::shared_ptr<const Facts> facts);  // shared with whoever gathered them
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
    std::size_t unitsLookedAt() const { return looked_; }

  private:
    void remember(const model::Scene& scene, model::Slot slot);
    void forget(model::Slot slot);
    using FoundBy = std::unordered_map<base::ObjectId, std::vector<Finding>>;  // by who was asked
    /// Asks the rules that are meant about one object, and keeps what they find.
    void ask(const Subject& subject, model::Slot slot, const std::function<bool(Rule::Looks)>& isMeant, FoundBy& by);
    void checkOwn(const Subject& subject, model::Slot slot);
    void checkAround(const Subject& subject, model::Slot unit);
    void checkScene(const Subject& subject);
    bool isAsked(const Rule& rule) const;
    std::vector<Finding> sorted(const model::Scene& scene, bool accepted) const;

    std::shared_ptr<const Facts> facts_;
    std::unique_ptr<query::SceneIndex> index_;
    std::vector<std::string> only_;
    std::vector<base::Aabb> bounds_;               // by slot, as of the last time
    double lowest_ = 0, highest_ = 0;              // of all of them, since all was looked at
    std::vector<base::ObjectId> ids_;              // by slot
    std::vector<base::ObjectId> units_, parents_;  // by slot, as of the last time
    std::unordered_set<model::Slot> watchers_;     // lights and cameras
    FoundBy own_, around_;
    std::vector<Finding> scene_;
    std::size_t looked_ = 0;
};

/// Is it one that the scene's people live with?
bool isAccepted(const model::Scene& scene, const Finding& finding);

}  // namespace check
