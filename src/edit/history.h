#pragma once
// The tree of steps: what happened, in which order, and which branch redo follows. Payloads are in the ledger.
#include <cstdint>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace edit {

using StepId = std::int64_t;
constexpr StepId kRoot = 0;  ///< the state before the first step

struct StepInfo {
    StepId id = kRoot;
    StepId parent = kRoot;
    std::string name;                 ///< "Move 3 objects"
    std::vector<std::string> scenes;  ///< those it changed, definitions too; the one worked in first
    std::int64_t timeMs = 0;          ///< since 1970, UTC
    std::size_t rows = 0;             ///< how many object changes it holds
    bool barrier = false;             ///< the scene was changed outside here: nothing before can be undone
    bool damaged = false;             ///< its record cannot be read: nobody gets past it, what is around it stays

    /// The scene worked in; empty when it changed none.
    const std::string& scene() const;
    bool touches(const std::string& document) const;
    void touch(const std::string& document, bool first = false);
};

class History {
  public:
    /// Steps in id order, as the ledger gives them; `redoChild` maps a step to the child used last.
    History() = default;
    History(std::vector<StepInfo> steps, StepId present, std::unordered_map<StepId, StepId> redoChild);

    StepId present() const { return present_; }
    const std::vector<StepInfo>& steps() const { return steps_; }
    const StepInfo* step(StepId id) const;
    /// The id the next step will have.
    StepId nextId() const { return steps_.empty() ? 1 : steps_.back().id + 1; }
    std::optional<StepId> undoTarget() const;
    std::optional<StepId> redoTarget() const;

    /// Appends a step whose parent is the present one, and makes it the present.
    void append(StepInfo info);
    /// Moves the present to `id`, and makes the branch that leads there the one redo follows.
    void moveTo(StepId id);

    /// Steps to take back (newest first) and then to do again to get from one to another.
    struct Path {
        std::vector<StepId> back;
        std::vector<StepId> forward;
    };
    Path path(StepId from, StepId to) const;
    /// The last step on the way to `at` that changed `scene`; kRoot if none.
    StepId lastTouch(StepId at, const std::string& scene) const;
    /// The line through the present: from the first step to the end of the branch redo follows.
    std::vector<StepId> line() const;

  private:
    std::vector<StepInfo> steps_;
    std::unordered_map<StepId, std::size_t> index_;
    std::unordered_map<StepId, StepId> redoChild_;
    StepId present_ = kRoot;
};

}  // namespace edit
