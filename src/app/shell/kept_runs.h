#pragma once
// The last runs of the scene that is shown, kept beside the project with what was pressed and what came of it.
#include <QString>
#include <filesystem>
#include <vector>

#include "rehearse/inputs.h"
#include "rehearse/trace.h"

namespace app {

class Editor;

/// A run that is over.
struct KeptRun {
    QString name;  ///< of its files
    rehearse::Inputs inputs;
    rehearse::Trace trace;
};

class KeptRuns {
  public:
    static constexpr std::size_t kMost = 12;
    explicit KeptRuns(Editor& editor) : editor_(editor) {}

    /// The last one first.
    const std::vector<KeptRun>& all() const { return all_; }
    /// A file that cannot be written is said; the run is there until the project is closed.
    void keep(rehearse::Inputs inputs, rehearse::Trace trace);
    void forget(std::size_t which);
    /// Those of the scene that is shown; what cannot be read is passed over.
    void read();
    void clear();

  private:
    std::filesystem::path folder() const;

    Editor& editor_;
    std::vector<KeptRun> all_;
    std::string of_;  // which scene's
};

}  // namespace app
