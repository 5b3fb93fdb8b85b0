#pragma once
// What cues and acts have changed of objects by a moment of a run, shown in the copy that is played.
#include "edit/live_copy.h"
#include "rehearse/trace.h"

namespace edit {
class Session;
}

namespace app {

class ShownChanges {
  public:
    /// Nothing is shown yet: the copy is a new one.
    void clear() { count_ = 0; }
    /// Brings `copy`, which was `of` at the beginning, to where the trace has it after `step`. Gives whether the
    /// scene's guise may be another one.
    bool show(edit::LiveCopy& copy, const model::Scene& of, edit::Session& session, const rehearse::Trace& trace,
              int step);

  private:
    std::size_t count_ = 0;  // of the trace's changes, that are shown
};

}  // namespace app
