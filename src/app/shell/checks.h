#pragma once
// Checks as the interface sees them: looked at on a worker after every step, against a snapshot; the findings of the
// scene that is shown, and which of them one is at.
#include <QObject>
#include <QTimer>
#include <condition_variable>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

#include "check/checker.h"

namespace app {

class Editor;

class Checks : public QObject {
    Q_OBJECT
  public:
    /// Larger scenes are looked at when one asks for it, and live from then on.
    static constexpr std::size_t kMostUnasked = 30'000;
    /// After a step over more than that all is looked at anew: it is as fast.
    static constexpr std::size_t kMostAgain = 2'000;

    explicit Checks(Editor& editor);
    ~Checks() override;

    const std::vector<check::Finding>& findings() const { return findings_; }
    const std::vector<check::Finding>& accepted() const { return accepted_; }
    std::size_t count(check::Severity severity) const;
    /// The gravest found at an object.
    std::optional<check::Severity> worstAt(base::ObjectId id) const {
        const auto place = worst_.find(id);
        return place == worst_.end() ? std::nullopt : std::optional(place->second);
    }
    bool isChecking() const { return pending_ > 0; }
    /// Was it looked at at all?
    bool isKnown() const { return known_; }
    /// How many a scene had when it was last looked at in this session; nothing: it was not.
    std::optional<std::size_t> lastCount(const std::string& scene) const {
        const auto place = lastCounts_.find(scene);
        return place == lastCounts_.end() ? std::nullopt : std::optional(place->second);
    }
    /// How far it has come, 0 to 1.
    double progress() const { return progress_ ? std::min(1.0, progress_->done()) : 0; }
    /// The editor's rules and those of scripts.
    /// Also what a receiver cannot take, by its name; empty: nobody.
    void setReceiver(const std::string& name);
    const std::string& receiver() const { return receiver_; }
    const std::vector<check::Rule>& rules() const { return *rules_; }
    const check::Rule* rule(const std::string& id) const { return check::ruleOf(*rules_, id); }
    const check::Facts* facts() const { return facts_.get(); }

    /// The whole scene anew, in the background; with what is used by which scene.
    void checkAll();
    void cancel();
    /// Waits for what is under way; for tests and reports.
    void wait();

    /// The one that is looked at; nothing: none.
    const std::optional<check::Finding>& current() const { return current_; }
    void setCurrent(std::optional<check::Finding> finding);
    /// The next one (or the one before) in the list's order.
    void go(int by);

    /// As one step; a refusal is told. Nothing mended: said.
    void mend(const std::vector<check::Finding>& findings);
    /// Shows what mending would do, as a script's preview is shown.
    void previewMending(const std::vector<check::Finding>& findings);
    std::vector<check::Finding> ofRule(const std::string& rule) const;

  Q_SIGNALS:
    void changed();
    /// Every now and then while it takes long.
    void progressed();
    void currentChanged();

  private:
    struct Job {
        model::Scene scene;
        std::shared_ptr<const check::Facts> facts;  // shared with the worker
        std::shared_ptr<base::Progress> progress;   // shared with the worker
        std::vector<model::Slot> touched;
        bool all = false;
        std::size_t threads = 1;
        int number = 0;
    };
    void takeRules();
    void gather(bool uses);
    bool factsAreOld() const;
    void post(bool all, bool asked = false);
    void work();
    void take(int number, std::vector<check::Finding> findings, std::vector<check::Finding> accepted);

    Editor& editor_;
    std::string receiver_;
    model::Library::Papers papers_;                          // of the receiver and its recipes, as the rules have them
    std::shared_ptr<const std::vector<check::Rule>> rules_;  // shared with facts_
    std::vector<std::string> sources_;                       // of the scripts that bring some
    std::shared_ptr<const check::Facts> facts_;              // shared with the worker
    model::DataEntries settings_;                            // as of facts_
    std::optional<base::Aabb> level_;  // the bounds that the scene sets, as they were when rules were asked
    std::int64_t mediaAt_ = 0;         // as of facts_
    std::vector<model::Slot> touched_;
    std::vector<check::Finding> findings_, accepted_;
    std::unordered_map<base::ObjectId, check::Severity> worst_;
    std::optional<check::Finding> current_;
    std::shared_ptr<base::Progress> progress_;  // shared with the worker
    bool known_ = false;
    std::map<std::string, std::size_t> lastCounts_;  // by scene
    int pending_ = 0, posted_ = 0, shown_ = 0;
    QTimer settle_, tell_;
    std::mutex lock_;  // of jobs_ and stop_
    std::condition_variable wake_;
    std::vector<Job> jobs_;
    bool stop_ = false;
    std::thread worker_;
};

}  // namespace app
