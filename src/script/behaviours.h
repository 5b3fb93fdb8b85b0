#pragma once
// What kinds do while one edits: their scripts have a say in every step, and give objects a look. Each works within
// the step that caused it, in a bounded number of rounds; one that fails is taken back and switched off, and the step
// is made without it. Nothing of this is part of the game. Threads: the session's.
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "script/shelf.h"

namespace script {

class Behaviours {
  public:
    static constexpr int kMostRounds = 8;

    /// Takes those of a shelf: what was switched off is on again if its file has changed.
    void take(const Shelf& shelf);
    /// What they are given; seed, time and meshes.
    Settings settings;
    /// Told when one is switched off, with why.
    std::function<void(const std::string&)> onSwitchedOff;

    bool empty() const { return all_.empty(); }
    /// For Session::setBeforeCommit.
    base::Status beforeCommit(edit::Draft& draft);
    /// The scene was opened: what they want to put right. Written through the draft.
    void opened(edit::Draft& draft);
    /// Does any of them give looks?
    bool giveLooks() const;
    /// What they make of objects; only those that have something to show are told.
    void looks(edit::Session& session, const std::string& scene, std::span<const model::Slot> slots,
               const std::function<void(model::Slot, const Look&)>& tell);
    /// A handle of an object's look was dragged there: its number among the handles of that look. Errors: Refused with
    /// the script's message.
    base::Status moveHandle(edit::Draft& draft, base::ObjectId object, std::size_t handle, const base::Vec3& to);

  private:
    struct One {
        Source source;
        BehaviourSpec spec;
        std::size_t index = 0;  ///< in its file
        std::string text;
        bool off = false;
    };
    struct Event {
        std::string document;
        base::ObjectId object;
        Program::Before before;
        bool created = false;
    };
    std::vector<Event> eventsSince(edit::Draft& draft, const edit::Draft::Mark& from) const;
    bool isFor(const One& one, const edit::Session& session, const model::Scene& scene, model::Slot slot) const;
    void switchOff(One& one, const Outcome& outcome);
    base::Status round(edit::Draft& draft, One& one, const std::vector<Event>& events, bool first,
                       const Limits& limits);
    std::vector<One> all_;
};

}  // namespace script
