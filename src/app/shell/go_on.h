#pragma once
// Going on like this: after two like things were placed or copied, the next of their row is shown and can be taken by
// one key. Any other work drops it.
#include <QObject>
#include <optional>
#include <set>
#include <vector>

#include "app/shell/editor.h"
#include "app/view/piece.h"

namespace app {

class GoOn : public QObject {
    Q_OBJECT
  public:
    explicit GoOn(Editor& editor);
    bool offers() const { return motion_.has_value(); }
    /// What is shown of the next.
    std::vector<Piece> next() const;
    /// Makes it, as a step. False: there is none, or it was refused, which was said.
    bool take();

  Q_SIGNALS:
    void changed();

  private:
    void stepped();
    void drop();

    Editor& editor_;
    std::set<base::ObjectId> created_;              ///< since the last step
    std::vector<std::vector<base::ObjectId>> row_;  ///< at most two
    std::optional<base::Affine> motion_;
    std::uint64_t step_ = 0;
};

}  // namespace app
