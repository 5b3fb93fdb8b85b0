#pragma once
// The selection as it stands: what a drag of it would start from. Made when asked for, and kept until the selection,
// the scene or the tool changes.
#include <QObject>
#include <optional>

#include "ops/move.h"

namespace app {

class Editor;

class AtRest : public QObject {
    Q_OBJECT
  public:
    explicit AtRest(Editor& editor);
    /// Null: nothing that can be moved is selected.
    const ops::Mover* mover() const;
    /// With the fit handle: the box whose sides can be dragged, along its own axes.
    const std::optional<base::Affine>& box() const;

  private:
    Editor& editor_;
    mutable std::optional<ops::Mover> mover_;
    mutable std::optional<base::Affine> box_;
    mutable bool known_ = false;
};

}  // namespace app
